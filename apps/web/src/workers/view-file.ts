import {
  coverageAt,
  histogram,
  makeMask,
  RowSampler,
  withMaskAsAlpha,
  writePng,
  type Mask,
  type Picture,
} from '@lithe-sieve/core';
import { VIEW_SIDE } from '@lithe-sieve/contract';
import { deflateHere } from './layered';

/** Share of what is kept. */
const FAR_OFF = 0.25;

/**
 * Colour and alpha of a result at view size, as a PNG: what the piece opens with, until it is computed again. Thin parts
 * that are clipped vanish in averages, or close up: there single texels show what is kept.
 *
 * @param colours - Levels, level 0 first. @param masks - Of the same sides.
 */
export async function viewFile(
  colours: readonly Picture[],
  masks: readonly Mask[],
  threshold: number,
): Promise<Uint8Array> {
  const at = masks.findIndex((l) => Math.max(l.width, l.height) <= VIEW_SIDE);
  const [whole, small] = [masks[0], masks[at]].map((m) => coverageAt(histogram(m), threshold));
  const mask = Math.abs(small - whole) > FAR_OFF * whole ? sampled(masks[0], at) : masks[at];
  return writePng(withMaskAsAlpha({ colour: colours[at], mask }), deflateHere);
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
