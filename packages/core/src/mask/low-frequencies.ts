import type { Mask } from '../raster/raster.ts';
import { fitSize } from '../raster/resize.ts';
import { blurValues } from './blur.ts';
import type { Work } from '../raster/work.ts';

/** Side of the small picture on which wide blurs are computed. */
const SIDE = 320;

/** A wide blur of values: read between its samples by a straight line. */
export interface LowFrequencies {
  width: number;
  height: number;
  /** As the values are, with fractions. */
  values: Float32Array;
}

/**
 * Gaussian mean of the values of kept texels around every place, those nearer the middle of the mask's cover weighing by
 * it; where nothing is near, the mean of all. Computed small: what is wanted has no detail.
 *
 * @param values - One byte a texel.
 * @param weights - The mask, of the same size.
 * @param sigma - Texels of the full raster.
 */
export function lowFrequencies(values: Mask, weights: Mask, sigma: number, env: Pick<Work, 'bands'>): LowFrequencies {
  const { width, height } = fitSize(values.width, values.height, SIDE);
  const sums = new Float64Array(width * height);
  const covers = new Float64Array(width * height);
  const column = Int32Array.from({ length: values.width }, (_, x) => Math.floor((x * width) / values.width));
  env.bands(values.height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      const row = Math.floor((y * height) / values.height) * width;
      gatherRow(values.data, weights.data, y * values.width, column, row, sums, covers);
    }
  });
  const all = covers.reduce((sum, v) => sum + v, 0);
  const mean = all > 0 ? sums.reduce((sum, v) => sum + v, 0) / all : 128;
  const full = (values.width / width) * (values.height / height) * 255;
  const small = Math.max(0.3, (sigma * width) / values.width);
  const blurred = (data: Float64Array) =>
    blurValues({ width, height, data: Float32Array.from(data, (v) => v / full) }, small, env);
  const [above, below] = [blurred(sums), blurred(covers)];
  return { width, height, values: above.map((v, i) => (v + mean * NOTHING) / (below[i] + NOTHING)) };
}

function gatherRow(
  values: Uint8Array,
  weights: Uint8Array,
  start: number,
  column: Int32Array,
  row: number,
  sums: Float64Array,
  covers: Float64Array,
): void {
  for (let x = 0, i = start; x < column.length; x++, i++) {
    const weight = weights[i];
    if (weight === 0) continue;
    const o = row + column[x];
    sums[o] += Math.imul(weight, values[i]);
    covers[o] += weight;
  }
}

/** Cover that counts for the mean of all: decides only where nothing is near. */
const NOTHING = 1e-4;

/** Fills a row of the full raster. */
export function lowRow(
  { width, height, values }: LowFrequencies,
  y: number,
  of: { width: number; height: number },
  out: Float32Array,
): void {
  const v = Math.min(height - 1, Math.max(0, ((y + 0.5) * height) / of.height - 0.5));
  const top = Math.min(height - 1, Math.floor(v));
  const down = v - top;
  // first between two rows, then along them
  const row = new Float32Array(width + 1);
  mixRows(values, top * width, Math.min(height - 1, top + 1) * width, down, width, row);
  row[width] = row[width - 1];
  alongRow(row, width / of.width, width - 1, of.width, out);
}

function mixRows(values: Float32Array, a: number, b: number, down: number, width: number, row: Float32Array): void {
  for (let x = 0; x < width; x++) row[x] = values[a + x] * (1 - down) + values[b + x] * down;
}

function alongRow(row: Float32Array, scale: number, last: number, width: number, out: Float32Array): void {
  for (let x = 0; x < width; x++) {
    let u = (x + 0.5) * scale - 0.5;
    if (u < 0) u = 0;
    else if (u > last) u = last;
    const left = u | 0;
    out[x] = row[left] + (row[left + 1] - row[left]) * (u - left);
  }
}
