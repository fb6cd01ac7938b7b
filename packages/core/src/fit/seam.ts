import type { Mask, Picture } from '../raster/raster.ts';

/** A strip of overlap: `wide` texels across, `long` along the seam. */
export interface Overlap {
  wide: number;
  long: number;
  /** What it costs to change over at a texel, at across + along · wide. */
  cost: Float32Array;
}

/**
 * How much two ends of a picture differ where they come to lie on each other: squares of the differences of alpha and of
 * the three channels where either is kept.
 *
 * @param across - Left and right ends; else top and bottom.
 */
export function overlapOf(colour: Picture, mask: Mask, wide: number, across: boolean): Overlap {
  const { width, height } = mask;
  const long = across ? height : width;
  const far = across ? width - wide : height - wide;
  const cost = new Float32Array(wide * long);
  for (let j = 0; j < long; j++) {
    for (let i = 0; i < wide; i++) {
      const a = across ? j * width + i : i * width + j;
      const b = across ? a + far : a + far * width;
      const alpha = mask.data[a] - mask.data[b];
      const weight = Math.max(mask.data[a], mask.data[b]) / 255;
      let sum = 3 * alpha * alpha;
      for (let c = 0; c < 3; c++) {
        const step = colour.data[4 * a + c] - colour.data[4 * b + c];
        sum += weight * step * step;
      }
      cost[j * wide + i] = sum + 1e-3;
    }
  }
  return { wide, long, cost };
}

/** Lines that are looked at where the best overlap is sought. */
const LOOKED = 64;

/**
 * The overlap, from half of `most` up to that, at which the two ends fit each other best all over: of what repeats, a
 * whole number of repeats stays.
 */
export function bestOverlap(colour: Picture, mask: Mask, most: number, across: boolean): number {
  const { width, height } = mask;
  const [side, long] = across ? [width, height] : [height, width];
  const step = Math.max(1, Math.floor(long / LOOKED));
  let best = most;
  let least = Infinity;
  for (let wide = most; wide >= Math.max(2, most >> 1); wide--) {
    let sum = 0;
    let count = 0;
    for (let j = step >> 1; j < long; j += step) {
      for (let i = 0; i < wide; i += 2, count++) {
        const a = across ? j * width + i : i * width + j;
        const b = across ? a + side - wide : a + (side - wide) * width;
        const alpha = mask.data[a] - mask.data[b];
        const light = colour.data[4 * a + 1] - colour.data[4 * b + 1];
        sum += alpha * alpha + (Math.max(mask.data[a], mask.data[b]) / 255) * light * light;
      }
    }
    if (sum / count < least) {
      least = sum / count;
      best = wide;
    }
  }
  return best;
}

/**
 * The way along an overlap on which changing over costs least, by dynamic programming: A. Efros, W. Freeman, "Image
 * Quilting for Texture Synthesis and Transfer" (2001), §2.1. It ends where it begins, so that the seam tiles too.
 *
 * @returns Across, for each place along.
 */
export function leastSeam(overlap: Overlap): Int32Array {
  const free = seamFrom(overlap, null);
  return seamFrom(overlap, free[0]);
}

function seamFrom({ wide, long, cost }: Overlap, end: number | null): Int32Array {
  const best = new Float32Array(wide * long).fill(Infinity);
  for (let i = 0; i < wide; i++) if (end === null || i === end) best[i] = cost[i];
  for (let j = 1; j < long; j++) {
    for (let i = 0; i < wide; i++) {
      const row = (j - 1) * wide;
      const before = Math.min(best[row + i], best[row + Math.max(0, i - 1)], best[row + Math.min(wide - 1, i + 1)]);
      best[j * wide + i] = before + cost[j * wide + i];
    }
  }
  const path = new Int32Array(long);
  const last = (long - 1) * wide;
  let at = end ?? 0;
  if (end === null) for (let i = 1; i < wide; i++) if (best[last + i] < best[last + at]) at = i;
  path[long - 1] = at;
  for (let j = long - 2; j >= 0; j--) {
    const row = j * wide;
    let next = at;
    for (const i of [at - 1, at + 1]) if (i >= 0 && i < wide && best[row + i] < best[row + next]) next = i;
    path[j] = at = next;
  }
  return path;
}

/** Root of the mean cost along a way, in 255ths of one channel. */
export function seamError({ wide, cost }: Overlap, path: ArrayLike<number>): number {
  let sum = 0;
  for (let j = 0; j < path.length; j++) sum += cost[j * wide + path[j]];
  return Math.sqrt(sum / path.length / 6);
}
