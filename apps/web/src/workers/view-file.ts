import { makeMask, RowSampler, withMaskAsAlpha, writePng, type Mask, type Picture } from '@lithe-sieve/core';
import { deflateHere } from './deflate-here';

/**
 * Colour and alpha of a result at view size, as a PNG: what the piece opens with, until it is computed again.
 *
 * @param colour - A level. @param mask - Of the same level, or level 0 where single texels of it are to show.
 * @param halvings - From that mask to the level.
 */
export function viewFile(colour: Picture, mask: Mask, halvings: number): Promise<Uint8Array> {
  return writePng(withMaskAsAlpha({ colour, mask: halvings > 0 ? sampled(mask, halvings) : mask }), deflateHere);
}

function sampled({ width, height, data }: Mask, halvings: number): Mask {
  const sampler = new RowSampler({ width, height }, halvings);
  const row = new Uint32Array(width);
  for (let y = 0; y < height; y++) {
    row.set(data.subarray(y * width, (y + 1) * width));
    sampler.row(y, row);
  }
  const picture = sampler.picture();
  return makeMask(
    picture.width,
    picture.height,
    picture.data.filter((_, i) => i % 4 === 0),
  );
}
