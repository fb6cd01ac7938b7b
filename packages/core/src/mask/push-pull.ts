import { asWords, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/** A level of the pyramid: red, green, blue and weight of every texel. */
interface Level {
  width: number;
  height: number;
  texels: Float32Array;
}

/** The largest level in whole numbers: sums of the four texels of each, then its colours in sixteenths. */
interface FirstLevel {
  width: number;
  height: number;
  texels: Uint16Array;
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
  const first = pullFirst(picture, mask.data, threshold, env);
  const levels = [pullSecond(first)];
  for (let level = levels[0]; level.width > 1 || level.height > 1; levels.push(level)) level = pullNext(level);
  if (levels.at(-1)!.texels[3] === 0) return false;
  for (let k = levels.length - 2; k >= 0; k--) push(levels[k + 1], levels[k]);
  pushFirst(levels[0], first);
  const { width, height } = picture;
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) fillRow(first, mask.data, threshold, width, y, out, takes);
  });
  return true;
}

const half = (n: number) => (n + 1) >> 1;

/** Sides are halved and rounded up: the last texel of an odd side stands alone. */
function pullFirst(
  { width, height, data }: Picture,
  alpha: Uint8Array,
  threshold: number,
  env: Pick<Work, 'bands'>,
): FirstLevel {
  const words = asWords(data);
  const [w, h] = [half(width), half(height)];
  const level = { width: w, height: h, texels: new Uint16Array(4 * w * h) };
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) addRow(words, alpha, threshold, width, y, level);
  });
  return level;
}

function addRow(
  words: Uint32Array,
  alpha: Uint8Array,
  threshold: number,
  width: number,
  y: number,
  { width: wide, texels }: FirstLevel,
): void {
  const row = 4 * (y >> 1) * wide;
  for (let x = 0, i = y * width; x < width; x++, i++) {
    if (alpha[i] < threshold) continue;
    const w = words[i];
    const o = row + 4 * (x >> 1);
    texels[o] += w & 255;
    texels[o + 1] += (w >>> 8) & 255;
    texels[o + 2] += (w >>> 16) & 255;
    texels[o + 3]++;
  }
}

/** Of sums of up to four: a weight of 1 is enough. */
function pullSecond({ width, height, texels }: FirstLevel): Level {
  const level = emptyLevel(half(width), half(height));
  for (let y = 0, i = 0; y < height; y++) {
    const row = 4 * (y >> 1) * level.width;
    for (let x = 0; x < width; x++, i += 4) {
      const count = texels[i + 3];
      if (count === 0) continue;
      const share = 1 / count;
      const o = row + 4 * (x >> 1);
      level.texels[o] += share * texels[i];
      level.texels[o + 1] += share * texels[i + 1];
      level.texels[o + 2] += share * texels[i + 2];
      level.texels[o + 3] += 1;
    }
  }
  saturate(level);
  return level;
}

function pullNext({ width, height, texels }: Level): Level {
  const level = emptyLevel(half(width), half(height));
  for (let y = 0, i = 0; y < height; y++) {
    const row = 4 * (y >> 1) * level.width;
    for (let x = 0; x < width; x++, i += 4) {
      const weight = texels[i + 3];
      if (weight === 0) continue;
      const o = row + 4 * (x >> 1);
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

/** Sums to means. */
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

/** The same for the largest level, whose weights are all or nothing; its colours become sixteenths. */
function pushFirst(from: Level, { width, height, texels }: FirstLevel): void {
  const at = new Float64Array(3);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const count = texels[i + 3];
      if (count > 0) {
        const share = 16 / count;
        texels[i] = texels[i] * share + 0.5;
        texels[i + 1] = texels[i + 1] * share + 0.5;
        texels[i + 2] = texels[i + 2] * share + 0.5;
      } else {
        between(from, x, y, at);
        texels[i] = at[0] * 16 + 0.5;
        texels[i + 1] = at[1] * 16 + 0.5;
        texels[i + 2] = at[2] * 16 + 0.5;
      }
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
  out[0] = (9 * texels[a] + 3 * (texels[b] + texels[c]) + texels[d]) / 16;
  out[1] = (9 * texels[a + 1] + 3 * (texels[b + 1] + texels[c + 1]) + texels[d + 1]) / 16;
  out[2] = (9 * texels[a + 2] + 3 * (texels[b + 2] + texels[c + 2]) + texels[d + 2]) / 16;
}

/** The texels of a row of the picture, between those of the largest level. */
function fillRow(
  { width: wide, height: tall, texels }: FirstLevel,
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
    // in 256ths, rounded
    const red = Math.imul(9, texels[a]) + Math.imul(3, texels[b] + texels[c]) + texels[d] + 128;
    const green = Math.imul(9, texels[a + 1]) + Math.imul(3, texels[b + 1] + texels[c + 1]) + texels[d + 1] + 128;
    const blue = Math.imul(9, texels[a + 2]) + Math.imul(3, texels[b + 2] + texels[c + 2]) + texels[d + 2] + 128;
    out[i] = (out[i] & 0xff000000) | ((blue & 0xff00) << 8) | (green & 0xff00) | (red >>> 8);
  }
}
