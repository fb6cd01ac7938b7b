import type { PictureCutOut } from '../card/kinds.ts';
import {
  fittedOutline,
  outlineCurve,
  OUTLINE_CORNERS,
  type FittedOutline,
  type OutlinePoint,
  type OutlineSettings,
} from '../card/outline/fitted-outline.ts';
import {
  asByHand,
  cornerAdded,
  cornerMoved,
  cornerRemoved,
  keptOutside,
  outlineByHand,
  type CornerAt,
} from '../card/outline/by-hand.ts';
import type { CardOutline, OutlineByHand } from '../card/outline/card-outline.ts';
import { thresholdByte } from '../math/threshold.ts';
import { setCards } from '../card/set.ts';
import { regionOutline, type CardRegion } from '../card/outline/regions.ts';
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
  if (outline.byHand) return outlineByHand(outline.byHand, mask);
  return fittedOutline(mask, { ...settingsOf(mask, outline, material), corners: outline.corners });
}

/** The outlines to choose from; see {@link outlineCurve}. */
export function outlinesOfCard(mask: Mask, outline: CardOutline, material: Material): ReturnType<typeof outlineCurve> {
  return outlineCurve(mask, settingsOf(mask, outline, material));
}

/** What is done to a corner by hand. */
export type CornerChange = CornerAt &
  ({ do: 'move'; to: OutlinePoint } | { do: 'add'; to?: OutlinePoint } | { do: 'remove' });

/** The outline after that, as far as it may be; null where it may not. See {@link cornerMoved}. */
export function outlineChanged(
  mask: Mask,
  shown: FittedOutline,
  outline: CardOutline,
  material: Material,
  change: CornerChange,
): OutlineByHand | null {
  const count = [...shown.polygons, ...shown.holes].reduce((sum, { length }) => sum + length, 0);
  if (change.do === 'add' && count >= OUTLINE_CORNERS.max) return null;
  const settings = { ...settingsOf(mask, outline, material), corners: outline.corners };
  const cuts = outline.cuts ?? false;
  const moved = (from: FittedOutline, at: CornerAt, to: OutlinePoint) =>
    cornerMoved(mask, from, at, nearPicture(to, mask), settings, cuts);
  const changed = (): FittedOutline | null => {
    if (change.do === 'move') return moved(shown, change, change.to);
    if (change.do === 'remove') return cornerRemoved(mask, shown, change, settings, cuts);
    const added = cornerAdded(shown, change);
    return change.to ? moved(added, { ...change, corner: change.corner + 1 }, change.to) : added;
  };
  const made = changed();
  return made && asByHand(made, mask);
}

/** At most as far beyond the picture as it is wide and high. */
function nearPicture({ x, y }: OutlinePoint, { width, height }: Mask): OutlinePoint {
  return { x: Math.min(2 * width, Math.max(-width, x)), y: Math.min(2 * height, Math.max(-height, y)) };
}

/** Kept texels that a card's outline leaves out. */
export function outlineLoses(mask: Mask, shown: FittedOutline, material: Material): number {
  const { cutoff, opacity } = shownFrom(material);
  return keptOutside(mask, shown, thresholdByte(cutoff, opacity ?? 1));
}

function settingsOf(mask: Mask, { holes, downTo }: CardOutline, material: Material): Omit<OutlineSettings, 'corners'> {
  return { ...shownFrom(material), holes, levels: [mask, ...maskMips(mask).slice(1, downTo + 1)] };
}

/** How the cards of a piece are cut. */
export interface CardCut {
  /** Of all, in texels of the texture. */
  outline: FittedOutline;
  /** Of a card that shows the whole picture. */
  cutOut?: PictureCutOut;
  /** Of cards that show a part of an atlas each. */
  regionCutOuts?: PictureCutOut[];
  /** Texels² of what is cut: the picture, or the rectangles of the parts. */
  whole: number;
}

/**
 * The outline that cards are cut to; where they show a part of an atlas each, one for each part.
 *
 * @param mask - Full size. @param regions - See {@link cardRegions}, of which the first have cards; none where all show the whole picture.
 */
export function cutOfCard(
  mask: Mask,
  outline: CardOutline,
  material: Material,
  regions: readonly CardRegion[],
): CardCut {
  if (regions.length === 0) {
    const made = outlineOfCard(mask, outline, material);
    return { outline: made, cutOut: cutOutOf(made, mask), whole: mask.width * mask.height };
  }
  const settings = { ...settingsOf(mask, outline, material), corners: outline.corners };
  const { cutoff, opacity } = shownFrom(material);
  const threshold = thresholdByte(cutoff, opacity ?? 1);
  const shown = regions.slice(0, setCards('along a line').max); // a set has no more cards
  const cut = shown.map((region) => regionOutline(mask, region, regions, threshold, settings));
  return {
    outline: {
      polygons: cut.flatMap((one) => one.outline.polygons),
      holes: cut.flatMap((one) => one.outline.holes),
      area: cut.reduce((sum, one) => sum + one.outline.area, 0),
    },
    regionCutOuts: cut.map((one) => one.shares),
    whole: cut.reduce((sum, one) => sum + one.whole, 0),
  };
}

/** An outline as the card takes it. */
export function cutOutOf({ polygons, holes }: FittedOutline, mask: { width: number; height: number }): PictureCutOut {
  const shares = (of: FittedOutline['polygons'][0]) => of.map(({ x, y }) => [x / mask.width, y / mask.height] as const);
  return { polygons: polygons.map(shares), holes: holes.map(shares) };
}
