import type { Mask } from '../../raster/raster.ts';
import { taps } from '../taps.ts';
import { roomOf, type EdgeRoom } from './edge-room.ts';
import { between, halfSize, isEven, type Reach } from './reach.ts';

/** Gives the means of a level to the four texels above each of its own: first what moves no edge, then what is allowed. */
export function handDown(level: Reach, finer: Reach): void {
  if (isEven(finer, level)) handDownEven(level, finer);
  else handDownByTaps(level, finer);
}

function handDownEven(level: Reach, finer: Reach): void {
  const { width, mean } = finer;
  for (let y = 0, o = 0; y < level.height; y++) {
    let i = 2 * y * width;
    for (const end = o + level.width; o < end; o++, i += 2) {
      const j = i + width;
      const by = 4 * level.mean[o] - (mean[i] + mean[i + 1] + mean[j] + mean[j + 1]);
      if (by > -3 && by < 3) continue;
      if (by > 0) moveFour(mean, finer.highFree, finer.high, i, j, by, 1);
      else moveFour(mean, finer.lowFree, finer.low, i, j, -by, -1);
    }
  }
}

/** Moves four means towards `most`, by `size` in all: in proportion to what is free, and only then to the rest. */
function moveFour(
  mean: Uint16Array,
  free: Uint16Array,
  most: Uint16Array,
  i: number,
  j: number,
  size: number,
  way: number,
): void {
  const a = way * (most[i] - mean[i]);
  const b = way * (most[i + 1] - mean[i + 1]);
  const c = way * (most[j] - mean[j]);
  const d = way * (most[j + 1] - mean[j + 1]);
  const ea = between(way * (free[i] - mean[i]), 0, a);
  const eb = between(way * (free[i + 1] - mean[i + 1]), 0, b);
  const ec = between(way * (free[j] - mean[j]), 0, c);
  const ed = between(way * (free[j + 1] - mean[j + 1]), 0, d);
  const easy = ea + eb + ec + ed;
  const rest = a + b + c + d - easy;
  const q = size < easy ? size / easy : 1;
  const r = size <= easy || rest <= 0 ? 0 : Math.min(1, (size - easy) / rest);
  mean[i] += way * (q * ea + r * (a - ea));
  mean[i + 1] += way * (q * eb + r * (b - eb));
  mean[j] += way * (q * ec + r * (c - ec));
  mean[j + 1] += way * (q * ed + r * (d - ed));
}

/** Sweeps over a level at most, and how far off a mean may stay, in 256ths. */
const SWEEPS = 16;
const CLOSE = 16;

/**
 * Sides that do not halve evenly share texels between means: each mean in turn moves what it is made of, until all are met
 * (projection onto convex sets: every move stays within what is allowed, so that the sweeps do not run away).
 */
function handDownByTaps(level: Reach, finer: Reach): void {
  const across = taps(finer.width, level.width);
  const down = taps(finer.height, level.height);
  const now = Float64Array.from(finer.mean);
  const texels = new Int32Array(9);
  const weights = new Float64Array(9);
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let furthest = 0;
    for (let n = 0; n < level.mean.length; n++) {
      const o = sweep % 2 ? level.mean.length - 1 - n : n;
      const [x, y] = [o % level.width, Math.floor(o / level.width)];
      let count = 0;
      let missing = level.mean[o];
      for (let k = 0; k < 9; k++) {
        const j = Math.floor(k / 3);
        const weight = down.weight[3 * y + j] * across.weight[3 * x + k - 3 * j];
        if (weight === 0) continue;
        texels[count] = (down.step * y + j) * finer.width + across.step * x + k - 3 * j;
        weights[count] = weight;
        missing -= weight * now[texels[count++]];
      }
      furthest = Math.max(furthest, Math.abs(missing));
      if (Math.abs(missing) >= 1) moveTowards(finer, now, texels, weights, count, missing);
    }
    if (furthest < CLOSE) break;
  }
  for (let i = 0; i < now.length; i++) finer.mean[i] = now[i] + 0.5;
}

