import { makeMask, type Mask } from '../../raster/raster.ts';
import { taps } from '../taps.ts';
import { roomOf, type EdgeRoom } from './edge-room.ts';

/** Means are kept in 256ths of an alpha: 0 … 65280. */
export const UNIT = 256;
/** Rows between two looks whether the result is still wanted. */
const LOOK_ROWS = 128;
/** Shares are kept in 32768ths. */
export const WHOLE = 32768;

/** What the texels of a mip level can come to, each between all it can and what moves no edge; and what it should. */
export interface Reach {
  width: number;
  height: number;
  /** Lowest and highest mean that is allowed, in 256ths. */
  low: Uint16Array;
  high: Uint16Array;
  /** The same as long as no edge moves to be noticed. */
  lowFree: Uint16Array;
  highFree: Uint16Array;
  /** The mean that costs least; later the one that is handed down. */
  mean: Uint16Array;
  /** Share of level 0 that is kept, in 32768ths. */
  share: Uint16Array;
  /** 1 where the clip should keep. */
  kept: Uint8Array;
}

const FIELDS = ['low', 'high', 'lowFree', 'highFree', 'mean', 'share'] as const;

/** Bytes by which one array starts further into a memory page than the one before: all at one place share few cache lines. */
const STAGGER = 320;

function emptyReach(width: number, height: number): Reach {
  const texels = width * height;
  const bytes = Math.ceil((2 * texels) / 4096) * 4096 + STAGGER;
  const buffer = new ArrayBuffer(FIELDS.length * bytes + texels);
  const [low, high, lowFree, highFree, mean, share] = FIELDS.map((_, f) => new Uint16Array(buffer, f * bytes, texels));
  const kept = new Uint8Array(buffer, FIELDS.length * bytes, texels);
  return { width, height, low, high, lowFree, highFree, mean, share, kept };
}

export function halfSize({ width, height }: { width: number; height: number }): { width: number; height: number } {
  return { width: Math.max(1, width >> 1), height: Math.max(1, height >> 1) };
}

export function isEven(size: { width: number; height: number }, half: { width: number; height: number }): boolean {
  return size.width === 2 * half.width && size.height === 2 * half.height;
}

/** Level 0 itself, for sizes that do not halve evenly. */
export function reachOfTexels(mask: Mask, room: EdgeRoom): Reach {
  const { width, height, data } = mask;
  const out = emptyReach(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    const up = y > 0 ? width : 0;
    const down = y < height - 1 ? width : 0;
    for (let x = 0; x < width; x++, i++) {
      const v = data[i];
      const word = roomOf(
        room.rooms,
        room.threshold,
        v,
        data[x > 0 ? i - 1 : i],
        data[x < width - 1 ? i + 1 : i],
        data[i - up],
        data[i + down],
      );
      out.mean[i] = v * UNIT;
      out.highFree[i] = (v + (word & 255)) * UNIT;
      out.lowFree[i] = (v - ((word >>> 8) & 255)) * UNIT;
      out.high[i] = (v + ((word >>> 16) & 255)) * UNIT;
      out.low[i] = (v - (word >>> 24)) * UNIT;
      out.kept[i] = v >= room.threshold ? 1 : 0;
      out.share[i] = out.kept[i] * WHOLE;
    }
  }
  return out;
}

