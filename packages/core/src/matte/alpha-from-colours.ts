import { nearestTexels } from '../mask/nearest.ts';
import { asWords, makeMask, type Mask, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { MIXED_VALUES, MixingSearch, type FoundMixing, type MixedIn, type Mixing } from './mixing.ts';

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
 *
 * @param mixedIn - The values in which C was mixed, or found out from the texels that are not sure.
 */
export function alphaFromColours(
  colour: Picture,
  mask: Mask,
  sure: Mask,
  mixedIn: MixedIn,
  env: Pick<Work, 'allocate' | 'bands'>,
): { mask: Mask; found: FoundMixing | null } {
  const { width, height, data } = mask;
  const kept = nearestTexels(sure, { threshold: 255 }, env);
  const dropped = nearestTexels(sure, { threshold: 1, below: true }, env);
  const out = env.allocate(data.length);
  const words = asWords(colour.data);
  const found = mixedIn === 'found' ? findMixing(colour.data, sure.data, kept, dropped) : null;
  const values = MIXED_VALUES[found?.mixed ?? (mixedIn as Mixing)];
  env.bands(height, (y0, y1) => project(words, data, sure.data, kept, dropped, values, out, y0 * width, y1 * width));
  return { mask: makeMask(width, height, out), found };
}

/** Texels that are looked at to find out how they were mixed. */
const LOOKED = 40_000;

function findMixing(colour: Uint8Array, sure: Uint8Array, kept: Int32Array, dropped: Int32Array): FoundMixing {
  const unsure = (i: number) => sure[i] !== 0 && sure[i] !== 255 && kept[i] >= 0 && dropped[i] >= 0;
  let count = 0;
  for (let i = 0; i < sure.length; i++) if (unsure(i)) count++;
  const every = Math.max(1, Math.floor(count / LOOKED));
  const search = new MixingSearch();
  for (let i = 0, n = 0; i < sure.length; i++) {
    if (unsure(i) && n++ % every === 0) search.look(colour, i, colour, kept[i], colour, dropped[i]);
  }
  return search.found();
}

const LEAST_CONTRAST = 12 * 12; // of bytes: below, grain decides

function project(
  words: Uint32Array,
  own: Uint8Array,
  sure: Uint8Array,
  kept: Int32Array,
  dropped: Int32Array,
  values: Float64Array,
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
    const br = values[b & 255];
    const bg = values[(b >>> 8) & 255];
    const bb = values[(b >>> 16) & 255];
    const fr = values[f & 255] - br;
    const fg = values[(f >>> 8) & 255] - bg;
    const fb = values[(f >>> 16) & 255] - bb;
    const length = fr * fr + fg * fg + fb * fb;
    if (length < LEAST_CONTRAST) {
      out[i] = own[i];
      continue;
    }
    const dot =
      (values[c & 255] - br) * fr + (values[(c >>> 8) & 255] - bg) * fg + (values[(c >>> 16) & 255] - bb) * fb;
    const v = (255 * dot) / length + 0.5;
    out[i] = v < 0 ? 0 : v > 255 ? 255 : v;
  }
}
