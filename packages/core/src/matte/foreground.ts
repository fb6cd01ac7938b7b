import { byteOfLinear16Table } from '../colour/srgb.ts';
import { asWords, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { MIXED_VALUES, type Mixing } from './mixing.ts';

/** From the paper: how much neighbours count at equal alpha, and how much more where alpha changes between them. */
const LEAST_WEIGHT = 1e-5;
const BY_GRADIENT = 1;
/** Longer sides up to this are gone over oftener. */
const SMALL = 32;
const ROUNDS_SMALL = 10;
const ROUNDS = 2;

/** Foreground and background of a level, 8-bit words 0xaabbggrr. */
interface Level {
  width: number;
  height: number;
  colour: Uint32Array;
  alpha: Uint8Array;
  front: Uint32Array;
  back: Uint32Array;
}

/**
 * The colours of subject and backdrop under every texel of a picture, given its alpha: T. Germer, T. Uelwer, S. Conrad,
 * S. Harmeling, "Fast Multi-Level Foreground Estimation" (2020). From one texel up, each level starts from the one
 * before and makes α F + (1 − α) B meet the picture while F and B change little, least where alpha is even.
 *
 * Wholly kept texels are their own foreground and dropped ones their own backdrop, so that only the fringe is solved:
 * a hundredth of the texels of most masks.
 *
 * @param mixed - The values in which they add up. @returns The foreground of every texel as words; alpha is the picture's.
 */
export function estimateForeground(
  colour: Picture,
  mask: Mask,
  env: Work,
  mixed: Mixing = 'encoded values',
): Uint32Array {
  const values = MIXED_VALUES[mixed];
  const encode = mixed === 'linear light' ? byteOfLinear16Table() : null;
  const { width, height } = colour;
  const sides = [{ width, height }];
  for (let s = sides[0]; s.width > 1 || s.height > 1;) {
    s = { width: Math.max(1, (s.width + 1) >> 1), height: Math.max(1, (s.height + 1) >> 1) };
    sides.push(s);
  }
  let level: Level | null = null;
  for (let k = sides.length - 1; k >= 0; k--) {
    env.checkpoint(k === 0 ? 0.5 : 0.4 * (1 - k / sides.length));
    const next = pick(colour, mask, sides[k]);
    start(next, level);
    const fringe = mixedTexels(next.alpha);
    const rounds = Math.max(next.width, next.height) <= SMALL ? ROUNDS_SMALL : ROUNDS;
    for (let r = 0; r < rounds; r++) solve(next, fringe, values, encode);
    level = next;
  }
  return level!.front;
}

/** The texel in the middle of each cell, as the paper does: averages would mix what is to be separated. */
function pick(colour: Picture, mask: Mask, { width, height }: { width: number; height: number }): Level {
  const words = asWords(colour.data);
  const full = width === colour.width && height === colour.height;
  const empty = () => new Uint32Array(width * height);
  if (full) return { width, height, colour: words, alpha: mask.data, front: empty(), back: empty() };
  const level = {
    width,
    height,
    colour: empty(),
    alpha: new Uint8Array(width * height),
    front: empty(),
    back: empty(),
  };
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.min(colour.height - 1, Math.floor(((y + 0.5) * colour.height) / height)) * colour.width;
    for (let x = 0; x < width; x++, i++) {
      const at = row + Math.min(colour.width - 1, Math.floor(((x + 0.5) * colour.width) / width));
      level.colour[i] = words[at];
      level.alpha[i] = mask.data[at];
    }
  }
  return level;
}

/** From the level before; what is sure is taken from the picture. */
function start({ width, height, colour, alpha, front, back }: Level, before: Level | null): void {
  for (let y = 0, i = 0; y < height; y++) {
    const row = before
      ? Math.min(before.height - 1, Math.floor(((y + 0.5) * before.height) / height)) * before.width
      : 0;
    for (let x = 0; x < width; x++, i++) {
      const at = before ? row + Math.min(before.width - 1, Math.floor(((x + 0.5) * before.width) / width)) : 0;
      front[i] = alpha[i] === 255 || !before ? colour[i] : before.front[at];
      back[i] = alpha[i] === 0 || !before ? colour[i] : before.back[at];
    }
  }
}

function mixedTexels(alpha: Uint8Array): Int32Array {
  let count = 0;
  for (const v of alpha) if (v > 0 && v < 255) count++;
  const out = new Int32Array(count);
  for (let i = 0, o = 0; o < count; i++) if (alpha[i] > 0 && alpha[i] < 255) out[o++] = i;
  return out;
}

/** One round over the mixed texels: of each a linear system of two unknowns a channel. */
function solve(
  { width, height, colour, alpha, front, back }: Level,
  fringe: Int32Array,
  values: Float64Array,
  encode: Uint8Array | null,
): void {
  const beside = new Int32Array(4);
  for (const i of fringe) {
    const x = i % width;
    const y = (i - x) / width;
    beside[0] = x > 0 ? i - 1 : i;
    beside[1] = x + 1 < width ? i + 1 : i;
    beside[2] = y > 0 ? i - width : i;
    beside[3] = y + 1 < height ? i + width : i;
    const a = alpha[i] / 255;
    let sum = 0;
    let fr = 0;
    let fg = 0;
    let fb = 0;
    let br = 0;
    let bg = 0;
    let bb = 0;
    for (let k = 0; k < 4; k++) {
      const j = beside[k];
      const step = a - alpha[j] / 255;
      const weight = LEAST_WEIGHT + BY_GRADIENT * (step < 0 ? -step : step);
      const f = front[j];
      const b = back[j];
      sum += weight;
      fr += weight * values[f & 255];
      fg += weight * values[(f >>> 8) & 255];
      fb += weight * values[(f >>> 16) & 255];
      br += weight * values[b & 255];
      bg += weight * values[(b >>> 8) & 255];
      bb += weight * values[(b >>> 16) & 255];
    }
    const rest = 1 - a;
    const p = a * a + sum;
    const q = a * rest;
    const s = rest * rest + sum;
    const scale = 1 / (p * s - q * q);
    const c = colour[i];
    const own = c & 0xff000000;
    const r = values[c & 255];
    const g = values[(c >>> 8) & 255];
    const u = values[(c >>> 16) & 255];
    front[i] =
      own |
      (byteOf(encode, scale * (s * (a * u + fb) - q * (rest * u + bb))) << 16) |
      (byteOf(encode, scale * (s * (a * g + fg) - q * (rest * g + bg))) << 8) |
      byteOf(encode, scale * (s * (a * r + fr) - q * (rest * r + br)));
    back[i] =
      own |
      (byteOf(encode, scale * (p * (rest * u + bb) - q * (a * u + fb))) << 16) |
      (byteOf(encode, scale * (p * (rest * g + bg) - q * (a * g + fg))) << 8) |
      byteOf(encode, scale * (p * (rest * r + br) - q * (a * r + fr)));
  }
}

/** The byte of a value 0–255: itself, or encoded by a table. */
function byteOf(encode: Uint8Array | null, v: number): number {
  if (v <= 0) return 0;
  if (v >= 255) return 255;
  return encode ? encode[(257 * v + 0.5) | 0] : (v + 0.5) | 0;
}