/** Level 1 of a mask whose sides are even, without the arrays of level 0. */
export function reachOfBlocks(mask: Mask, room: EdgeRoom, look?: () => void): Reach {
  const { width, data } = mask;
  const { width: across, height: down } = halfSize(mask);
  const out = emptyReach(across, down);
  const { threshold, rooms } = room;
  const { low, high, lowFree, highFree, mean, share } = out;
  for (let y = 0, o = 0; y < down; y++) {
    if (y % LOOK_ROWS === 0) look?.();
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
      const p = data[i - above];
      const q = data[i + 1 - above];
      const r = data[j + below];
      const s = data[j + 1 + below];
      const around =
        (a ^ left) | (a ^ leftBelow) | (a ^ right) | (a ^ rightBelow) | (a ^ p) | (a ^ q) | (a ^ r) | (a ^ s);
      let rises: number;
      let falls: number;
      if (((a ^ b) | (a ^ c) | (a ^ d) | around) === 0) {
        const word = rooms[(a << 8) | a]; // far from any edge, as most blocks are
        rises = (word & 0xff00ff) << 2;
        falls = ((word >>> 8) & 0xff00ff) << 2;
      } else {
        const ra = roomOf(rooms, threshold, a, left, b, p, c);
        const rb = roomOf(rooms, threshold, b, a, right, q, d);
        const rc = roomOf(rooms, threshold, c, leftBelow, d, a, r);
        const rd = roomOf(rooms, threshold, d, c, rightBelow, b, s);
        rises = (ra & 0xff00ff) + (rb & 0xff00ff) + (rc & 0xff00ff) + (rd & 0xff00ff);
        falls = ((ra >>> 8) & 0xff00ff) + ((rb >>> 8) & 0xff00ff) + ((rc >>> 8) & 0xff00ff) + ((rd >>> 8) & 0xff00ff);
      }
      const sum = a + b + c + d;
      mean[o] = sum << 6;
      highFree[o] = (sum + (rises & 0xffff)) << 6;
      high[o] = (sum + (rises >>> 16)) << 6;
      lowFree[o] = (sum - (falls & 0xffff)) << 6;
      low[o] = (sum - (falls >>> 16)) << 6;
      const dropped =
        ((a - threshold) >>> 31) + ((b - threshold) >>> 31) + ((c - threshold) >>> 31) + ((d - threshold) >>> 31);
      share[o] = (4 - dropped) * (WHOLE / 4);
      left = b;
      leftBelow = d;
      a = right;
      c = rightBelow;
    }
  }
  return out;
}

/** The level below a level: what its texels can come to follows from what theirs can. */
export function reachBelow(level: Reach): Reach {
  const { width, height } = halfSize(level);
  const out = emptyReach(width, height);
  if (isEven(level, out)) averageEven(level, out);
  else averageTapsOfAll(level, out);
  return out;
}

/** What the means of a level come to on the level below it, each moved to its side. */
export function averageMeans(level: Reach, below: Reach): void {
  if (isEven(level, below)) averageFour(level.mean, below, below.mean);
  else averageTaps(level.mean, level, below, below.mean);
  const { mean, low, high } = below;
  for (let i = 0; i < mean.length; i++) mean[i] = between(mean[i], low[i], high[i]);
}

/** Nine taps a texel, for all that a level holds at once. */
function averageTapsOfAll(level: Reach, out: Reach): void {
  const across = taps(level.width, out.width);
  const down = taps(level.height, out.height);
  const { width } = level;
  for (let y = 0, o = 0; y < out.height; y++) {
    const rows = [0, 1, 2].map((j) => down.weight[3 * y + j]);
    const used = rows[2] === 0 ? (rows[1] === 0 ? 1 : 2) : 3;
    for (let x = 0; x < out.width; x++, o++) {
      let [low, high, lowFree, highFree, mean, share] = [0.5, 0.5, 0.5, 0.5, 0.5, 0.5];
      for (let j = 0; j < used; j++) {
        for (let i = 0, at = (down.step * y + j) * width + across.step * x; i < 3; i++, at++) {
          const weight = rows[j] * across.weight[3 * x + i];
          if (weight === 0) continue;
          const m = level.mean[at];
          low += weight * level.low[at];
          high += weight * level.high[at];
          lowFree += weight * between(level.lowFree[at], level.low[at], m);
          highFree += weight * between(level.highFree[at], m, level.high[at]);
          mean += weight * m;
          share += weight * level.share[at];
        }
      }
      out.low[o] = low;
      out.high[o] = high;
      out.lowFree[o] = lowFree;
      out.highFree[o] = highFree;
      out.mean[o] = mean;
      out.share[o] = share;
    }
  }
}

