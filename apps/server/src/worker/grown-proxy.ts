import { halvingsTo, type Recipe } from '@lithe-sieve/core';
import { grownAt, type TipPictures } from '@lithe-sieve/host';

/** A recipe at the size of a summary, or of its own proxy where that is smaller. */
export function grownProxy(recipe: Recipe, scale: number, parts: TipPictures, side: number) {
  const { picture, maps } = grownAt(recipe, Math.min(scale, 0.5 ** halvingsTo(side, recipe)), parts);
  const { width, height, data } = picture;
  return { width, height, rgba: data, values: data, samples: data, maps };
}
