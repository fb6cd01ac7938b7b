import { linearToSrgb } from '../colour/srgb.ts';
import type { SourceFacts } from './source-facts.ts';
import { recipeKind } from '../recipe/grow.ts';
import type { Recipe } from '../recipe/recipe.ts';
import { linearOf } from '../recipe/tints.ts';

/** What a recipe holds, said as of a file: a picture with alpha, of the size that it is grown at. */
export function recipeFacts(recipe: Recipe): SourceFacts {
  const { width, height, kind, params } = recipe;
  const [r, g, b] = linearOf(recipeKind(kind).ground(params)).map((v) => Math.floor(linearToSrgb(v) * 255 + 0.5));
  return {
    format: 'recipe',
    width,
    height,
    channels: 4,
    bitDepth: 8,
    palette: false,
    alpha: 'present',
    grey: false,
    blackOrWhite: 0,
    border: { colour: [r, g, b], share: 0, spread: 0 },
    notes: [],
  };
}
