import type { Work } from '../raster/work.ts';

const PASSES = 3;

/** A box of 2r + 1 whole texels and one partial texel at each end. */
interface BoxFilter {
  radius: number;
  /** Weight of a whole texel, and of the partial ones. */
  inner: number;
  outer: number;
}

/**
 * The box whose repetition has the variance of a Gaussian of this deviation, fractions included: P. Gwosdek et al.,
 * "Theoretical Foundations of Gaussian Convolution by Extended Box Filtering" (2011).
 */
function boxOf(sigma: number): BoxFilter {
  const variance = (sigma * sigma) / PASSES;
  const radius = Math.floor((Math.sqrt(12 * variance + 1) - 1) / 2);
  const part =
    ((2 * radius + 1) * (variance - (radius * (radius + 1)) / 3)) / (2 * ((radius + 1) * (radius + 1) - variance));
  const inner = 1 / (2 * radius + 1 + 2 * part);
  return { radius, inner, outer: inner * part };
}

/** One value a texel, of any range. */
export interface Values {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint16Array | Float32Array;
}

/**
 * Near-Gaussian blur: an extended box, three times each way; beyond the border the outermost texels go on.
 *
 * @param sigma - Standard deviation in texels, above 0.
 * @returns The values with their fractions.
 */
export function blurValues({ width, height, data }: Values, sigma: number, env: Pick<Work, 'bands'>): Float32Array {
  const box = boxOf(sigma);
  let from = new Float32Array(width * height);
  let to = new Float32Array(width * height);
  env.bands(height, (y0, y1) => from.set(data.subarray(y0 * width, y1 * width), y0 * width));
  env.bands(height, (y0, y1) => blurRows(from, width, box, y0, y1));
  for (let pass = 0; pass < PASSES; pass++) {
    const sums = startSums(from, width, height, box.radius);
    env.bands(height, (y0, y1) => blurColumns(from, to, sums, width, height, box, y0, y1));
    [from, to] = [to, from];
  }
  return from;
}

function blurRows(
  plane: Float32Array,
  width: number,
  { radius, inner, outer }: BoxFilter,
  y0: number,
  y1: number,
): void {
  const pad = radius + 1;
  const line = new Float64Array(width + 2 * pad);
  for (let y = y0; y < y1; y++) {
    const row = plane.subarray(y * width, (y + 1) * width);
    for (let pass = 0; pass < PASSES; pass++) {
      line.set(row, pad);
      line.fill(row[0], 0, pad);
      line.fill(row[width - 1], width + pad);
      let sum = 0;
      for (let k = 1; k <= 2 * radius + 1; k++) sum += line[k];
      for (let x = 0; x < width; x++) {
        const ahead = line[x + 2 * pad];
        row[x] = inner * sum + outer * (line[x] + ahead);
        sum += ahead - line[x + 1];
      }
    }
  }
}

/** For every column the sum of the box around row 0. */
function startSums(plane: Float32Array, width: number, height: number, radius: number): Float64Array {
  const sums = new Float64Array(width);
  for (let k = -radius; k <= radius; k++) {
    const row = Math.min(height - 1, Math.max(0, k)) * width;
    for (let x = 0; x < width; x++) sums[x] += plane[row + x];
  }
  return sums;
}

function blurColumns(
  from: Float32Array,
  to: Float32Array,
  sums: Float64Array,
  width: number,
  height: number,
  { radius, inner, outer }: BoxFilter,
  y0: number,
  y1: number,
): void {
  for (let y = y0; y < y1; y++) {
    const row = y * width;
    const before = Math.max(0, y - radius - 1) * width;
    const ahead = Math.min(height - 1, y + radius + 1) * width;
    const leaving = Math.max(0, y - radius) * width;
    for (let x = 0; x < width; x++) {
      const next = from[ahead + x];
      to[row + x] = inner * sums[x] + outer * (from[before + x] + next);
      sums[x] += next - from[leaving + x];
    }
  }
}
