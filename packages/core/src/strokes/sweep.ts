import { coverOf, SAMPLE_WORDS, SAMPLE_X, SAMPLE_Y, SAMPLES } from './cover.ts';
import { FULL, type Coverage } from './coverage.ts';

/** A disc: a place on a path with its radius, in texels here. */
export interface Disc {
  x: number;
  y: number;
  r: number;
}

/** Up to this radius edges bend within a texel, and are sampled instead of computed as straight ones. */
export const THIN = 4;
/** Farthest a texel reaches from its centre. */
const REACH = 0.7072;

/** What the sweep of a disc from one place to the next covers: a tapered capsule. */
interface Capsule {
  a: Disc;
  b: Disc;
  dx: number;
  dy: number;
  lengthSquared: number;
}

/** What a disc has swept so far, and of each row the texels [from, to) that are covered whole by its last stretch. */
export class Swept {
  readonly from: Int32Array;
  readonly to: Int32Array;

  constructor(readonly cover: Coverage) {
    this.from = new Int32Array(cover.height);
    this.to = new Int32Array(cover.height);
  }
}

/**
 * Covers what a disc covers on its way from `a` to `b`, to what was there: the union. A hard rim is exact: by the area
 * inside a straight edge where the radius is large, by {@link SAMPLES} samples of each texel where it is small.
 *
 * @param hardness - Share of the radius that is full; the rest falls off smoothly.
 * @param thin - Whether samples are taken: the same for a whole stroke.
 */
export function sweepDisc(
  { cover, from, to }: Swept,
  a: Disc,
  b: Disc,
  { hardness, thin }: { hardness: number; thin: boolean },
): void {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const capsule: Capsule = { a, b, dx, dy, lengthSquared: dx * dx + dy * dy };
  const r = Math.max(a.r, b.r) + REACH;
  const top = Math.max(0, Math.floor(Math.min(a.y, b.y) - r));
  const bottom = Math.min(cover.height, Math.ceil(Math.max(a.y, b.y) + r));
  const [left, right] = [Math.floor(Math.min(a.x, b.x) - r), Math.ceil(Math.max(a.x, b.x) + r)];
  if (!cover.wants(left, top, right, bottom)) return;
  for (let y = top; y < bottom; y++) {
    rowSpan(capsule, r, y + 0.5);
    const x0 = Math.max(0, Math.floor(span[0] - 0.5));
    const x1 = Math.min(cover.width, Math.ceil(span[1] + 0.5));
    if (x0 >= x1) continue;
    if (thin) sampleRow(cover, capsule, y, x0, x1);
    else edgeRow(cover, capsule, hardness, y, x0, x1, from, to);
  }
}

const span = new Float64Array(2);

/** Where a row meets the capsule of the larger radius: two discs and what lies between their tangents. */
function rowSpan({ a, b, dx, dy, lengthSquared }: Capsule, r: number, y: number): void {
  span[0] = Infinity;
  span[1] = -Infinity;
  for (const disc of [a, b]) {
    const up = y - disc.y;
    const half = r * r - up * up;
    if (half < 0) continue;
    const reach = Math.sqrt(half);
    if (disc.x - reach < span[0]) span[0] = disc.x - reach;
    if (disc.x + reach > span[1]) span[1] = disc.x + reach;
  }
  if (lengthSquared === 0) return;
  const length = Math.sqrt(lengthSquared);
  const [nx, ny] = [(-dy / length) * r, (dx / length) * r];
  for (let side = -1; side <= 1; side += 2) {
    const y0 = a.y + side * ny;
    const t = dy === 0 ? -1 : (y - y0) / dy;
    if (t < 0 || t > 1) continue;
    const x = a.x + side * nx + t * dx;
    if (x < span[0]) span[0] = x;
    if (x > span[1]) span[1] = x;
  }
}

let row = new Uint16Array(1024);

/**
 * The shape has no hollow, so that between two texels covered whole all are; and what the stretch before covered whole
 * need not be looked at again.
 */
function edgeRow(
  cover: Coverage,
  capsule: Capsule,
  hardness: number,
  y: number,
  x0: number,
  x1: number,
  fullFrom: Int32Array,
  fullTo: Int32Array,
): void {
  if (row.length < x1 - x0) row = new Uint16Array(2 * (x1 - x0));
  const [from, to] = [fullFrom[y], fullTo[y]];
  let left = x0;
  for (; left < x1; left++) {
    if (left >= from && left < to) break;
    const value = edgeCover(capsule, hardness, left + 0.5, y + 0.5);
    if (value === FULL) break;
    row[left - x0] = value;
  }
  if (left > x0) cover.mergeRow(y, x0, left, row);
  if (left === x1) return;
  let right = x1;
  for (; right > left; right--) {
    if (right > from && right <= to) break;
    const value = edgeCover(capsule, hardness, right - 0.5, y + 0.5);
    if (value === FULL) break;
    row[right - 1 - left] = value;
  }
  if (left < from || right > to) {
    const meets = left <= to && right >= from && from < to;
    if (!meets) cover.fillRow(y, left, right);
    else {
      if (left < from) cover.fillRow(y, left, from);
      if (right > to) cover.fillRow(y, to, right);
    }
    fullFrom[y] = meets && from < left ? from : left;
    fullTo[y] = meets && to > right ? to : right;
  }
  if (right < x1) cover.mergeRow(y, right, x1, row.subarray(right - left));
}

