import type { PictureCutOut } from '../card/kinds.ts';
import {
  fittedOutline,
  holdsKept,
  outlineCurve,
  type FittedOutline,
  type OutlineSettings,
} from '../card/outline/fitted-outline.ts';
import { asByHand, cornerChanged, keptOutside, outlineByHand, type CornerChange } from '../card/outline/by-hand.ts';
import type { CardOutline, OutlineByHand, Places } from '../card/outline/card-outline.ts';
import { thresholdByte } from '../math/threshold.ts';
import { setCards } from '../card/set.ts';
import {
  holdsRegion,
  placeOn,
  regionByHand,
  regionOutline,
  regionSize,
  regionTexels,
  type CardRegion,
  type RegionOutline,
} from '../card/outline/regions.ts';
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

/** The outline after a change of a corner, as far as it may be; null where it may not. */
export function outlineChanged(
  mask: Mask,
  shown: FittedOutline,
  outline: CardOutline,
  material: Material,
  change: CornerChange,
): OutlineByHand | null {
  const settings = { ...settingsOf(mask, outline, material), corners: outline.corners };
  const holds = outline.cuts ? () => true : holdsKept(mask, settings);
  const made = cornerChanged(shown, change, holds, mask);
  return made && asByHand(made, mask);
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
 * @param known - Keeps the outlines of parts of this mask for the next time.
 */
export function cutOfCard(
  mask: Mask,
  outline: CardOutline,
  material: Material,
  regions: readonly CardRegion[],
  known: Map<string, RegionOutline> = new Map(),
): CardCut {
  if (regions.length === 0) {
    const made = outlineOfCard(mask, outline, material);
    return { outline: made, cutOut: cutOutOf(made, mask), whole: mask.width * mask.height };
  }
  const parts = partsOf(mask, outline, material, regions);
  const cut = shownOf(regions).map((region, k) => {
    const byHand = outline.parts?.[region.key];
    if (byHand) return regionByHand(region, byHand, mask.width);
    const { corners, holes, downTo } = outline;
    const key = JSON.stringify([corners, holes, downTo, parts.threshold, k, regions]);
    let made = known.get(key);
    if (!made) known.set(key, (made = regionOutline(mask, region, regions, parts.threshold, parts.settings)));
    return made;
  });
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

/** A set has no more cards. */
const shownOf = (regions: readonly CardRegion[]) => regions.slice(0, setCards('along a line').max);

function partsOf(mask: Mask, outline: CardOutline, material: Material, regions: readonly CardRegion[]) {
  const { cutoff, opacity } = shownFrom(material);
  const settings = { ...settingsOf(mask, outline, material), corners: outline.corners };
  return { settings, threshold: thresholdByte(cutoff, opacity ?? 1), shown: shownOf(regions) };
}

/**
 * The same as {@link outlineChanged} for cards that show a part of an atlas each.
 *
 * @param shown - As {@link cutOfCard} made it. @param change - In texels of the texture.
 */
export function partOutlineChanged(
  mask: Mask,
  shown: CardCut,
  outline: CardOutline,
  material: Material,
  regions: readonly CardRegion[],
  change: CornerChange,
): Record<string, OutlineByHand> | null {
  const at = partAt(shown.regionCutOuts ?? [], change.polygon);
  if (!at) return null;
  const region = regions[at.part];
  const { settings, threshold } = partsOf(mask, outline, material, regions);
  const size = regionSize(region, mask.width);
  const holds = outline.cuts ? () => true : holdsRegion(mask, region, regions, threshold, settings);
  const { polygons, holes } = shown.regionCutOuts![at.part];
  const from = outlineByHand({ polygons: polygons as Places[], holes: holes as Places[] }, size);
  const local = {
    ...change,
    polygon: at.polygon,
    ...('to' in change && change.to && { to: placeOn(region, change.to, mask.width) }),
  };
  const made = cornerChanged(from, local, holds, size);
  if (!made) return null;
  // those of parts that are no longer in the atlas go: they would fill the document up
  const kept = Object.entries(outline.parts ?? {}).filter(([key]) => regions.some((r) => r.key === key));
  return { ...Object.fromEntries(kept), [region.key]: asByHand(made, size) };
}

/** Polygons of all parts are counted first, then the holes of all. */
function partAt(cutOuts: readonly PictureCutOut[], polygon: number): { part: number; polygon: number } | null {
  let left = polygon;
  for (const kind of ['polygons', 'holes'] as const) {
    for (const [part, cutOut] of cutOuts.entries()) {
      if (left < cutOut[kind].length) return { part, polygon: left + (kind === 'holes' ? cutOut.polygons.length : 0) };
      left -= cutOut[kind].length;
    }
  }
  return null;
}

/** Kept texels that lie outside of what was set by hand of an outline. @param regions - As for {@link cutOfCard}. */
export function handCutLoses(
  mask: Mask,
  outline: CardOutline,
  material: Material,
  regions: readonly CardRegion[],
): number {
  if (regions.length > 0) return partsLose(mask, outline, material, regions);
  return outline.byHand ? outlineLoses(mask, outlineByHand(outline.byHand, mask), material) : 0;
}

function partsLose(mask: Mask, outline: CardOutline, material: Material, regions: readonly CardRegion[]): number {
  const { threshold, shown } = partsOf(mask, outline, material, regions);
  return shown.reduce((sum, region) => {
    const byHand = outline.parts?.[region.key];
    if (!byHand) return sum;
    const own = regionTexels(mask, region, regions, threshold);
    return sum + keptOutside(own, outlineByHand(byHand, own), 1);
  }, 0);
}

/** An outline as the card takes it. */
export function cutOutOf({ polygons, holes }: FittedOutline, mask: { width: number; height: number }): PictureCutOut {
  const shares = (of: FittedOutline['polygons'][0]) => of.map(({ x, y }) => [x / mask.width, y / mask.height] as const);
  return { polygons: polygons.map(shares), holes: holes.map(shares) };
}
