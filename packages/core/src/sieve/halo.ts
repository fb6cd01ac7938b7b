import { oklabDistance, oklabFromBytes } from '../colour/oklab.ts';
import type { Mask, Picture } from '../raster/raster.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';
import { filteredColourMips } from './filtered-mips.ts';
import { colourMips, maskMips } from './mips.ts';

/** How far the filtered edge of a level is from the subject's own colour. */
interface HaloLevel {
  width: number;
  height: number;
  /** Mean OKLab distance over the kept texels that cover dropped ones; 0 where there are none. */
  away: number;
}

/** Below this size an edge is all there is. */
const SMALLEST = 16;

/** Mean OKLab distance in the filtered edge from which it shows as a line around the subject. */
const HALO_SEEN = 0.042;
/** More are not told apart. */
const MOST_PLACES = 40_000;

/** Texels by their index in rows of `width`. */
export interface Places {
  width: number;
  height: number;
  texels: Int32Array;
}

export interface Halo {
  levels: HaloLevel[];
  /** The level whose edge is farthest off; of no size where there is none. */
  worst: HaloLevel;
  /** Where the colour lies that it draws into its edge; null where no halo is seen. */
  from: Places | null;
}

/**
 * What plain averaging draws into the edge of each mip level, beside the same weighted by alpha, which takes nothing from
 * dropped texels (Porter, Duff 1984: premultiplied values are the ones to be averaged).
 *
 * @param threshold - Alpha byte from which a texel is kept.
 */
export function haloOf(colour: Picture, mask: Mask, threshold: number): Halo {
  const plain = colourMips(colour);
  const own = filteredColourMips(withAlphaOf(colour, mask), { filter: 'box' });
  const edges = maskMips(mask)
    .filter((level) => Math.min(level.width, level.height) >= SMALLEST)
    .map((level, k): Edge => ({ level, plain: plain[k], own: own[k] }));
  const levels = edges.map((edge) => {
    const { width, height } = edge.level;
    return { width, height, away: meanAway(edge, threshold) };
  });
  const worst = levels.reduce((a, b) => (b.away > a.away ? b : a), { width: 0, height: 0, away: 0 });
  const from = worst.away < HALO_SEEN ? null : placesOf(colour, mask, threshold, edges[levels.indexOf(worst)]);
  return { levels, worst, from };
}

/** A level of the mask, its colour by plain averages, and by averages of the subject alone. */
interface Edge {
  level: Mask;
  plain: Picture;
  own: Picture;
}

/** Dropped texels under the edge of a level that are far from the subject's own colour there. */
function placesOf(colour: Picture, mask: Mask, threshold: number, { level, plain, own }: Edge): Places {
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

function meanAway({ level: { data }, plain, own }: Edge, threshold: number): number {
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
