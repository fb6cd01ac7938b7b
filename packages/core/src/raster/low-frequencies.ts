import type { Mask } from './raster.ts';
import { fitSize } from './resize.ts';
import { blurValues } from '../mask/blur.ts';
import type { Work } from './work.ts';

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
      for (let x = 0, i = y * values.width; x < values.width; x++, i++) {
        const weight = weights.data[i];
        sums[row + column[x]] += weight * values.data[i];
        covers[row + column[x]] += weight;
      }
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
  const bottom = Math.min(height - 1, top + 1);
  const down = v - top;
  for (let x = 0; x < of.width; x++) {
    const u = Math.min(width - 1, Math.max(0, ((x + 0.5) * width) / of.width - 0.5));
    const left = Math.floor(u);
    const right = Math.min(width - 1, left + 1);
    const across = u - left;
    const a = values[top * width + left] * (1 - across) + values[top * width + right] * across;
    const b = values[bottom * width + left] * (1 - across) + values[bottom * width + right] * across;
    out[x] = a * (1 - down) + b * down;
  }
}
