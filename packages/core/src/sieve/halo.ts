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

function meanAway(plain: Picture, own: Picture, { data }: Mask, threshold: number): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < data.length; i++) {
    if (data[i] < threshold || data[i] === 255) continue;
    sum += oklabDistance(lab(plain, i), lab(own, i));
    count++;
  }
  return count > 0 ? sum / count : 0;
}

function lab({ data }: Picture, i: number) {
  return oklabFromBytes(data[4 * i], data[4 * i + 1], data[4 * i + 2]);
}
