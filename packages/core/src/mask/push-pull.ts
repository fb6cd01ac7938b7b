import { asWords, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/** A level of the pyramid: red, green, blue and weight of every texel. */
interface Level {
  width: number;
  height: number;
  texels: Float32Array;
}

/**
 * Colours spread smoothly into the texels that are not trusted: pull and push of S. Gortler, R. Grzeszczuk,
 * R. Szeliski, M. Cohen, "The Lumigraph" (1996), §3.4. Pull: every level is the weighted mean of the one below it, its
 * weight cut off at 1. Push: from the smallest level on, what a weight leaves open is filled from the level above, read
 * between its texels by straight lines. Trusted texels stay as they are. In encoded values: these colours are never
 * seen by themselves.
 *
 * @param threshold - Alpha, 1–255, from which a texel's own colour counts.
 * @param takes - Whether a texel that is not trusted takes a colour; without it all do.
 * @param out - Words that receive the colours; alpha there stays, and the colour of texels that take none.
 * @returns false where no texel is trusted.
 */
export function pushPull(
  picture: Picture,
  mask: Mask,
  threshold: number,
  env: Pick<Work, 'bands'>,
  out: Uint32Array,
  takes?: (i: number) => boolean,
): boolean {
  const levels = pull(picture, mask.data, threshold, env);
  const last = levels.at(-1)!;
  if (last.texels[3] === 0) return false;
  for (let k = levels.length - 2; k >= 0; k--) push(levels[k + 1], levels[k]);
  const [first] = levels;
  const { width, height } = picture;
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) fillRow(first, mask.data, threshold, width, y, out, takes);
  });
  return true;
}

function fillRow(
  { width: wide, height: tall, texels }: Level,
  alpha: Uint8Array,
  threshold: number,
  width: number,
  y: number,
  out: Uint32Array,
  takes?: (i: number) => boolean,
): void {
  const v = y >> 1;
  const own = v * wide;
  const next = Math.min(tall - 1, Math.max(0, v + (y & 1 ? 1 : -1))) * wide;
  for (let x = 0, i = y * width; x < width; x++, i++) {
    if (alpha[i] >= threshold || (takes && !takes(i))) continue;
    const u = x >> 1;
    const beside = x & 1 ? (u + 1 < wide ? u + 1 : u) : u > 0 ? u - 1 : u;
    const a = 4 * (own + u);
    const b = 4 * (own + beside);
    const c = 4 * (next + u);
    const d = 4 * (next + beside);
    const red = (9 * texels[a] + 3 * (texels[b] + texels[c]) + texels[d]) * 0.0625 + 0.5;
    const green = (9 * texels[a + 1] + 3 * (texels[b + 1] + texels[c + 1]) + texels[d + 1]) * 0.0625 + 0.5;
    const blue = (9 * texels[a + 2] + 3 * (texels[b + 2] + texels[c + 2]) + texels[d + 2]) * 0.0625 + 0.5;
    out[i] = (out[i] & 0xff000000) | (blue << 16) | (green << 8) | red;
  }
}

const half = (n: number) => (n + 1) >> 1;

/** Level 1 and on, down to one texel. Sides are halved and rounded up: the last texel of an odd side stands alone. */
function pull(picture: Picture, alpha: Uint8Array, threshold: number, env: Pick<Work, 'bands'>): Level[] {
  const levels = [pullFirst(picture, alpha, threshold, env)];
  for (let level = levels[0]; level.width > 1 || level.height > 1; levels.push(level)) level = pullNext(level);
  return levels;
}

function pullFirst(
  { width, height, data }: Picture,
  alpha: Uint8Array,
  threshold: number,
  env: Pick<Work, 'bands'>,
): Level {
  const words = asWords(data);
  const level = emptyLevel(half(width), half(height));
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) addRow(words, alpha, threshold, width, y, level);
  });
  saturate(level);
  return level;
}

function addRow(
  words: Uint32Array,
  alpha: Uint8Array,
  threshold: number,
  width: number,
  y: number,
  { width: wide, texels }: Level,
): void {
  for (let x = 0, i = y * width, row = 4 * (y >> 1) * wide; x < width; x++, i++) {
    if (alpha[i] < threshold) continue;
    const w = words[i];
    const o = row + 4 * (x >> 1);
    texels[o] += w & 255;
    texels[o + 1] += (w >>> 8) & 255;
    texels[o + 2] += (w >>> 16) & 255;
    texels[o + 3] += 1;
  }
}

function pullNext({ width, height, texels }: Level): Level {
  const level = emptyLevel(half(width), half(height));
  for (let y = 0, i = 0; y < height; y++) {
    const row = (y >> 1) * level.width;
    for (let x = 0; x < width; x++, i += 4) {
      const weight = texels[i + 3];
      if (weight === 0) continue;
      const o = 4 * (row + (x >> 1));
      level.texels[o] += weight * texels[i];
      level.texels[o + 1] += weight * texels[i + 1];
      level.texels[o + 2] += weight * texels[i + 2];
      level.texels[o + 3] += weight;
    }
  }
  saturate(level);
  return level;
}

function emptyLevel(width: number, height: number): Level {
  return { width, height, texels: new Float32Array(4 * width * height) };
}

/** Sums to means; a weight of 1 is enough. */
function saturate({ texels }: Level): void {
  for (let i = 0; i < texels.length; i += 4) {
    const weight = texels[i + 3];
    if (weight === 0) continue;
    texels[i] /= weight;
    texels[i + 1] /= weight;
    texels[i + 2] /= weight;
    if (weight > 1) texels[i + 3] = 1;
  }
}

/** Fills a level from the next smaller one, which is full. */
function push(from: Level, to: Level): void {
  const { width, height, texels } = to;
  const at = new Float64Array(3);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const weight = texels[i + 3];
      if (weight === 1) continue;
      between(from, x, y, at);
      for (let c = 0; c < 3; c++) texels[i + c] = weight * texels[i + c] + (1 - weight) * at[c];
      texels[i + 3] = 1;
    }
  }
}

/** The colour of a level at the place of texel (x, y) of the level twice its size: 9 : 3 : 3 : 1. */
function between({ width, height, texels }: Level, x: number, y: number, out: Float64Array): void {
  const u = x >> 1;
  const v = y >> 1;
  const beside = Math.min(width - 1, Math.max(0, u + (x & 1 ? 1 : -1)));
  const above = Math.min(height - 1, Math.max(0, v + (y & 1 ? 1 : -1)));
  const a = 4 * (v * width + u);
  const b = 4 * (v * width + beside);
  const c = 4 * (above * width + u);
  const d = 4 * (above * width + beside);
  for (let k = 0; k < 3; k++) {
    out[k] = (9 * texels[a + k] + 3 * (texels[b + k] + texels[c + k]) + texels[d + k]) / 16;
  }
}
