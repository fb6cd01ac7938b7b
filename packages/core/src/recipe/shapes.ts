import { deposit, type Areas } from './deposit.ts';
import { FRAME, type Scene, type Surface } from './scene.ts';

/** Shapes between two looks whether something newer is wanted. */
const LOOK_EVERY = 1 << 16;

/** Shapes in texels, and which of them lie in each band of so many rows, from the front to the back. */
export interface Shapes {
  readonly corners: Float64Array;
  readonly starts: Int32Array;
  readonly frames: Float64Array;
  /** For every shape the first and the last row it touches, with fractions. */
  readonly tops: Float64Array;
  readonly bottoms: Float64Array;
  /** For every shape whose share it is: the same for all that are added up. Not 0. */
  readonly own: Int32Array;
  readonly surfaceOf: Int32Array;
  readonly surfaces: readonly (Surface | null)[];
  readonly inBand: Int32Array;
  readonly bandStarts: Int32Array;
}

/** @param look - Called now and then; throws to give up. */
export function shapesOf(scene: Scene, scale: number, height: number, rows: number, look: () => void): Shapes {
  const { owners } = scene;
  const count = scene.starts.length;
  look();
  const corners = scene.corners.slice();
  for (let i = 0; i < corners.length; i++) corners[i] *= scale;
  const starts = new Int32Array(count + 1);
  for (let i = 0; i < count; i++) starts[i] = scene.starts[i];
  starts[count] = corners.length / 2;
  const tops = new Float64Array(count).fill(Infinity);
  const bottoms = new Float64Array(count).fill(-Infinity);
  for (let i = 0; i < count; i++) {
    if (i % LOOK_EVERY === 0) look();
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const y = corners[2 * k + 1];
      if (y < tops[i]) tops[i] = y;
      if (y > bottoms[i]) bottoms[i] = y;
    }
  }
  const order = frontToBack(owners, look);
  look();
  const own = new Int32Array(count);
  const surfaceOf = new Int32Array(count);
  const surfaces = owners.map((o) => o.surface);
  const bands = Math.ceil(height / rows);
  const first = (i: number) => Math.max(0, Math.floor(tops[i] / rows));
  const last = (i: number) => Math.min(bands - 1, Math.floor(bottoms[i] / rows));
  const bandStarts = new Int32Array(bands + 2);
  for (let index = 0; index < owners.length; index++) {
    if (index % LOOK_EVERY === 0) look();
    const { first: from, end, group } = owners[index];
    for (let i = from; i < end; i++) {
      own[i] = group < 0 ? index + 1 : -1 - group; // groups count down from −1, single ones up from 1
      surfaceOf[i] = index;
      for (let b = first(i); b <= last(i); b++) bandStarts[b + 2]++;
    }
  }
  for (let b = 0; b < bands; b++) bandStarts[b + 2] += bandStarts[b + 1];
  const inBand = new Int32Array(bandStarts[bands + 1]);
  for (let k = 0; k < order.length; k++) {
    if (k % LOOK_EVERY === 0) look();
    const { first: from, end } = owners[order[k]];
    for (let i = from; i < end; i++) for (let b = first(i); b <= last(i); b++) inBand[bandStarts[b + 1]++] = i;
  }
  look();
  return {
    corners,
    starts,
    frames: framesOf(scene, scale),
    tops,
    bottoms,
    own,
    surfaceOf,
    surfaces,
    inBand,
    bandStarts,
  };
}

/** Owners with a higher z first, of equal ones the later: sorted by counting, since a comparison of so many is slow. */
function frontToBack(owners: Scene['owners'], look: () => void): Int32Array {
  const zs = Float64Array.from(new Set(owners.map((o) => o.z))).sort();
  look();
  const rank = new Map(Array.from(zs, (z, k) => [z, k]));
  const ranks = Int32Array.from(owners, (o) => rank.get(o.z) ?? 0);
  look();
  const ends = new Int32Array(zs.length + 1);
  for (const r of ranks) ends[r]++;
  for (let r = zs.length - 1, end = 0; r >= 0; r--) ends[r] = end += ends[r];
  const order = new Int32Array(owners.length);
  for (let i = 0; i < owners.length; i++) order[--ends[ranks[i]]] = i;
  return order;
}

/** Frames in texels. */
function framesOf({ numbers }: Scene, scale: number): Float64Array {
  const out = numbers.slice();
  for (let i = 0; i < out.length; i += FRAME) {
    out[i] *= scale;
    out[i + 1] *= scale;
    out[i + 2] /= scale;
    out[i + 3] /= scale;
    out[i + 6] *= scale;
    out[i + 7] *= scale;
  }
  return out;
}

/** @returns whether any of it lies in the rows. */
export function depositShape(areas: Areas, shapes: Shapes, shape: number, top: number, rows: number): boolean {
  const { corners, starts, tops, bottoms } = shapes;
  if (bottoms[shape] <= top || tops[shape] >= top + rows) return false;
  deposit(areas, corners, starts[shape], starts[shape + 1], top, rows);
  return true;
}
