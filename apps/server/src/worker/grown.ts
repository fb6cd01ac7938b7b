import { allocateHeap, growRecipe, halvingsTo, type GrownSource, type Recipe } from '@lithe-sieve/core';
import { PROXY_SIDE } from './inspect.ts';

/** A recipe drawn in this thread. */
export function grownAt(recipe: Recipe, scale: number): GrownSource {
  return growRecipe(recipe, { scale, allocate: allocateHeap, bands: (height, rows) => rows(0, height) });
}

/** The same at the size of a proxy. */
export function grownProxy(recipe: Recipe) {
  const { picture, maps } = grownAt(recipe, 0.5 ** halvingsTo(PROXY_SIDE, recipe));
  const { width, height, data } = picture;
  return { width, height, rgba: data, values: data, samples: data, maps };
}
