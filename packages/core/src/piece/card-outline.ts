import type { PictureCutOut } from '../card/kinds.ts';
import {
  fittedOutline,
  outlineCurve,
  type FittedOutline,
  type OutlineSettings,
} from '../card/outline/fitted-outline.ts';
import type { CardOutline } from '../card/outline/card-outline.ts';
import type { Mask } from '../raster/raster.ts';
import { maskMips } from '../sieve/mips.ts';
import type { Material, PieceDoc } from './piece-doc.ts';

type OutlinedDoc = Pick<PieceDoc, 'outline' | 'material' | 'mesh'>;

/** How the card of a document is cut; null where it is not: where alpha is ignored all of it shows, a mesh is not cut. */
export function outlineWanted({ outline, material, mesh }: OutlinedDoc): CardOutline | null {
  return outline && !mesh && material.mode !== 'opaque' ? outline : null;
}

/** Alpha below which nothing of a texel shows; where it blends, that is the least there is. */
export function shownFrom({ mode, cutoff, opacity }: Material): Pick<OutlineSettings, 'cutoff' | 'opacity'> {
  return mode === 'blend' ? { cutoff: 1 / 255, opacity: 1 } : { cutoff, opacity };
}

/** The outline that a card is cut to. @param mask - Full size. */
export function outlineOfCard(mask: Mask, outline: CardOutline, material: Material): FittedOutline {
  return fittedOutline(mask, { ...settingsOf(mask, outline, material), corners: outline.corners });
}

/** The outlines to choose from; see {@link outlineCurve}. */
export function outlinesOfCard(mask: Mask, outline: CardOutline, material: Material): ReturnType<typeof outlineCurve> {
  return outlineCurve(mask, settingsOf(mask, outline, material));
}

function settingsOf(mask: Mask, { holes, downTo }: CardOutline, material: Material): Omit<OutlineSettings, 'corners'> {
  return { ...shownFrom(material), holes, levels: [mask, ...maskMips(mask).slice(1, downTo + 1)] };
}

/** An outline as the card takes it. */
export function cutOutOf({ polygons, holes }: FittedOutline, mask: { width: number; height: number }): PictureCutOut {
  const shares = (of: FittedOutline['polygons'][0]) => of.map(({ x, y }) => [x / mask.width, y / mask.height] as const);
  return { polygons: polygons.map(shares), holes: holes.map(shares) };
}
