import { allocateHeap, growRecipe, halvingsTo, type GrownSource, type Recipe } from '@lithe-sieve/core';
import type { TipPictures } from './decode-tips.ts';

/** Rows between reports. */
const BAND = 256;

/** A recipe drawn in this thread. */
export function grownAt(
  recipe: Recipe,
  scale: number,
  { pictureOf, reliefOf }: TipPictures,
  report: (share: number) => void = () => undefined,
): GrownSource {
  const work = {
    scale,
    allocate: allocateHeap,
    checkpoint: report,
    bands(height: number, rows: (y0: number, y1: number) => void) {
      for (let y = 0; y < height; y += BAND) {
        report(y / height);
        rows(y, Math.min(height, y + BAND));
      }
    },
  };
  return growRecipe(recipe, work, { pictureOf, reliefOf });
}

/** The same at the size of a summary, or of its own proxy where that is smaller. */
export function grownProxy(recipe: Recipe, scale: number, parts: TipPictures, side: number) {
  const { picture, maps } = grownAt(recipe, Math.min(scale, 0.5 ** halvingsTo(side, recipe)), parts);
  const { width, height, data } = picture;
  return { width, height, rgba: data, values: data, samples: data, maps };
}
