import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/**
 * Row offsets beyond this say that the column holds no trusted texel on that side. Pictures are at most 16384 high, so
 * a count that starts here and runs on still fits 16 bits.
 */
const NONE = 16384;

/** Which texels are looked for: those at or above a threshold (1–255), or those below it. */
export interface Wanted {
  threshold: number;
  below?: boolean;
  /** No farther than this is looked, in texels; what lies within is exact, what is beyond may be missing. */
  reach?: number;
}

/** Takes what is found, a stretch of a row at a time. */
export interface NearestWriter {
  /** Texels [from, to) are wanted ones. */
  own(from: number, to: number): void;
  /** Nothing is near the texels [from, to). */
  none(from: number, to: number): void;
  /** For the texels [from, to) the texel `found` is the nearest. */
  found(from: number, to: number, found: number): void;
}

/**
 * Tells for every texel the nearest wanted one by exact Euclidean distance between centres; at equal distance any of
 * the nearest.
 *
 * Columns first, then the lower envelope of parabolas along each row: A. Meijster, J. Roerdink, W. Hesselink, "A
 * General Algorithm for Computing Distance Transforms in Linear Time" (2000); P. Felzenszwalb, D. Huttenlocher,
 * "Distance Transforms of Sampled Functions" (2012). All comparisons are between integers below 2⁵³, so they are exact.
 */
export function findNearest(mask: Mask, wanted: Wanted, env: Pick<Work, 'bands'>, writer: NearestWriter): void {
  const { width, height } = mask;
  const offset = new Int16Array(width * height);
  const flip = wanted.below ? -1 : 0;
  env.bands(height, (y0, y1) => sweepDown(mask, wanted.threshold, flip, offset, y0, y1));
  const below = new Int32Array(width).fill(NONE);
  env.bands(height, (y0, y1) => sweepUp(offset, below, width, height - y1, height - y0));
  const reach = Math.min(NONE - 1, Math.ceil(wanted.reach ?? NONE));
  const scratch = { site: new Int32Array(width + 1), base: new Float64Array(width + 1) };
  env.bands(height, (y0, y1) => fillRows(offset, width, reach, scratch, writer, y0, y1));
}

/** The index of the nearest wanted texel of every texel, its own where it is one; −1 where there is none. */
export function nearestTexels(mask: Mask, wanted: Wanted, env: Pick<Work, 'bands'>): Int32Array {
  const out = new Int32Array(mask.width * mask.height);
  findNearest(mask, wanted, env, {
    own(from, to) {
      for (let i = from; i < to; i++) out[i] = i;
    },
    none: (from, to) => void out.fill(-1, from, to),
    found(from, to, found) {
      for (let i = from; i < to; i++) out[i] = found;
    },
  });
  return out;
}

/** Rows up (≤ 0) to the nearest wanted texel at or above; −NONE or less where there is none. */
function sweepDown(
  { width, data }: Mask,
  threshold: number,
  flip: number,
  offset: Int16Array,
  y0: number,
  y1: number,
): void {
  if (y0 === 0) for (let x = 0; x < width; x++) offset[x] = -NONE & (((data[x] - threshold) >> 31) ^ flip);
  for (let i = Math.max(1, y0) * width, end = y1 * width; i < end; i++) {
    offset[i] = (offset[i - width] - 1) & (((data[i] - threshold) >> 31) ^ flip);
  }
}

/**
 * Turns the offset around where the nearest wanted texel lies below. `below` counts rows since one and carries over
 * from band to band. Without branches: half the time of the same loop with them.
 */
function sweepUp(offset: Int16Array, below: Int32Array, width: number, y0: number, y1: number): void {
  for (let y = y1 - 1; y >= y0; y--) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const up = offset[row + x];
      const down = (below[x] + 1) & (up >> 31);
      const nearer = (down + up) >> 31; // all ones where down < −up
      below[x] = down;
      offset[row + x] = (down & nearer) | (up & ~nearer);
    }
  }
}

interface Scratch {
  /** Columns whose parabola is part of the envelope, from the left. */
  site: Int32Array;
  /** site² + offset²: the part of the squared distance that does not depend on x. */
  base: Float64Array;
}

function fillRows(
  offset: Int16Array,
  width: number,
  reach: number,
  scratch: Scratch,
  writer: NearestWriter,
  y0: number,
  y1: number,
): void {
  for (let y = y0; y < y1; y++) {
    const row = y * width;
    let x = 0;
    while (x < width) {
      const start = x;
      const own = offset[row + x] === 0;
      x++;
      while (x < width && (offset[row + x] === 0) === own) x++;
      if (own) writer.own(row + start, row + x);
      else fillGap(offset, width, reach, scratch, writer, row, start, x);
    }
  }
}

/** One gap [start, end) of unwanted texels in a row; wanted neighbours at its ends bound what can win inside. */
function fillGap(
  offset: Int16Array,
  width: number,
  reach: number,
  { site, base }: Scratch,
  writer: NearestWriter,
  row: number,
  start: number,
  end: number,
): void {
  const leftEnd = start > 0 ? start - 1 : -1e6;
  const rightEnd = end < width ? end : 1e6;
  let top = -1;
  const first = start > 0 ? start - 1 : start;
  const last = end < width ? end : end - 1;
  for (let q = first; q <= last; q++) {
    let g = offset[row + q];
    if (g < 0) g = -g;
    if (g > reach) continue;
    if (g !== 0 && g >= q - leftEnd && g >= rightEnd - q) continue; // both ends are nearer everywhere
    const f = g * g + q * q;
    while (top > 0) {
      // drop the top parabola if the one below and the new one meet under it
      const s = site[top];
      const h = base[top];
      if ((h - base[top - 1]) * (q - s) < (f - h) * (s - site[top - 1])) break;
      top--;
    }
    top++;
    site[top] = q;
    base[top] = f;
  }
  if (top < 0) {
    writer.none(row + start, row + end);
    return;
  }
  let from = start;
  let k = 0;
  while (from < end) {
    while (k < top && base[k + 1] - base[k] <= 2 * from * (site[k + 1] - site[k])) k++;
    // the next parabola takes over from the first whole x past where the two meet
    let to = end;
    if (k < top)
      to = Math.min(end, Math.max(from + 1, Math.ceil((base[k + 1] - base[k]) / (2 * (site[k + 1] - site[k])))));
    writer.found(row + from, row + to, row + offset[row + site[k]] * width + site[k]);
    from = to;
  }
}
