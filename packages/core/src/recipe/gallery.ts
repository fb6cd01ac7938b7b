import { makeRecipe } from './grow.ts';
import type { Recipe } from './recipe.ts';

/** A recipe to start from, of things along the saltmarsh boardwalk. */
export interface StartingPoint {
  name: string;
  recipe: Recipe;
  /** Width of the card, metres. */
  cardWidth: number;
}

/** A weave whose card is as wide as it is measured in. */
function woven(name: string, params: Parameters<typeof makeRecipe<'weave'>>[1]): StartingPoint {
  const recipe = makeRecipe('weave', params);
  return { name, recipe, cardWidth: recipe.kind === 'weave' ? recipe.params.across / 1000 : 1 };
}

export const STARTING_POINTS: readonly StartingPoint[] = [
  { name: 'Cordgrass', recipe: makeRecipe('tuft', { seed: 11 }), cardWidth: 0.8 },
  {
    name: 'Meadow strip',
    recipe: makeRecipe('tuft', {
      seed: 5,
      width: 4096,
      height: 2048,
      blades: 420,
      strewing: 'over an area',
      fromX: 0.02,
      toX: 0.98,
      area: 0.08,
      envelope: [0.3, 0.62, 0.8, 0.7, 0.84, 0.66, 0.3],
      lean: 6,
      leanSpread: 14,
      bendTo: 45,
      bladeWidth: 0.006,
      clumps: 14,
      colour: [92, 122, 58],
      otherColour: [150, 158, 84],
    }),
    cardWidth: 1.6,
  },
  {
    name: 'Reed',
    recipe: makeRecipe('tuft', {
      seed: 3,
      width: 1024,
      height: 2048,
      blades: 26,
      fromX: 0.42,
      toX: 0.58,
      envelope: [0.55, 0.8, 0.95, 0.8, 0.55],
      lean: 9,
      bendFrom: 10,
      bendTo: 95,
      bladeWidth: 0.045,
      point: 0.85,
      torn: 0.12,
      clumping: 0,
      colour: [126, 132, 66],
      otherColour: [196, 176, 112],
    }),
    cardWidth: 0.6,
  },
  woven('Crab net', { pattern: 'diamond net', across: 900, pitch: 55, thick: 4, long: 13, uneven: 0.25, sag: 0.06 }),
  woven('Chain fence', {
    pattern: 'chain wire',
    across: 1000,
    pitch: 50,
    thick: 3.5,
    uneven: 0.04,
    seamless: true,
    colour: [150, 152, 150],
    otherColour: [186, 186, 180],
    weather: [128, 76, 42],
    weatherTo: 0.6,
  }),
  woven('Wattle hurdle', {
    pattern: 'wattle',
    across: 1800,
    pitch: 220,
    thick: 30,
    long: 46,
    uneven: 0.55,
    colour: [112, 88, 62],
    otherColour: [168, 140, 104],
  }),
  woven('Torn awning', {
    pattern: 'twill cloth',
    across: 240,
    pitch: 3.2,
    thick: 2.9,
    uneven: 0.2,
    torn: 0.16,
    colour: [166, 74, 58],
    otherColour: [206, 128, 96],
    weathered: 0.2,
  }),
  woven('Boardwalk planks', {
    pattern: 'planks',
    across: 1500,
    pitch: 150,
    thick: 138,
    uneven: 0.5,
    torn: 0.1,
    colour: [124, 112, 98],
    otherColour: [164, 152, 134],
  }),
  woven('Lattice', { pattern: 'lattice', across: 1200, pitch: 90, thick: 26, uneven: 0.1, seamless: true }),
  woven('Drain plate', {
    pattern: 'round holes, staggered',
    across: 300,
    pitch: 18,
    thick: 11,
    uneven: 0,
    seamless: true,
    colour: [96, 98, 100],
    otherColour: [132, 134, 134],
    weather: [134, 82, 46],
  }),
];
