import type { Mask, Picture, Raster, Samples } from '@lithe-sieve/core';
import { cutOut } from '../../components/cut-out';

/** Longer side of the picture of a start, at the most. */
const SIDE = 96;

/** The result of a piece, small, as a PNG in a data URL. */
export function pictureOf(colours: readonly Raster<Samples>[], masks: readonly Mask[]): string {
  const colour = colours.find(({ width, height }) => Math.max(width, height) <= SIDE) ?? colours.at(-1);
  const mask = masks.find(({ width, height }) => width === colour?.width && height === colour.height);
  const canvas = document.createElement('canvas');
  if (colour && mask) {
    const { width, height, rgba } = cutOut(colour as Picture, mask);
    [canvas.width, canvas.height] = [width, height];
    canvas.getContext('2d')?.putImageData(new ImageData(rgba, width, height), 0, 0);
  }
  return canvas.toDataURL('image/png');
}
