import { allocateHeap, type Allocate, type Picture, type Raster } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';

/** Colour with the mask as its alpha. */
export function withMaskAsAlpha(
  { colour, mask }: Pick<RunState, 'colour' | 'mask'>,
  allocate: Allocate = allocateHeap,
): Picture {
  return withAlphaOf(colour, mask, allocate);
}

/** Colour without any alpha. */
export function withoutAlpha(colour: Picture, allocate: Allocate = allocateHeap): Raster {
  const { width, height, data } = colour;
  const out = allocate(width * height * 3);
  for (let i = 0, o = 0; o < out.length; i += 4, o += 3) {
    out[o] = data[i];
    out[o + 1] = data[i + 1];
    out[o + 2] = data[i + 2];
  }
  return { width, height, channels: 3, data: out };
}
