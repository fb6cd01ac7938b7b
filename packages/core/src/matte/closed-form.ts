import { SieveError } from '../errors.ts';
import { makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/** Side of a window is 3: nine texels. */
const WINDOW = 9;
/** Windows that are solved for: 1.5 GB and, at ten rounds, about a minute. */
const MOST_WINDOWS = 12_000_000;
/** Windows, and rows, between two looks whether the result is still wanted. */
const LOOK_WINDOWS = 1 << 17;
const LOOK_ROWS = 64;

export interface MattingOptions {
  /** Weight of the mask as it is at unsure texels, beside the smoothness by colour. */
  trust: number;
  /** Regularisation of the colour line, of encoded RGB 0–1. */
  epsilon: number;
  iterations: number;
}

/** Windows that hold an unsure texel, with the inverse of their colour covariance. */
interface Windows {
  /** Index of the middle texel of each. */
  middles: Int32Array;
  /** Mean colour, three a window. */
  means: Float64Array;
  /** Inverse of (covariance + ε / 9): xx, xy, xz, yy, yz, zz. */
  inverses: Float64Array;
}

/**
 * Alpha of the unsure texels such that within every 3 × 3 window it is nearly an affine function of colour: A. Levin,
 * D. Lischinski, Y. Weiss, "A Closed-Form Solution to Natural Image Matting" (2008). Solved by conjugate gradients; the
 * product with the matting Laplacian is taken window by window as in K. He, J. Sun, X. Tang, "Fast Matting Using Large
 * Kernel Matting Laplacian Matrices" (2010).
 *
 * @throws {@link SieveError} `too-large` where too much is unsure, and what `checkpoint` throws.
 * @param sure - 255 and 0 are held, all else is solved for; `mask` is where the search starts.
 */
export function closedFormMatting(
  colour: Picture,
  mask: Mask,
  sure: Mask,
  { trust, epsilon, iterations }: MattingOptions,
  env: Pick<Work, 'allocate' | 'checkpoint'>,
): Mask {
  const { width, height } = mask;
  const unsure = unsureTexels(sure);
  const windows = findWindows(colour, sure, epsilon, () => env.checkpoint(0));
  const size = width * height;
  const alpha = new Float32Array(size);
  for (let i = 0; i < size; i++) alpha[i] = sure.data[i] === 255 ? 1 : sure.data[i] === 0 ? 0 : mask.data[i] / 255;
  const prior = Float32Array.from(unsure, (i) => mask.data[i] / 255);
  const product = new Float32Array(size);
  const n = unsure.length;
  const [r, p] = [new Float64Array(n), new Float64Array(n)];
  const step = new Float32Array(size); // the search direction, at its texels

  laplacian(colour, windows, alpha, product, () => env.checkpoint(0));
  let rr = 0;
  for (let k = 0; k < n; k++) {
    r[k] = -product[unsure[k]] - trust * (alpha[unsure[k]] - prior[k]);
    p[k] = r[k];
    rr += r[k] * r[k];
  }
  const enough = 1e-12 * Math.max(n, 1);
  for (let iteration = 0; iteration < iterations && rr > enough; iteration++) {
    const look = () => env.checkpoint(iteration / iterations);
    look();
    for (let k = 0; k < n; k++) step[unsure[k]] = p[k];
    laplacian(colour, windows, step, product, look);
    let pAp = 0;
    for (let k = 0; k < n; k++) pAp += p[k] * (product[unsure[k]] + trust * p[k]);
    if (pAp <= 0) break;
    const length = rr / pAp;
    let next = 0;
    for (let k = 0; k < n; k++) {
      alpha[unsure[k]] += length * p[k];
      r[k] -= length * (product[unsure[k]] + trust * p[k]);
      next += r[k] * r[k];
    }
    const turn = next / rr;
    for (let k = 0; k < n; k++) p[k] = r[k] + turn * p[k];
    rr = next;
  }
  const out = env.allocate(size);
  for (let i = 0; i < size; i++) out[i] = Math.min(255, Math.max(0, 255 * alpha[i] + 0.5));
  return makeMask(width, height, out);
}

function unsureTexels({ data }: Mask): Int32Array {
  let n = 0;
  for (let i = 0; i < data.length; i++) if (data[i] !== 0 && data[i] !== 255) n++;
  const out = new Int32Array(n);
  for (let i = 0, k = 0; i < data.length; i++) if (data[i] !== 0 && data[i] !== 255) out[k++] = i;
  return out;
}

function findWindows(colour: Picture, { width, height, data }: Mask, epsilon: number, look: () => void): Windows {
  const found: number[] = [];
  for (let y = 1; y < height - 1; y++) {
    if (y % LOOK_ROWS === 0) look();
    if (found.length > MOST_WINDOWS) throw tooWide();
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      let any = false;
      for (let d = -width; d <= width && !any; d += width) {
        for (let e = -1; e <= 1; e++) {
          const v = data[i + d + e];
          if (v !== 0 && v !== 255) any = true;
        }
      }
      if (any) found.push(i);
    }
  }
  const middles = Int32Array.from(found);
  const means = new Float64Array(3 * middles.length);
  const inverses = new Float64Array(6 * middles.length);
  for (let k = 0; k < middles.length; k++) {
    if (k % LOOK_WINDOWS === 0) look();
    describeWindow(colour, middles[k], epsilon, means, inverses, k);
  }
  return { middles, means, inverses };
}

