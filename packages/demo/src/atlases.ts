import {
  evaluateRun,
  growRecipe,
  makeMask,
  makeRecipe,
  makeStep,
  partOf,
  STARTING_POINTS,
  toRgba8,
  type CardSet,
  type Part,
} from '@lithe-sieve/core';
import { drawLeafScan } from './leaf.ts';

export interface DemoAtlas {
  name: string;
  /** Metres. */
  cardWidth: number;
  /** Texels. */
  width: number;
  height: number;
  set?: CardSet;
  parts: { name: string; metres: number; copies?: number; part: Part }[];
}

/** Atlases of the boardwalk, drawn one at a time. */
export const DEMO_ATLASES: readonly (() => DemoAtlas)[] = [
  () => ({
    name: 'Leaf atlas',
    cardWidth: 0.4,
    width: 1024,
    height: 1024,
    parts: [301, 1207, 1871, 2206, 2630, 3017, 4111, 5003].map((seed, k) => {
      const part = leafPart(seed, 512);
      return { name: `Sea-aster leaf ${k + 1}`, metres: part.share * (0.12 - 0.009 * k), copies: k < 4 ? 2 : 3, part };
    }),
  }),
  () => ({
    name: 'Mane in three layers',
    cardWidth: 1.2,
    width: 2048,
    height: 1024,
    set: { kind: 'layered', cards: 3, apart: 0.06, byRegion: true },
    parts: [6, 21, 48].map((seed, k) => {
      const part = manePart(seed, 1024, 1100 - 300 * k);
      return { name: ['Under layer', 'Middle layer', 'Top layer'][k], metres: part.share * 0.6, part };
    }),
  }),
];

/** A scanned leaf, cut out, bled, and with a normal map of its own. */
function leafPart(seed: number, side: number): Part {
  const { colour, mask } = drawLeafScan(seed, side);
  const run = [
    makeStep('cut', 'from-channel', { sourceId: 'mask', channel: 'luminance' }),
    makeStep('bleed', 'bleed'),
    makeStep('edge', 'height-from-edge', { width: 40 }),
    makeStep('veins', 'height-from-veins', { lift: 0.6, width: 3 }),
    makeStep('normal', 'normal-from-height', { depth: 2.5 }),
    makeStep('translucency', 'translucency', { full: 70 }),
  ];
  const sources = [
    { id: 'colour', sha256: 'colour', picture: toRgba8(colour) },
    { id: 'mask', sha256: 'mask', picture: toRgba8(mask) },
  ];
  return partOf(evaluateRun(run, { sources, cardWidth: 0.12 }));
}

/** A layer of the pony's mane, of fewer strands the further in front it lies. */
function manePart(seed: number, side: number, strands: number): Part {
  const point = STARTING_POINTS.find((p) => p.recipe.kind === 'strands');
  const params = point?.recipe.kind === 'strands' ? point.recipe.params : {};
  const recipe = makeRecipe('strands', { ...params, seed, width: side, height: side, strands });
  const allocate = (bytes: number) => new Uint8Array(bytes);
  const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);
  const { picture, maps } = growRecipe(recipe, { scale: 1, allocate, bands });
  const alpha = picture.data.filter((_, i) => i % 4 === 3);
  return partOf({ colour: picture, mask: makeMask(side, side, alpha), maps });
}
