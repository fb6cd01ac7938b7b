import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { HALF } from '../mask/edge-distance.ts';
import { AIR, hiddenByHorizons, type Ground } from './horizons.ts';
import type { Heights } from './normals.ts';

/**
 * How much of the sky each texel of a height field sees, roughly and soon: for pictures at view size, and for runs made
 * before {@link openSky} was exact. Beside steep walls it is off by up to 0.2.
 *
 * The horizon along each lattice line is read off the upper hull of what was passed, which moves on with the line:
 * V. Timonen, J. Westerholm, "Scalable Height Field Self-Shadowing" (2010): a few steps a texel, however far it reaches.
 * Above 2048² texels it is read off cells of 2 × 2 (or 4 × 4) and spread between them.
 *
 * @param rise - Height of 65535 in texels.
 * @param reach - Texels at which what rises no longer darkens; it fades towards there by 1 − (d / reach)². Infinity: all.
 * @param env - its `checkpoint` gets the share done.
 * @param most - Texels that are read one by one.
 * @returns Open sky, 0–65535, one a texel.
 */
export function roughSky(
  heights: Heights,
  mask: Mask,
  rise: number,
  reach: number,
  env: Work,
  most = MOST,
): Uint16Array {
  const { width, height } = heights;
  const step = stepFor(width, height, most);
  const small = groundOf(heights, mask, rise, step);
  const hidden = hiddenByHorizons(small, reach / step, env);
  const out = new Uint16Array(width * height);
  if (step === 1) {
    for (let i = 0; i < out.length; i++) out[i] = skyOf(hidden[i]);
    return out;
  }
  const row = new Float32Array(width);
  const unit = rise / 65535;
  const near: NearRows = [new Float32Array(width + 2), new Float32Array(width + 2), new Float32Array(width + 2)];
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      spreadRow(hidden, small, width, height, y, row);
      if (y === y0) for (let k = 0; k < 3; k++) fillNear(heights, mask.data, unit, y - 1 + k, near[k]);
      else {
        near.push(near.shift()!);
        fillNear(heights, mask.data, unit, y + 1, near[2]);
      }
      nearRow(near, row);
      for (let x = 0, i = y * width; x < width; x++, i++) out[i] = skyOf(row[x]);
    }
  });
  return out;
}

function skyOf(hidden: number): number {
  return hidden >= 1 ? 0 : (1 - hidden) * 65535 + 0.5;
}

/** Texels whose horizons are read one by one; of more, those of cells are, and the texels beside each are looked at too. */
const MOST = 2048 * 2048;

function stepFor(width: number, height: number, most: number): number {
  let step = 1;
  while ((width / step) * (height / step) > most) step *= 2;
  return step;
}

/** Mean height of what is kept of each cell of step × step texels. */
function groundOf({ width, height, data }: Heights, mask: Mask, rise: number, step: number): Ground {
  const [w, h] = [Math.ceil(width / step), Math.ceil(height / step)];
  const tops = new Float32Array(w * h);
  const unit = rise / 65535 / step;
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0; x < w; x++, o++) {
      let sum = 0;
      let kept = 0;
      let all = 0;
      for (let v = y * step; v < Math.min(height, y * step + step); v++) {
        for (let u = x * step; u < Math.min(width, x * step + step); u++) {
          all++;
          if (mask.data[v * width + u] < HALF) continue;
          sum += data[v * width + u];
          kept++;
        }
      }
      tops[o] = 2 * kept < all || kept === 0 ? AIR : (sum / kept) * unit;
    }
  }
  return { width: w, height: h, tops };
}

/** What is hidden at the texels of a row, between the cells by straight lines; cells of air do not count. */
function spreadRow(
  hidden: Float32Array,
  { width: w, height: h, tops }: Ground,
  width: number,
  height: number,
  y: number,
  out: Float32Array,
): void {
  const v = Math.min(h - 1, Math.max(0, ((y + 0.5) * h) / height - 0.5));
  const top = Math.floor(v);
  const fy = v - top;
  const [upper, lower] = [top * w, Math.min(h - 1, top + 1) * w];
  // first between the two rows of cells: a sum and what it weighs
  const sums = new Float32Array(w);
  const weights = new Float32Array(w);
  for (let u = 0; u < w; u++) {
    const a = tops[upper + u] === AIR ? 0 : 1 - fy;
    const b = tops[lower + u] === AIR ? 0 : fy;
    sums[u] = a * hidden[upper + u] + b * hidden[lower + u];
    weights[u] = a + b;
  }
  const scale = w / width;
  for (let x = 0; x < width; x++) {
    let u = (x + 0.5) * scale - 0.5;
    if (u < 0) u = 0;
    const left = u | 0;
    const right = left + 1 < w ? left + 1 : left;
    const fx = u - left;
    const weight = (1 - fx) * weights[left] + fx * weights[right];
    const sum = (1 - fx) * sums[left] + fx * sums[right];
    out[x] = weight === 1 ? sum : weight > 1e-6 ? sum / weight : 0;
  }
}

/** Three rows of heights, dropped texels far down, in texels. */
type NearRows = [Float32Array, Float32Array, Float32Array];

function fillNear(
  { width, height, data }: Heights,
  alpha: Uint8Array,
  unit: number,
  y: number,
  row: Float32Array,
): void {
  const start = Math.min(height - 1, Math.max(0, y)) * width;
  for (let x = 0; x < width; x++) row[x + 1] = alpha[start + x] < HALF ? AIR : data[start + x] * unit;
  row[0] = row[1];
  row[width + 1] = row[width];
}

/** Detail that cells have averaged away: where the eight neighbours alone hide more, that counts. */
function nearRow([above, own, below]: NearRows, row: Float32Array): void {
  for (let x = 0; x < row.length; x++) {
    const h = own[x + 1];
    if (h === AIR) continue;
    const a = Math.max(0, above[x + 1] - h);
    const b = Math.max(0, below[x + 1] - h);
    const c = Math.max(0, own[x] - h);
    const d = Math.max(0, own[x + 2] - h);
    const e = Math.max(0, above[x] - h);
    const f = Math.max(0, above[x + 2] - h);
    const g = Math.max(0, below[x] - h);
    const k = Math.max(0, below[x + 2] - h);
    const hidden =
      (pairHidden(a * a, b * b, 1) +
        pairHidden(c * c, d * d, 1) +
        pairHidden(e * e, f * f, 2) +
        pairHidden(g * g, k * k, 2)) /
      8;
    if (hidden > row[x]) row[x] = hidden;
  }
}

/** p / (p + far) + q / (q + far) with one division. */
function pairHidden(p: number, q: number, far: number): number {
  return (p * (q + far) + q * (p + far)) / ((p + far) * (q + far));
}