function edgeCover({ a, b, dx, dy, lengthSquared }: Capsule, hardness: number, x: number, y: number): number {
  let t = lengthSquared > 0 ? ((x - a.x) * dx + (y - a.y) * dy) / lengthSquared : 0;
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  const ox = x - (a.x + t * dx);
  const oy = y - (a.y + t * dy);
  const far = Math.sqrt(ox * ox + oy * oy);
  return rimCover(a.r + t * (b.r - a.r), far, hardness, ox, oy);
}

/** How far a disc of radius r covers a texel whose centre is `far` from its own, in the direction (ox, oy). */
export function rimCover(r: number, far: number, hardness: number, ox: number, oy: number): number {
  const soft = r * (1 - hardness);
  const inside = r - far;
  if (soft <= 1) {
    if (inside >= REACH) return FULL;
    if (inside <= -REACH) return 0;
    return Math.floor(coverOf(inside, ox, oy) * FULL + 0.5);
  }
  if (inside >= soft) return FULL;
  if (inside <= 0) return 0;
  const t = inside / soft;
  return Math.floor(t * t * (3 - 2 * t) * FULL + 0.5);
}

const words = new Uint32Array(SAMPLE_WORDS);
const WHOLE = new Uint32Array(SAMPLE_WORDS).fill(0xffffffff);

function sampleRow(cover: Coverage, capsule: Capsule, y: number, x0: number, x1: number): void {
  const { a, b, dx, dy, lengthSquared } = capsule;
  const taper = Math.abs(b.r - a.r);
  const straight = taper === 0 ? REACH / Math.sqrt(lengthSquared) : Infinity;
  for (let x = x0; x < x1; x++) {
    const along = lengthSquared > 0 ? ((x + 0.5 - a.x) * dx + (y + 0.5 - a.y) * dy) / lengthSquared : 0;
    const t = along < 0 ? 0 : along > 1 ? 1 : along;
    const [ox, oy] = [x + 0.5 - a.x - t * dx, y + 0.5 - a.y - t * dy];
    const inside = a.r + t * (b.r - a.r) - Math.sqrt(ox * ox + oy * oy);
    if (inside <= -REACH - taper || cover.isFull(x, y)) continue;
    if (inside >= REACH + taper) cover.mergeSamples(x, y, WHOLE);
    else if (along > straight && along < 1 - straight) {
      if (sampleBand(capsule, x, y)) cover.mergeSamples(x, y, words);
    } else if (sampleTexel(capsule, x, y)) cover.mergeSamples(x, y, words);
  }
}

/** As {@link sampleTexel}, of a texel that lies beside the line and not beyond an end of it. */
function sampleBand({ a, dx, dy, lengthSquared }: Capsule, x: number, y: number): boolean {
  const length = Math.sqrt(lengthSquared);
  const [nx, ny] = [-dy / length, dx / length];
  const across = (x - a.x) * nx + (y - a.y) * ny;
  let any = 0;
  for (let w = 0, i = 0; w < SAMPLE_WORDS; w++) {
    let word = 0;
    for (let bit = 0; bit < 32; bit++, i++) {
      const far = across + SAMPLE_X[i] * nx + SAMPLE_Y[i] * ny;
      word |= (far < a.r && far > -a.r ? 1 : 0) << bit;
    }
    words[w] = word;
    any |= word;
  }
  return any !== 0;
}

/** Sets the bits of the samples inside. @returns whether there are any. */
function sampleTexel({ a, b, dx, dy, lengthSquared }: Capsule, x: number, y: number): boolean {
  const [px, py] = [x - a.x, y - a.y];
  const taper = b.r - a.r;
  const perLength = lengthSquared > 0 ? 1 / lengthSquared : 0;
  let any = 0;
  for (let w = 0, i = 0; w < SAMPLE_WORDS; w++) {
    let word = 0;
    for (let bit = 0; bit < 32; bit++, i++) {
      const sx = px + SAMPLE_X[i];
      const sy = py + SAMPLE_Y[i];
      let t = (sx * dx + sy * dy) * perLength;
      t = t < 0 ? 0 : t > 1 ? 1 : t;
      const ox = sx - t * dx;
      const oy = sy - t * dy;
      const r = a.r + t * taper;
      word |= (ox * ox + oy * oy < r * r ? 1 : 0) << bit;
    }
    words[w] = word;
    any |= word;
  }
  return any !== 0;
}

/** For a small disc alone: samples of a texel inside, as a share of {@link FULL}. */
export function sampledDisc({ x: cx, y: cy, r }: Disc, x: number, y: number): number {
  let count = 0;
  for (let i = 0; i < SAMPLES; i++) {
    const sx = x + SAMPLE_X[i] - cx;
    const sy = y + SAMPLE_Y[i] - cy;
    if (sx * sx + sy * sy < r * r) count++;
  }
  return count === SAMPLES ? FULL : count * 256;
}
