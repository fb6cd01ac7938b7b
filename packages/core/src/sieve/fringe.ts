import type { Mask } from '../raster/raster.ts';

/** The soft edge of a mask, where it crosses the cutoff. */
export interface Fringe {
  /** From all dropped to all kept across the edge, in texels: the median along the outline. */
  width: number;
  /** How much alpha, 0–1, changes per texel at the cutoff: the median. */
  slope: number;
}

/** Texels that are looked at for an outline, about: of a larger mask not every row. */
const LOOKED_AT = 2_000_000;
/** Places along the outline that are measured, at the most. */
const SAMPLES = 20_000;
/** Steps of a byte that alpha may turn back, and texels that it may stay, within an edge. */
const NOISE = 8;
const FLAT = 3;
/** Texels that an edge is followed to each side. */
const REACH = 256;

/**
 * The outline lies between neighbours of which one is kept and one dropped. From there alpha is followed to both sides, as
 * long as it goes on falling or rising; the width is that of the even ramp whose rise is spread as far, taken across the
 * edge by its direction, and a texel at least. Null where nothing, or everything, is kept.
 *
 * @param threshold - Byte; see `thresholdByte`.
 */
export function fringeOf({ width, height, data }: Mask, threshold: number): Fringe | null {
  const rows = Math.max(1, Math.round((width * height) / LOOKED_AT)); // from one that is looked at to the next
  const every = Math.max(1, Math.ceil(crossings(data, width, height, threshold, rows) / SAMPLES));
  const widths: number[] = [];
  const slopes: number[] = [];
  let seen = 0;
  for (let y = 0; y < height; y += rows) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const kept = data[i] >= threshold;
      if (x + 1 < width && kept !== data[i + 1] >= threshold && seen++ % every === 0) {
        measure(x, width, i - x, 1, y > 0 ? -width : 0, y + 1 < height ? width : 0);
      }
      if (y + 1 < height && kept !== data[i + width] >= threshold && seen++ % every === 0) {
        measure(y, height, x, width, x > 0 ? -1 : 0, x + 1 < width ? 1 : 0);
      }
    }
  }
  return widths.length > 0 ? { width: median(widths), slope: median(slopes) } : null;

  /** Along a line of `count` texels from `start`, `step` apart: between the places `at` and `at` + 1. */
  function measure(at: number, count: number, start: number, step: number, before: number, after: number): void {
    const here = start + at * step;
    const along = data[here + step] - data[here];
    const rising = along > 0 ? 1 : -1;
    let across = 0;
    for (const i of [here, here + step]) across += (data[i + after] - data[i + before]) / 4;
    const steep = Math.sqrt(along * along + across * across);
    slopes.push(steep / 255);
    const value = (k: number) => rising * data[start + k * step];
    const from = lastOf(
      at,
      -1,
      (k) => k >= 0 && at - k < REACH,
      (k) => -value(k),
    );
    const to = lastOf(at + 1, 1, (k) => k < count && k - at < REACH, value);
    // of a ramp w wide, what alpha rises from texel to texel has the variance (w² + 1) / 12: the ramp's, and a texel's
    let [rise, mean, square] = [0, 0, 0];
    for (let k = from, reached = value(from); k < to; k++) {
      const by = Math.max(0, Math.min(value(to), value(k + 1)) - reached); // what falls back rises no second time
      reached += by;
      rise += by;
      mean += by * (k - at);
      square += by * (k - at) * (k - at);
    }
    const variance = square / rise - (mean / rise) ** 2;
    widths.push((Math.sqrt(Math.max(1, 12 * variance - 1)) * Math.abs(along)) / steep);
  }
}

/** The place of the largest value from a place on, as long as values go on to rise: back by noise, but not further. */
function lastOf(from: number, by: number, isInside: (k: number) => boolean, value: (k: number) => number): number {
  let best = from;
  for (let k = from + by; isInside(k) && value(k) > value(best) - NOISE && Math.abs(k - best) <= FLAT; k += by) {
    if (value(k) > value(best)) best = k;
  }
  return best;
}

function crossings(data: Uint8Array, width: number, height: number, threshold: number, rows: number): number {
  let count = 0;
  for (let y = 0; y < height; y += rows) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const kept = data[i] >= threshold;
      if (x + 1 < width && kept !== data[i + 1] >= threshold) count++;
      if (y + 1 < height && kept !== data[i + width] >= threshold) count++;
    }
  }
  return count;
}

function median(values: number[]): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[sorted.length >> 1];
}
