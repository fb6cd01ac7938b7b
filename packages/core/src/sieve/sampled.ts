import type { Mask } from '../raster/raster.ts';

/** Samples of a texel along each side, and of levels of more texels than this. */
const FINE = 4;
const LARGE = 512 * 512;
const FINE_OF_LARGE = 2;
const WINDOW = 4;

/** Where each sample lies between two texels of a level. */
interface Between {
  first: Int32Array;
  second: Int32Array;
  /** Share of the second. */
  share: Float32Array;
}

/** @param count - Samples, spread evenly over the whole side. @param texels - Of the level along that side. */
function between(count: number, texels: number): Between {
  const first = new Int32Array(count);
  const second = new Int32Array(count);
  const share = new Float32Array(count);
  for (let k = 0; k < count; k++) {
    const at = Math.min(texels - 1, Math.max(0, ((k + 0.5) * texels) / count - 0.5));
    first[k] = Math.floor(at);
    second[k] = Math.min(texels - 1, first[k] + 1);
    share[k] = at - first[k];
  }
  return { first, second, share };
}

/**
 * How a level clips where a renderer samples it: half way to the next level (trilinear, as OpenGL 4.6 §8.14 has it), at 4 × 4
 * places a texel (2 × 2 above 512²), the borders clamped.
 *
 * @param next - The level below; null: the level alone.
 * @param shares - Of each texel of the level, what level 0 keeps under it, as a part of `whole`.
 * @param checkpoint - Cancels by throwing.
 * @returns mean difference of the kept share over windows of 4 × 4 texels, 0–1.
 */
export function sampledError(
  level: Mask,
  next: Mask | null,
  shares: Uint16Array,
  whole: number,
  threshold: number,
  checkpoint?: () => void,
): number {
  const { width, height } = level;
  const fine = width * height > LARGE ? FINE_OF_LARGE : FINE;
  const columns = fine * width;
  const rows = fine * height;
  const wide = fine * WINDOW;
  const layers = [level, ...(next ? [next] : [])].map((mask) => ({
    mask,
    across: between(columns, mask.width),
    down: between(rows, mask.height),
    row: new Float32Array(mask.width),
  }));
  const weight = 1 / layers.length;
  const least = threshold - 0.5;
  const windows = Math.ceil(width / WINDOW);
  const kept = new Int32Array(windows);
  const values = new Float32Array(columns);
  let error = 0;
  for (let y = 0; y < rows; y++) {
    values.fill(0);
    for (const { mask, across, down, row } of layers) {
      mixRows(mask, down.first[y], down.second[y], weight, down.share[y], row);
      addAcross(row, across, values);
    }
    countKept(values, least, wide, kept);
    if ((y + 1) % wide !== 0 && y < rows - 1) continue;
    checkpoint?.();
    const last = Math.floor(y / fine);
    error += windowErrors(shares, whole, width, last - (last % WINDOW), last + 1, kept, fine * fine);
    kept.fill(0);
  }
  return error / windows / Math.ceil(height / WINDOW);
}

function mixRows(
  { width, data }: Mask,
  upper: number,
  lower: number,
  weight: number,
  share: number,
  out: Float32Array,
) {
  const [a, b] = [weight * (1 - share), weight * share];
  for (let x = 0, i = upper * width, j = lower * width; x < width; x++, i++, j++) out[x] = a * data[i] + b * data[j];
}

/** @param wide - Values of a window. */
function countKept(values: Float32Array, least: number, wide: number, kept: Int32Array): void {
  for (let w = 0, x = 0; w < kept.length; w++) {
    let sum = 0;
    for (const end = Math.min(values.length, x + wide); x < end; x++) if (values[x] >= least) sum++;
    kept[w] += sum;
  }
}

function addAcross(row: Float32Array, { first, second, share }: Between, out: Float32Array): void {
  for (let x = 0; x < out.length; x++) {
    const a = row[first[x]];
    out[x] += a + share[x] * (row[second[x]] - a);
  }
}

/** @param kept - Samples of each window of these rows that are kept. @param samples - Of a texel. */
function windowErrors(
  shares: Uint16Array,
  whole: number,
  width: number,
  y0: number,
  y1: number,
  kept: Int32Array,
  samples: number,
): number {
  let error = 0;
  for (let w = 0, x0 = 0; x0 < width; w++, x0 += WINDOW) {
    const x1 = Math.min(width, x0 + WINDOW);
    let sum = 0;
    for (let y = y0; y < y1; y++) for (let i = y * width + x0, end = y * width + x1; i < end; i++) sum += shares[i];
    const texels = (y1 - y0) * (x1 - x0);
    error += Math.abs(kept[w] / (texels * samples) - sum / (texels * whole));
  }
  return error;
}
