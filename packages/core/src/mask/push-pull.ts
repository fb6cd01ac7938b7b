import type { Mask, Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { bytesIn, floatsIn, kernels, layOut, wholesIn, wordsIn } from '../simd/simd.ts';

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
  fill(first, mask, threshold, env, out, takes);
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
  const [w, h] = [half(width), half(height)];
  const texels = new Uint16Array(4 * w * h);
  const { pullRow } = kernels();
  const slots = layOut({ words: 4 * width, alpha: width, sums: 8 * w });
  const [rgba, own, sums] = [bytesIn(slots.words), bytesIn(slots.alpha), wordsIn(slots.sums)];
  env.bands(h, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      sums.fill(0);
      for (let row = 2 * y; row < Math.min(height, 2 * y + 2); row++) {
        own.set(alpha.subarray(row * width, (row + 1) * width));
        rgba.set(data.subarray(4 * row * width, 4 * (row + 1) * width));
        pullRow(slots.words.at, slots.alpha.at, threshold, slots.sums.at, width);
      }
      texels.set(sums, 4 * y * w);
    }
  });
  return { width: w, height: h, texels };
}

/** Halves sums of up to four: a weight of 1 is enough. */
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

/** The row beside that of a level which is twice as tall: the one above for its even rows, the one below for its odd ones. */
const besideOf = (y: number, height: number) => Math.min(height - 1, Math.max(0, (y >> 1) + (y & 1 ? 1 : -1)));

/** The same for the largest level, whose weights are all or nothing; its colours become sixteenths. */
function pushFirst(from: Level, { width, height, texels }: FirstLevel): void {
  const { pushRow } = kernels();
  const wide = 4 * from.width;
  const slots = layOut({ own: 4 * wide, next: 4 * wide, vert: 4 * (wide + 8), texels: 8 * width });
  const [own, next, row] = [floatsIn(slots.own), floatsIn(slots.next), wordsIn(slots.texels)];
  for (let y = 0; y < height; y++) {
    const beside = besideOf(y, from.height);
    own.set(from.texels.subarray((y >> 1) * wide, ((y >> 1) + 1) * wide));
    next.set(from.texels.subarray(beside * wide, (beside + 1) * wide));
    row.set(texels.subarray(4 * y * width, 4 * (y + 1) * width));
    pushRow(slots.own.at, slots.next.at, slots.vert.at, from.width, slots.texels.at, width);
    texels.set(row, 4 * y * width);
  }
}

/** The colour of a level at the place of texel (x, y) of the level twice its size: 9 : 3 : 3 : 1. */
function between({ width, height, texels }: Level, x: number, y: number, out: Float64Array): void {
  const u = x >> 1;
  const v = y >> 1;
  const beside = besideOf(x, width);
  const above = besideOf(y, height);
  const a = 4 * (v * width + u);
  const b = 4 * (v * width + beside);
  const c = 4 * (above * width + u);
  const d = 4 * (above * width + beside);
  out[0] = (9 * texels[a] + 3 * (texels[b] + texels[c]) + texels[d]) / 16;
  out[1] = (9 * texels[a + 1] + 3 * (texels[b + 1] + texels[c + 1]) + texels[d + 1]) / 16;
  out[2] = (9 * texels[a + 2] + 3 * (texels[b + 2] + texels[c + 2]) + texels[d + 2]) / 16;
}

/** The texels of the picture that are not trusted, between those of the largest level. */
function fill(
  { width: wide, height: tall, texels }: FirstLevel,
  { width, height, data }: Mask,
  threshold: number,
  env: Pick<Work, 'bands'>,
  out: Uint32Array,
  takes?: (i: number) => boolean,
): void {
  const { fillRow } = kernels();
  const line = 4 * wide;
  const slots = layOut({ own: 2 * line, next: 2 * line, vert: 2 * (line + 8), alpha: width, words: 4 * width });
  const [own, next, alpha] = [wordsIn(slots.own), wordsIn(slots.next), bytesIn(slots.alpha)];
  const row = wholesIn(slots.words);
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      const start = y * width;
      const beside = besideOf(y, tall);
      own.set(texels.subarray((y >> 1) * line, ((y >> 1) + 1) * line));
      next.set(texels.subarray(beside * line, (beside + 1) * line));
      alpha.set(data.subarray(start, start + width));
      if (takes) for (let x = 0; x < width; x++) if (!takes(start + x)) alpha[x] = 255;
      row.set(out.subarray(start, start + width));
      fillRow(
        ...([slots.own.at, slots.next.at, slots.vert.at, wide] as const),
        ...([slots.alpha.at, threshold, slots.words.at, width] as const),
      );
      out.set(row, start);
    }
  });
}
