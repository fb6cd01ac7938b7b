import type { Work } from '../raster/work.ts';

/** Ways across the lattice of texels, each looked along both ways: 16 directions. */
const WAYS: readonly (readonly [dx: number, dy: number])[] = [
  [1, 0],
  [2, 1],
  [1, 1],
  [1, 2],
  [0, 1],
  [-1, 2],
  [-1, 1],
  [-2, 1],
];
/** Share of the full turn that one direction stands for: half the gaps to its neighbours. */
const shareOf = ([dx, dy]: readonly [number, number]): number =>
  dx === 0 || dy === 0 ? 26.56505117707799 / 360 : dx * dx === dy * dy ? 18.43494882292201 / 360 : 22.5 / 360;

/** Rows between two looks whether the result is still wanted. */
const LOOK_ROWS = 128;
/** Points of the silhouette that a line remembers. */
const ROOM = 32;
/** The air: nothing there hides the sky. */
export const AIR = -1e9;

/** Heights that horizons are read off. */
export interface Ground {
  width: number;
  height: number;
  /** In widths of a cell; AIR where most of it is dropped. */
  tops: Float32Array;
}

/** How much of the sky each place does not see: the mean over 16 directions of sin² of the horizon's elevation. */
export function hiddenByHorizons({ width, height, tops }: Ground, reach: number, env: Work): Float32Array {
  const hidden = new Float32Array(width * height);
  const fade = reach === Infinity ? 0 : 1 / (reach * reach);
  for (const [k, way] of WAYS.entries()) {
    for (const back of [false, true]) {
      const look = () => env.checkpoint((2 * k + (back ? 1 : 0)) / (2 * WAYS.length));
      sweep(tops, width, height, way, back, fade, hidden, shareOf(way), look);
    }
  }
  return hidden;
}

/** Along all lines of one way at once, row by row, so that memory is read in order. */
function sweep(
  ground: Float32Array,
  width: number,
  height: number,
  [dx, dy]: readonly [number, number],
  back: boolean,
  fade: number,
  hidden: Float32Array,
  share: number,
  look: () => void,
): void {
  const length = Math.sqrt(dx * dx + dy * dy);
  if (dy === 0) {
    const hull = makeHulls(1);
    for (let y = 0; y < height; y++) {
      if (y % LOOK_ROWS === 0) look();
      flatRow(ground, y * width, width, back, hull, fade, hidden, share);
    }
    return;
  }
  const lines = width + Math.abs(dx) * Math.ceil(height / dy) + 1;
  const hulls = makeHulls(lines * dy);
  for (let n = 0; n < height; n++) {
    if (n % LOOK_ROWS === 0) look();
    const y = back ? height - 1 - n : n;
    const step = Math.floor(n / dy);
    const lean = back ? -dx : dx;
    // x − lean · step is the same all along a line; an offset keeps it from going below 0
    const first = (n - step * dy) * lines + (lean > 0 ? lean * Math.ceil(height / dy) : 0) - lean * step;
    sweepRow(ground, y * width, width, first, step * length, hulls, fade, hidden, share);
  }
}

interface Hulls {
  /** How many points each line holds. */
  size: Uint8Array;
  /** Place along the line and height of every point, ROOM of them a line. */
  points: Float32Array;
}

function makeHulls(lines: number): Hulls {
  return { size: new Uint8Array(lines), points: new Float32Array(lines * ROOM * 2) };
}

function sweepRow(
  ground: Float32Array,
  start: number,
  width: number,
  firstLine: number,
  t: number,
  { size, points }: Hulls,
  fade: number,
  hidden: Float32Array,
  share: number,
): void {
  for (let x = 0; x < width; x++) {
    const i = start + x;
    if (ground[i] === AIR) continue;
    const line = firstLine + x;
    const base = line * (2 * ROOM);
    const last = lookBack(ground[i], i, t, points, base, base + 2 * size[line] - 2, fade, hidden, share);
    size[line] = ((last - base) >> 1) + 1;
  }
}

function flatRow(
  ground: Float32Array,
  start: number,
  width: number,
  back: boolean,
  { points }: Hulls,
  fade: number,
  hidden: Float32Array,
  share: number,
): void {
  let last = -2;
  const step = back ? -1 : 1;
  for (let t = 0, i = back ? start + width - 1 : start; t < width; t++, i += step) {
    if (ground[i] === AIR) continue;
    last = lookBack(ground[i], i, t, points, 0, last, fade, hidden, share);
  }
}

/**
 * A texel at `t` of its line sees as far as the hull of the heights before it lets it, and joins that hull.
 *
 * @param base - Where the hull's points begin.
 * @param last - Where its newest one is; before `base`: there is none.
 * @returns where the newest one is now.
 */
function lookBack(
  h: number,
  i: number,
  t: number,
  points: Float32Array,
  base: number,
  last: number,
  fade: number,
  hidden: Float32Array,
  share: number,
): number {
  if (last >= base) {
    let up = points[last + 1] - h;
    let far = t - points[last];
    while (last > base) {
      const upNext = points[last - 1] - h;
      const farNext = t - points[last - 2];
      if (upNext * far < up * farNext) break;
      up = upNext;
      far = farNext;
      last -= 2;
    }
    if (up > 0) {
      const away = 1 - far * far * fade;
      if (away > 0) hidden[i] += (share * away * up * up) / (up * up + far * far);
    }
  }
  last += 2;
  if (last === base + 2 * ROOM) last = thin(points, base);
  points[last] = t;
  points[last + 1] = h;
  return last;
}

/**
 * Every second point of a full hull goes, never the farthest or the nearest: a smooth hill needs no more.
 *
 * @returns Where the next point goes.
 */
function thin(points: Float32Array, base: number): number {
  let to = base + 2;
  for (let k = 2; k < ROOM - 1; k += 2, to += 2) {
    points[to] = points[base + 2 * k];
    points[to + 1] = points[base + 2 * k + 1];
  }
  points[to] = points[base + 2 * ROOM - 2];
  points[to + 1] = points[base + 2 * ROOM - 1];
  return to + 2;
}
