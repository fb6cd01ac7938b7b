import { oklabDistance, oklabFromBytes } from '../colour/oklab.ts';
import type { Mask, Picture } from '../raster/raster.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';
import { filteredColourMips } from './filtered-mips.ts';
import { colourMips, maskMips } from './mips.ts';

/** How far the filtered edge of a level is from the subject's own colour. */
export interface HaloLevel {
  width: number;
  height: number;
  /** Mean OKLab distance over the kept texels that cover dropped ones; 0 where there are none. */
  away: number;
}

/** Below this size an edge is all there is. */
const SMALLEST = 16;

/**
 * What plain averaging draws into the edge of each mip level, beside the same weighted by alpha, which takes nothing from
 * dropped texels (Porter, Duff 1984: premultiplied values are the ones to be averaged).
 *
 * @param threshold - Alpha byte from which a texel is kept.
 */
export function haloOf(colour: Picture, mask: Mask, threshold: number): HaloLevel[] {
  const plain = colourMips(colour);
  const own = filteredColourMips(withAlphaOf(colour, mask), { filter: 'box' });
  return maskMips(mask)
    .filter((level) => Math.min(level.width, level.height) >= SMALLEST)
    .map((level, k) => ({
      width: level.width,
      height: level.height,
      away: meanAway(plain[k], own[k], level, threshold),
    }));
}

/** Mean OKLab distance in the filtered edge from which it shows as a line around the subject. */
export const HALO_SEEN = 0.042;
/** More are not told apart. */
const MOST_PLACES = 40_000;

/** Texels by their index in rows of `width`. */
export interface Places {
  width: number;
  height: number;
  texels: Int32Array;
}

/**
 * Where the colour lies that a level draws into its edge: dropped texels that are far from the subject's own colour there.
 *
 * @param at - Sides of the level.
 */
export function haloPlaces(
  colour: Picture,
  mask: Mask,
  threshold: number,
  at: { width: number; height: number },
): Places {
  const k = maskMips(mask).findIndex((level) => level.width === at.width && level.height === at.height);
  const [level, plain] = [maskMips(mask)[k], colourMips(colour)[k]];
  const own = filteredColourMips(withAlphaOf(colour, mask), { filter: 'box' })[k];
  const { width, height, data } = mask;
  const texels: number[] = [];
  for (let i = 0; i < level.data.length; i++) {
    if (!isEdge(level.data[i], threshold)) continue;
    const subject = lab(own, i);
    if (oklabDistance(lab(plain, i), subject) < HALO_SEEN) continue;
    const [x, y] = [i % level.width, Math.floor(i / level.width)];
    const [x0, x1] = [x, x + 1].map((v) => Math.floor((v * width) / level.width));
    const [y0, y1] = [y, y + 1].map((v) => Math.floor((v * height) / level.height));
    for (let v = y0; v < y1; v++) {
      for (let u = x0, j = v * width + x0; u < x1; u++, j++) {
        if (data[j] < threshold && oklabDistance(lab(colour, j), subject) > 2 * HALO_SEEN) texels.push(j);
      }
    }
  }
  const each = Math.ceil(texels.length / MOST_PLACES);
  return { width, height, texels: Int32Array.from(each > 1 ? texels.filter((_, i) => i % each === 0) : texels) };
}

/** Whether a kept texel covers dropped ones. */
const isEdge = (alpha: number, threshold: number) => alpha >= threshold && alpha < 255;

function meanAway(plain: Picture, own: Picture, { data }: Mask, threshold: number): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < data.length; i++) {
    if (!isEdge(data[i], threshold)) continue;
    sum += oklabDistance(lab(plain, i), lab(own, i));
    count++;
  }
  return count > 0 ? sum / count : 0;
}

function lab({ data }: Picture, i: number) {
  return oklabFromBytes(data[4 * i], data[4 * i + 1], data[4 * i + 2]);
}
