import { nearestTexels } from '../mask/nearest.ts';
import { asWords, makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/**
 * Texels within `margin` of the other side are not sure: their colour may be mixed.
 *
 * @returns 255 at sure kept texels, 0 at sure dropped ones, 128 between.
 */
export function threeWays(mask: Mask, margin: number, env: Pick<Work, 'allocate' | 'bands'>): Mask {
  const { width, height, data } = mask;
  const out = env.allocate(data.length);
  const kept = nearestTexels(mask, { threshold: 128, reach: margin + 1 }, env);
  env.bands(height, (y0, y1) => markFar(kept, width, margin, 0, out, y0, y1));
  const dropped = nearestTexels(mask, { threshold: 128, below: true, reach: margin + 1 }, env);
  env.bands(height, (y0, y1) => markFar(dropped, width, margin, 255, out, y0, y1));
  return makeMask(width, height, out);
}

/** Writes `value` where the nearest texel of the other side is farther than the margin; 128 where nothing is yet. */
function markFar(
  nearest: Int32Array,
  width: number,
  margin: number,
  value: number,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  const far = margin * margin;
  for (let y = y0; y < y1; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const at = nearest[i];
      if (at === i) {
        if (value === 0) out[i] = 128; // its own side: the second pass tells
        continue;
      }
      const sy = at < 0 ? 0 : Math.floor(at / width);
      const dx = x - (at - sy * width);
      const dy = y - sy;
      out[i] = at < 0 || dx * dx + dy * dy > far ? value : 128;
    }
  }
}

/**
 * Alpha of unsure texels from colour: with F the colour of the nearest sure kept texel and B that of the nearest sure
 * dropped one, C is taken as α F + (1 − α) B, and α is the foot of C on the line from B to F. Sure texels are 0 or 255.
 * Where F and B are too alike to tell, the mask stays as it was.
 */
export function alphaFromColours(colour: Picture, mask: Mask, sure: Mask, env: Pick<Work, 'allocate' | 'bands'>): Mask {
  const { width, height, data } = mask;
  const kept = nearestTexels(sure, { threshold: 255 }, env);
  const dropped = nearestTexels(sure, { threshold: 1, below: true }, env);
  const out = env.allocate(data.length);
  const words = asWords(colour.data);
  env.bands(height, (y0, y1) => project(words, data, sure.data, kept, dropped, out, y0 * width, y1 * width));
  return makeMask(width, height, out);
}

const LEAST_CONTRAST = 12 * 12; // of bytes: below, grain decides

function project(
  words: Uint32Array,
  own: Uint8Array,
  sure: Uint8Array,
  kept: Int32Array,
  dropped: Int32Array,
  out: Uint8Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const s = sure[i];
    if (s === 255 || s === 0 || kept[i] < 0 || dropped[i] < 0) {
      out[i] = s === 255 || s === 0 ? s : own[i];
      continue;
    }
    const c = words[i];
    const f = words[kept[i]];
    const b = words[dropped[i]];
    const fr = (f & 255) - (b & 255);
    const fg = ((f >>> 8) & 255) - ((b >>> 8) & 255);
    const fb = ((f >>> 16) & 255) - ((b >>> 16) & 255);
    const length = fr * fr + fg * fg + fb * fb;
    if (length < LEAST_CONTRAST) {
      out[i] = own[i];
      continue;
    }
    const dot =
      ((c & 255) - (b & 255)) * fr +
      (((c >>> 8) & 255) - ((b >>> 8) & 255)) * fg +
      (((c >>> 16) & 255) - ((b >>> 16) & 255)) * fb;
    const v = (255 * dot) / length + 0.5;
    out[i] = v < 0 ? 0 : v > 255 ? 255 : v;
  }
}
