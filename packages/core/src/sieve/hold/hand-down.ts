import type { Mask } from '../../raster/raster.ts';
import { taps } from '../taps.ts';
import { roomOf, type EdgeRoom } from './edge-room.ts';
import { between, halfSize, isEven, type Reach } from './reach.ts';

/** Gives the means of a level to the four texels above each of its own: first what moves no edge, then what is allowed. */
export function handDown(level: Reach, finer: Reach, checkpoint?: () => void): void {
  if (isEven(finer, level)) handDownEven(level, finer);
  else handDownByTaps(level, finer, checkpoint);
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

/** How far off a mean may stay, in 256ths. */
const CLOSE = 64;
/** From one time that it may be cancelled to the next. */
const ROWS = 64;

/** Sides that do not halve evenly share texels between means: each in turn moves what it is made of. See `settle` for the rest. */
function handDownByTaps(level: Reach, finer: Reach, checkpoint?: () => void): void {
  const { width: count, height } = level;
  const { width, mean } = finer;
  const across = taps(width, count);
  const down = taps(finer.height, height);
  const texels = new Int32Array(9);
  const weights = new Float64Array(9);
  for (let y = 0, o = 0; y < height; y++) {
    if (y % ROWS === 0) checkpoint?.();
    const top = down.step * y * width;
    const [b0, b1, b2] = down.weight.subarray(3 * y, 3 * y + 3);
    const second = b1 === 0 ? 0 : width; // a weight of nothing stands for no texel
    const third = b2 === 0 ? 0 : 2 * width;
    for (let x = 0; x < count; x++, o++) {
      const a0 = across.weight[3 * x];
      const a1 = across.weight[3 * x + 1];
      const a2 = across.weight[3 * x + 2];
      const right = a1 === 0 ? 0 : 1;
      const far = a2 === 0 ? 0 : 2;
      const p = top + across.step * x;
      const q = p + second;
      const r = p + third;
      const value =
        b0 * (a0 * mean[p] + a1 * mean[p + right] + a2 * mean[p + far]) +
        b1 * (a0 * mean[q] + a1 * mean[q + right] + a2 * mean[q + far]) +
        b2 * (a0 * mean[r] + a1 * mean[r + right] + a2 * mean[r + far]);
      const missing = level.mean[o] - value;
      if (missing > -CLOSE && missing < CLOSE) continue;
      setRow(texels, weights, 0, p, right, far, b0 * a0, b0 * a1, b0 * a2);
      setRow(texels, weights, 3, q, right, far, b1 * a0, b1 * a1, b1 * a2);
      setRow(texels, weights, 6, r, right, far, b2 * a0, b2 * a1, b2 * a2);
      if (missing > 0) moveTaps(mean, finer.highFree, finer.high, texels, weights, missing, 1);
      else moveTaps(mean, finer.lowFree, finer.low, texels, weights, -missing, -1);
    }
  }
}

/** Written out: an array made for every texel would be a third of the time. */
function setRow(
  texels: Int32Array,
  weights: Float64Array,
  k: number,
  at: number,
  right: number,
  far: number,
  first: number,
  second: number,
  third: number,
): void {
  texels[k] = at;
  texels[k + 1] = at + right;
  texels[k + 2] = at + far;
  weights[k] = first;
  weights[k + 1] = second;
  weights[k + 2] = third;
}

/** Moves texels by `size` in all, each counted by its weight: what is free first, then what is allowed. */
function moveTaps(
  mean: Uint16Array,
  free: Uint16Array,
  most: Uint16Array,
  texels: Int32Array,
  weights: Float64Array,
  size: number,
  way: number,
): void {
  let easy = 0;
  let all = 0;
  for (let k = 0; k < 9; k++) {
    const at = texels[k];
    const room = way * (most[at] - mean[at]);
    if (room <= 0 || weights[k] === 0) continue;
    all += weights[k] * room;
    easy += weights[k] * between(way * (free[at] - mean[at]), 0, room);
  }
  const q = size < easy ? size / easy : 1;
  const r = size <= easy || all <= easy ? 0 : Math.min(1, (size - easy) / (all - easy));
  for (let k = 0; k < 9; k++) {
    const at = texels[k];
    const room = way * (most[at] - mean[at]);
    if (room <= 0 || weights[k] === 0) continue;
    const unnoticed = between(way * (free[at] - mean[at]), 0, room);
    mean[at] += way * ((q * unnoticed + r * (room - unnoticed) + 0.5) | 0);
  }
}

/** Gives the means of level 1 to the texels of a mask whose sides are even. No texel changes side. */
export function writeBlocks(
  { mean }: Reach,
  mask: Mask,
  { rooms, threshold }: EdgeRoom,
  out: Uint8Array,
  look?: () => void,
): void {
  const { width, data } = mask;
  const { width: across, height: down } = halfSize(mask);
  for (let y = 0, o = 0; y < down; y++) {
    if (y % ROWS === 0) look?.();
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
