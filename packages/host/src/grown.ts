import { allocateHeap, growRecipe, type GrownSource, type Recipe } from '@lithe-sieve/core';
import type { TipPictures } from './tip-pictures.ts';

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
