import type { Box } from '../raster/box.ts';
/** Where a region lies, in texels of the mask it was found in. */
export interface Place extends Box {
  texels: number;
  /** A texel that belongs to it, which identifies it among others. */
  at: readonly [x: number, y: number];
}

/**
 * Connected regions of a set of texels, kept as runs of a row: a picture of millions of texels has some ten thousand.
 */
export interface Regions {
  readonly count: number;
  readonly width: number;
  /** Row, first and last + 1 texel of every run, in reading order. */
  readonly runs: Int32Array;
  /** Region of every run, 0 … count − 1. */
  readonly regionOf: Int32Array;
  /** Texels of every region. */
  readonly areas: Float64Array;
  /** Left, top, right + 1, bottom + 1 of every region. */
  readonly boxes: Int32Array;
  /** First texel in reading order of every region. */
  readonly firsts: Int32Array;
}

/** Rows, and runs, between two looks. */
const LOOK_ROWS = 128;
const LOOK_RUNS = 1 << 18;

/** How texels are connected: by their sides (4), or by their corners too (8). Kept ones 8, dropped ones 4: dual. */
export type Connectivity = 4 | 8;

/**
 * Runs joined by union–find as rows are read (run-based labelling: L. He, Y. Chao, K. Suzuki, "A Run-Based Two-Scan
 * Labeling Algorithm", 2008).
 *
 * @param member - One value a texel; those in [low, high] are looked at.
 * @param look - Called now and then; throws to give up.
 */
export function findRegions(
  member: Uint8Array,
  width: number,
  height: number,
  { low, high, connectivity }: { low: number; high: number; connectivity: Connectivity },
  look: () => void = () => undefined,
): Regions {
  const runs = findRuns(member, width, height, low, high, look);
  const count = runs.length / 3;
  const parent = Int32Array.from({ length: count }, (_, i) => i);
  const reach = connectivity === 8 ? 1 : 0;
  let above = 0;
  let current = 0;
  for (let row = 1; row < height && current < count; row++) {
    if (row % LOOK_ROWS === 0) look();
    while (current < count && runs[3 * current] < row) current++;
    while (above < count && runs[3 * above] < row - 1) above++;
    let a = above;
    for (let c = current; c < count && runs[3 * c] === row; c++) {
      const from = runs[3 * c + 1] - reach;
      const to = runs[3 * c + 2] + reach;
      while (a < current && runs[3 * a + 2] <= from) a++;
      for (let k = a; k < current && runs[3 * k + 1] < to; k++) join(parent, k, c);
    }
  }
  return gatherRegions(runs, parent, width, look);
}

function findRuns(
  member: Uint8Array,
  width: number,
  height: number,
  low: number,
  high: number,
  look: () => void,
): Int32Array {
  let runs = new Int32Array(3 * 4096);
  let n = 0;
  for (let y = 0, row = 0; y < height; y++, row += width) {
    if (y % LOOK_ROWS === 0) look();
    let x = 0;
    while (x < width) {
      while (x < width && (member[row + x] < low || member[row + x] > high)) x++;
      if (x === width) break;
      const from = x;
      while (x < width && member[row + x] >= low && member[row + x] <= high) x++;
      if (n === runs.length) {
        const more = new Int32Array(2 * runs.length);
        more.set(runs);
        runs = more;
      }
      runs[n++] = y;
      runs[n++] = from;
      runs[n++] = x;
    }
  }
  return runs.slice(0, n);
}

function rootOf(parent: Int32Array, i: number): number {
  let at = i;
  while (parent[at] !== at) {
    parent[at] = parent[parent[at]];
    at = parent[at];
  }
  return at;
}

function join(parent: Int32Array, a: number, b: number): void {
  const x = rootOf(parent, a);
  const y = rootOf(parent, b);
  if (x < y) parent[y] = x;
  else parent[x] = y;
}

function gatherRegions(runs: Int32Array, parent: Int32Array, width: number, look: () => void): Regions {
  const n = parent.length;
  const regionOf = new Int32Array(n);
  let count = 0;
  for (let i = 0; i < n; i++) regionOf[i] = parent[i] === i ? count++ : regionOf[rootOf(parent, i)];
  const areas = new Float64Array(count);
  const boxes = new Int32Array(4 * count);
  const firsts = new Int32Array(count).fill(-1);
  for (let i = 0; i < n; i++) {
    if (i % LOOK_RUNS === 0) look();
    const [y, from, to] = [runs[3 * i], runs[3 * i + 1], runs[3 * i + 2]];
    const r = regionOf[i];
    if (firsts[r] < 0) {
      firsts[r] = y * width + from;
      boxes.set([from, y, to, y + 1], 4 * r);
    }
    areas[r] += to - from;
    boxes[4 * r] = Math.min(boxes[4 * r], from);
    boxes[4 * r + 2] = Math.max(boxes[4 * r + 2], to);
    boxes[4 * r + 3] = y + 1;
  }
  return { count, width, runs, regionOf, areas, boxes, firsts };
}

/** Fills the texels of the regions for which `chosen` holds. */
export function paintRegions(
  { runs, regionOf, width }: Regions,
  chosen: (region: number) => boolean,
  out: Uint8Array,
  value: number,
): void {
  for (let i = 0; i < regionOf.length; i++) {
    if (chosen(regionOf[i]))
      out.fill(value, runs[3 * i] * width + runs[3 * i + 1], runs[3 * i] * width + runs[3 * i + 2]);
  }
}

/** The region that holds a texel, or −1. */
export function regionAt({ runs, regionOf }: Regions, x: number, y: number): number {
  let low = 0;
  let high = regionOf.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (runs[3 * middle] < y || (runs[3 * middle] === y && runs[3 * middle + 2] <= x)) low = middle + 1;
    else high = middle;
  }
  return low < regionOf.length && runs[3 * low] === y && runs[3 * low + 1] <= x ? regionOf[low] : -1;
}

/** A region for a person to look at. */
export function placeOf({ boxes, areas, firsts, width }: Regions, region: number): Place {
  const [x0, y0, x1, y1] = boxes.subarray(4 * region, 4 * region + 4);
  const first = firsts[region];
  const y = Math.floor(first / width);
  return {
    x0,
    y0,
    x1,
    y1,
    texels: areas[region],
    at: [first - y * width, y],
  };
}
