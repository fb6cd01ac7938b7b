import { allocateHeap, growRecipe, type Picture, type Recipe } from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import { beat } from './beat';
import type { Thumb } from './types';

const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);

/** Small pictures of recipes, beside the workers of the run. */
const growWorker = {
  attach: beat,
  /**
   * @param side - Of its longer side, pixels.
   * @param parts - Pictures of its parts, by the SHA-256 of their files.
   */
  thumb(recipe: Recipe, side: number, parts: ReadonlyMap<string, Picture>): Thumb {
    const scale = Math.min(1, side / Math.max(recipe.width, recipe.height));
    const how = { withMaps: false, pictureOf: (part: string) => parts.get(part) };
    const { picture } = growRecipe(recipe, { scale, allocate: allocateHeap, bands }, how);
    const { width, height, data } = picture;
    return { width, height, rgba: new Uint8ClampedArray(data.buffer as ArrayBuffer, data.byteOffset, data.length) };
  },
};
export type GrowWorker = typeof growWorker;

Comlink.expose(growWorker);
