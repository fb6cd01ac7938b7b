import { UNIT, type Reach } from './reach.ts';

/** The kept share between the texels of a window may be this much off, as a share of the window, to be left alone. */
const CLOSE = 0.05;
/** As many texels may a window keep more or fewer than its share asks for, with what others carry to it. */
const MOST_REST = 0.65;
/** Texels of a level that an edge moves where a window is left alone: unnoticed, and at all; and where it is not. */
const LEFT_ALONE = { unnoticed: 0.02, most: 0.07 };
const CHOSEN = { unnoticed: 0.5, most: 0.5 };
const HIGHEST = 255 * UNIT;

/** Means of a window of 4 × 4 and of the texels around it; beyond the border the outermost go on. */
const SIDE = 6;
const around = new Int32Array(SIDE * SIDE);

/**
 * Whether a window clips by itself as it should: between its texels, where a renderer samples, it keeps its share of level
 * 0 within {@link CLOSE}, and as a count of texels within {@link MOST_REST}. Of each texel four places are sampled.
 *
 * @param share - Texels that it should keep. @param carried - What other windows leave to it.
 * @returns how many texels it keeps, or −1 where it is to be decided.
 */
export function naturalCount(
  { width, height, mean }: Reach,
  centre: number,
  x0: number,
  y0: number,
  share: number,
  carried: number,
): number {
  const across = Math.min(4, width - x0);
  const down = Math.min(4, height - y0);
  if (x0 > 0 && y0 > 0 && x0 + 5 <= width && y0 + 5 <= height) {
    for (let v = 0, k = 0, row = (y0 - 1) * width + x0 - 1; v < SIDE; v++, row += width) {
      for (let u = 0; u < SIDE; u++, k++) around[k] = mean[row + u];
    }
  } else {
    for (let v = 0, k = 0; v < SIDE; v++) {
      const row = Math.min(height - 1, Math.max(0, y0 + v - 1)) * width;
      for (let u = 0; u < SIDE; u++, k++) around[k] = mean[row + Math.min(width - 1, Math.max(0, x0 + u - 1))];
    }
  }
  let seen = 0;
  let count = 0;
  const level = 16 * centre;
  for (let v = 0; v < down; v++) {
    for (let u = 0, k = (v + 1) * SIDE + 1; u < across; u++, k++) {
      const own = around[k];
      if (own >= centre) count++;
      const left = around[k - 1];
      const right = around[k + 1];
      const above = around[k - SIDE];
      const below = around[k + SIDE];
      const nine = 9 * own;
      if (nine + 3 * (left + above) + around[k - SIDE - 1] >= level) seen++;
      if (nine + 3 * (right + above) + around[k - SIDE + 1] >= level) seen++;
      if (nine + 3 * (left + below) + around[k + SIDE - 1] >= level) seen++;
      if (nine + 3 * (right + below) + around[k + SIDE + 1] >= level) seen++;
    }
  }
  if (Math.abs(seen / 4 - share) > CLOSE * across * down) return -1;
  return Math.abs(share + carried - count) > MOST_REST ? -1 : count;
}

/**
 * Narrows what a texel of a level can come to, so that its edge towards a texel beside it on the other side stays about
 * where it lies between the two: coarser levels take what they need from texels that are at no edge.
 *
 * @param leftAlone - Whether its window clips by itself as it should.
 */
export function keepEdge(level: Reach, centre: number, x: number, y: number, leftAlone: boolean): void {
  const { width, height, mean, low, high, lowFree, highFree } = level;
  const i = y * width + x;
  const a = mean[i];
  const left = mean[x > 0 ? i - 1 : i];
  const right = mean[x < width - 1 ? i + 1 : i];
  const above = mean[y > 0 ? i - width : i];
  const below = mean[y < height - 1 ? i + width : i];
  const kept = a >= centre;
  let b = a;
  if (kept) {
    if (left < b) b = left;
    if (right < b) b = right;
    if (above < b) b = above;
    if (below < b) b = below;
  } else {
    if (left > b) b = left;
    if (right > b) b = right;
    if (above > b) b = above;
    if (below > b) b = below;
  }
  if (b >= centre === kept) return;
  const at = (centre - a) / (b - a);
  const { unnoticed, most } = leftAlone ? LEFT_ALONE : CHOSEN;
  // towards the other texel the edge comes near, away from it far
  const end = kept ? HIGHEST : 0;
  const near = meanFor(centre, b, at - most, end);
  const far = meanFor(centre, b, at + most, end);
  const nearFree = meanFor(centre, b, at - unnoticed, end);
  const farFree = meanFor(centre, b, at + unnoticed, end);
  if (kept) {
    narrow(low, high, i, a, near, far);
    narrow(lowFree, highFree, i, a, nearFree, farFree);
  } else {
    narrow(low, high, i, a, far, near);
    narrow(lowFree, highFree, i, a, farFree, nearFree);
  }
}

/** Bounds of a texel, from its own mean outwards, not further apart than they are. */
function narrow(low: Uint16Array, high: Uint16Array, i: number, own: number, least: number, most: number): void {
  if (least > low[i]) low[i] = own < least ? own : least;
  if (most < high[i]) high[i] = own > most ? own : most;
}

/** The mean of a texel whose edge lies at this place on the way to another; `end` where the edge lies at that one. */
function meanFor(centre: number, other: number, place: number, end: number): number {
  if (place > 0.999) return end;
  const at = place < 0 ? 0 : place;
  return (centre - at * other) / (1 - at);
}