/** What moves no edge is less where a side was chosen since: from the mean towards either end, not past it. */
function averageEven(level: Reach, out: Reach): void {
  const { low, high, lowFree, highFree, mean, share } = level;
  const { width, height } = out;
  for (let y = 0, o = 0; y < height; y++) {
    let i = 4 * y * width;
    let j = i + 2 * width;
    for (const end = o + width; o < end; o++, i += 2, j += 2) {
      out.low[o] = (low[i] + low[i + 1] + low[j] + low[j + 1] + 2) >> 2;
      out.high[o] = (high[i] + high[i + 1] + high[j] + high[j + 1] + 2) >> 2;
      out.mean[o] = (mean[i] + mean[i + 1] + mean[j] + mean[j + 1] + 2) >> 2;
      out.share[o] = (share[i] + share[i + 1] + share[j] + share[j + 1] + 2) >> 2;
      out.lowFree[o] =
        (between(lowFree[i], low[i], mean[i]) +
          between(lowFree[i + 1], low[i + 1], mean[i + 1]) +
          between(lowFree[j], low[j], mean[j]) +
          between(lowFree[j + 1], low[j + 1], mean[j + 1]) +
          2) >>
        2;
      out.highFree[o] =
        (between(highFree[i], mean[i], high[i]) +
          between(highFree[i + 1], mean[i + 1], high[i + 1]) +
          between(highFree[j], mean[j], high[j]) +
          between(highFree[j + 1], mean[j + 1], high[j + 1]) +
          2) >>
        2;
    }
  }
}

/** A value, but at least and at most these. */
export function between(value: number, least: number, most: number): number {
  return value < least ? least : value > most ? most : value;
}

/** The kept shares of level 1 where sides halve evenly, of level 0 elsewhere; in 32768ths. */
export function sharesOfTexels(mask: Mask, threshold: number): Uint16Array {
  const { width, data } = mask;
  const half = halfSize(mask);
  if (!isEven(mask, half)) return Uint16Array.from(data, (v) => (v >= threshold ? WHOLE : 0));
  const out = new Uint16Array(half.width * half.height);
  for (let y = 0, o = 0; y < half.height; y++) {
    let i = 2 * y * width;
    let j = i + width;
    for (const end = o + half.width; o < end; o++, i += 2, j += 2) {
      const dropped =
        ((data[i] - threshold) >>> 31) +
        ((data[i + 1] - threshold) >>> 31) +
        ((data[j] - threshold) >>> 31) +
        ((data[j + 1] - threshold) >>> 31);
      out[o] = (4 - dropped) * (WHOLE / 4);
    }
  }
  return out;
}

/** The shares of the level below. */
export function sharesBelow(shares: Uint16Array, size: { width: number; height: number }): Uint16Array {
  const half = halfSize(size);
  const out = new Uint16Array(half.width * half.height);
  if (isEven(size, half)) averageFour(shares, half, out);
  else averageTaps(shares, size, half, out);
  return out;
}

function averageFour(from: Uint16Array, { width, height }: { width: number; height: number }, out: Uint16Array): void {
  for (let y = 0, o = 0; y < height; y++) {
    let i = 4 * y * width;
    let j = i + 2 * width;
    for (const end = o + width; o < end; o++, i += 2, j += 2) {
      out[o] = (from[i] + from[i + 1] + from[j] + from[j + 1] + 2) >> 2;
    }
  }
}

function averageTaps(
  from: Uint16Array,
  size: { width: number; height: number },
  { width, height }: { width: number; height: number },
  out: Uint16Array,
): void {
  const across = taps(size.width, width);
  const down = taps(size.height, height);
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o++) {
      let sum = 0;
      for (let j = 0; j < 3; j++) {
        const wy = down.weight[3 * y + j];
        if (wy === 0) continue;
        const row = (down.step * y + j) * size.width + across.step * x;
        for (let i = 0; i < 3; i++) {
          const wx = across.weight[3 * x + i];
          if (wx !== 0) sum += wx * wy * from[row + i];
        }
      }
      out[o] = sum + 0.5;
    }
  }
}

/** The means of a level as 8-bit alphas. */
export function roundedMeans({ width, height, mean }: Reach, data: Uint8Array): Mask {
  for (let i = 0; i < data.length; i++) data[i] = (mean[i] + UNIT / 2) >> 8;
  return makeMask(width, height, data);
}
