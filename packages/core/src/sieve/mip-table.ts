import { SieveError } from '../errors.ts';
import type { Mask } from '../raster/raster.ts';
import { sampledError } from './sampled.ts';
import { halfSize, isEven, sharesBelow, sharesOfTexels, WHOLE } from './hold/reach.ts';

/** How a level clips, beside what level 0 keeps in the same places. */
export interface LevelFigures {
  width: number;
  height: number;
  /** Share kept, 0–1. */
  coverage: number;
  /** Coverage less that of level 0. */
  drift: number;
  /** Mean difference of the kept share over windows of 4 × 4 texels, 0–1. */
  localError: number;
  /** The same where a renderer samples, between its texels and half way to the next level; see {@link sampledError}. */
  sampledError: number;
  /** Mean difference between a texel, kept or not, and the share of level 0 that is kept under it, 0–1. */
  silhouetteError: number;
}

const WINDOW = 4;

/**
 * @param mask - Level 0.
 * @param levels - Levels 1 and on.
 * @param threshold - Byte, 0–256.
 * @param checkpoint - Cancels by throwing.
 * @throws {@link SieveError} `size-mismatch` where a level has not half the size of the one before.
 */
export function levelFigures(
  mask: Mask,
  levels: readonly Mask[],
  threshold: number,
  checkpoint?: () => void,
): LevelFigures[] {
  const whole = coverageOf(mask.data, threshold);
  let shares = sharesOfTexels(mask, threshold);
  let size: { width: number; height: number } = isEven(mask, halfSize(mask)) ? halfSize(mask) : mask;
  let expected = halfSize(mask);
  return levels.map((level, l) => {
    const { width, height, data } = level;
    if (width !== expected.width || height !== expected.height) {
      throw new SieveError(
        'size-mismatch',
        `A level is ${width} × ${height}, expected ${expected.width} × ${expected.height}.`,
      );
    }
    if (size.width !== width || size.height !== height) shares = sharesBelow(shares, size);
    size = level;
    expected = halfSize(level);
    const coverage = coverageOf(data, threshold);
    const sampled = sampledError(level, levels.at(l + 1) ?? null, shares, WHOLE, threshold, checkpoint);
    return {
      width,
      height,
      coverage,
      drift: coverage - whole,
      sampledError: sampled,
      ...errorsOf(level, shares, threshold),
    };
  });
}

function coverageOf(data: Uint8Array, threshold: number): number {
  let dropped = 0;
  for (let i = 0; i < data.length; i++) dropped += (data[i] - threshold) >>> 31;
  return 1 - dropped / data.length;
}

function errorsOf(
  { width, height, data }: Mask,
  shares: Uint16Array,
  threshold: number,
): { localError: number; silhouetteError: number } {
  let local = 0;
  let windows = 0;
  let silhouette = 0;
  for (let y0 = 0; y0 < height; y0 += WINDOW) {
    const y1 = Math.min(height, y0 + WINDOW);
    for (let x0 = 0; x0 < width; x0 += WINDOW) {
      const x1 = Math.min(width, x0 + WINDOW);
      let sum = 0;
      for (let y = y0; y < y1; y++) {
        for (let i = y * width + x0, end = y * width + x1; i < end; i++) {
          const off = (data[i] >= threshold ? WHOLE : 0) - shares[i];
          sum += off;
          silhouette += Math.abs(off);
        }
      }
      local += Math.abs(sum) / ((y1 - y0) * (x1 - x0));
      windows++;
    }
  }
  return { localError: local / windows / WHOLE, silhouetteError: silhouette / data.length / WHOLE };
}
