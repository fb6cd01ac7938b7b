import {
  allocateHeap,
  assertSameSize,
  asWords,
  makePicture,
  type Allocate,
  type Mask,
  type Picture,
} from './raster.ts';

/** A picture with a mask as its alpha. */
export function withAlphaOf(colour: Picture, mask: Mask, allocate: Allocate = allocateHeap): Picture {
  assertSameSize('colour and mask', colour, mask);
  const out = allocate(colour.data.length);
  const from = asWords(colour.data);
  const to = asWords(out);
  const alpha = mask.data;
  for (let i = 0; i < to.length; i++) to[i] = (from[i] & 0xffffff) | (alpha[i] << 24);
  return makePicture(colour.width, colour.height, out);
}