/** Moves texels by `missing` in all, each counted by its weight: what is free first, then what is allowed. */
function moveTowards(
  finer: Reach,
  now: Float64Array,
  texels: Int32Array,
  weights: Float64Array,
  count: number,
  missing: number,
): void {
  const free = missing > 0 ? finer.highFree : finer.lowFree;
  const most = missing > 0 ? finer.high : finer.low;
  for (const limit of [free, most]) {
    let room = 0;
    for (let k = 0; k < count; k++)
      room += weights[k] * roomTo(limit[texels[k]], now[texels[k]], most[texels[k]], missing);
    if (room === 0) continue;
    const part = Math.max(-1, Math.min(1, missing / room));
    for (let k = 0; k < count; k++) {
      const by = Math.abs(part) * roomTo(limit[texels[k]], now[texels[k]], most[texels[k]], missing);
      now[texels[k]] += by;
      missing -= weights[k] * by;
    }
    if (Math.abs(missing) < 1) return;
  }
}

/** From a value to a limit, not past what is allowed; 0 where that lies the other way. */
function roomTo(limit: number, now: number, most: number, way: number): number {
  return way > 0 ? Math.max(0, Math.min(limit, most) - now) : Math.min(0, Math.max(limit, most) - now);
}

/** Gives the means of level 1 to the texels of a mask whose sides are even. No texel changes side. */
export function writeBlocks({ mean }: Reach, mask: Mask, { rooms, threshold }: EdgeRoom, out: Uint8Array): void {
  const { width, data } = mask;
  const { width: across, height: down } = halfSize(mask);
  for (let y = 0, o = 0; y < down; y++) {
    const above = y > 0 ? width : 0;
    const below = y < down - 1 ? width : 0;
    let i = 2 * y * width;
    let j = i + width;
    let a = data[i];
    let c = data[j];
    let left = a;
    let leftBelow = c;
    for (const end = o + across - 1; o <= end; o++, i += 2, j += 2) {
      const b = data[i + 1];
      const d = data[j + 1];
      const right = o < end ? data[i + 2] : b;
      const rightBelow = o < end ? data[j + 2] : d;
      const by = (mean[o] << 2) - ((a + b + c + d) << 8);
      if (by > -128 && by < 128) {
        out[i] = a;
        out[i + 1] = b;
        out[j] = c;
        out[j + 1] = d;
      } else {
        const way = by >> 31; // −1 to fall, 0 to rise
        const shift = way & 8;
        const ra = roomOf(rooms, threshold, a, left, b, data[i - above], c) >>> shift;
        const rb = roomOf(rooms, threshold, b, a, right, data[i + 1 - above], d) >>> shift;
        const rc = roomOf(rooms, threshold, c, leftBelow, d, a, data[j + below]) >>> shift;
        const rd = roomOf(rooms, threshold, d, c, rightBelow, b, data[j + 1 + below]) >>> shift;
        const summed = (ra & 0xff00ff) + (rb & 0xff00ff) + (rc & 0xff00ff) + (rd & 0xff00ff);
        const easy = summed & 0xffff;
        const rest = (summed >>> 16) - easy;
        const size = (by ^ way) - way;
        const over = size - (easy << 8);
        const q = over <= 0 ? (size * ONE_OVER[easy]) | 0 : PART;
        const r = over <= 0 ? 0 : over >= rest << 8 ? PART : (over * ONE_OVER[rest]) | 0;
        let sum = partOf(ra, q, r) + PART / 2;
        const r0 = sum >> 16;
        sum += partOf(rb, q, r);
        const r1 = sum >> 16;
        sum += partOf(rc, q, r);
        const r2 = sum >> 16;
        sum += partOf(rd, q, r);
        out[i] = a + ((r0 ^ way) - way);
        out[i + 1] = b + (((r1 - r0) ^ way) - way);
        out[j] = c + (((r2 - r1) ^ way) - way);
        out[j + 1] = d + ((((sum >> 16) - r2) ^ way) - way);
      }
      left = b;
      leftBelow = d;
      a = right;
      c = rightBelow;
    }
  }
}

const PART = 65536;
/** 256 / n; sizes are in 256ths, parts in 65536ths. */
const ONE_OVER = Float64Array.from({ length: 1021 }, (_, n) => (n === 0 ? 0 : 256 / n));

/** What a texel moves: `q` of the room that is not noticed, `r` of the rest; whole numbers, so that none is passed. */
function partOf(room: number, q: number, r: number): number {
  const easy = room & 255;
  return Math.imul(q, easy) + Math.imul(r, ((room >>> 16) & 255) - easy);
}