function tooWide(): SieveError {
  return new SieveError(
    'too-large',
    `The fringe would be looked for at more than ${MOST_WINDOWS / 1e6} million texels.`,
    'Choose a narrower band, or drop strays before this step.',
  );
}

function describeWindow(
  { data, width }: Picture,
  middle: number,
  epsilon: number,
  means: Float64Array,
  inverses: Float64Array,
  k: number,
): void {
  let [sr, sg, sb, rr, rg, rb, gg, gb, bb] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let d = -width; d <= width; d += width) {
    for (let e = -1; e <= 1; e++) {
      const i = 4 * (middle + d + e);
      const r = data[i] / 255;
      const g = data[i + 1] / 255;
      const b = data[i + 2] / 255;
      sr += r;
      sg += g;
      sb += b;
      rr += r * r;
      rg += r * g;
      rb += r * b;
      gg += g * g;
      gb += g * b;
      bb += b * b;
    }
  }
  const [mr, mg, mb] = [sr / WINDOW, sg / WINDOW, sb / WINDOW];
  means.set([mr, mg, mb], 3 * k);
  const xx = rr / WINDOW - mr * mr + epsilon / WINDOW;
  const xy = rg / WINDOW - mr * mg;
  const xz = rb / WINDOW - mr * mb;
  const yy = gg / WINDOW - mg * mg + epsilon / WINDOW;
  const yz = gb / WINDOW - mg * mb;
  const zz = bb / WINDOW - mb * mb + epsilon / WINDOW;
  const [a, b, c] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy];
  const det = xx * a + xy * b + xz * c;
  inverses.set(
    [a / det, b / det, c / det, (xx * zz - xz * xz) / det, (xz * xy - xx * yz) / det, (xx * yy - xy * xy) / det],
    6 * k,
  );
}

/** out = L v at all texels of the windows: the sum over windows of v − (a · colour + b), with a, b its best affine fit. */
function laplacian(
  { data, width }: Picture,
  { middles, means, inverses }: Windows,
  v: Float32Array,
  out: Float32Array,
  look: () => void,
): void {
  out.fill(0);
  for (let k = 0; k < middles.length; k++) {
    if (k % LOOK_WINDOWS === 0) look();
    const m = middles[k];
    const mr = means[3 * k];
    const mg = means[3 * k + 1];
    const mb = means[3 * k + 2];
    let sum = 0;
    let vr = 0;
    let vg = 0;
    let vb = 0;
    for (let d = m - width; d <= m + width; d += width) {
      for (let i = d - 1; i <= d + 1; i++) {
        const value = v[i];
        sum += value;
        vr += value * data[4 * i];
        vg += value * data[4 * i + 1];
        vb += value * data[4 * i + 2];
      }
    }
    const mean = sum / WINDOW;
    const cr = vr / (255 * WINDOW) - mean * mr;
    const cg = vg / (255 * WINDOW) - mean * mg;
    const cb = vb / (255 * WINDOW) - mean * mb;
    const q = 6 * k;
    const ar = inverses[q] * cr + inverses[q + 1] * cg + inverses[q + 2] * cb;
    const ag = inverses[q + 1] * cr + inverses[q + 3] * cg + inverses[q + 4] * cb;
    const ab = inverses[q + 2] * cr + inverses[q + 4] * cg + inverses[q + 5] * cb;
    const base = mean - ar * mr - ag * mg - ab * mb;
    for (let d = m - width; d <= m + width; d += width) {
      for (let i = d - 1; i <= d + 1; i++) {
        out[i] += v[i] - base - (ar * data[4 * i] + ag * data[4 * i + 1] + ab * data[4 * i + 2]) / 255;
      }
    }
  }
}
