import { SieveError } from '../errors.ts';
import { keptBox } from '../mask/kept-box.ts';
import { makePicture, type Picture } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';

/** Alpha from which a texel belongs to a part. */
const THERE = 8;

/**
 * What a piece comes to, for growing from: its colour with the mask as alpha, trimmed to what is there.
 *
 * @throws {@link SieveError} `unsupported` where the mask keeps nothing.
 */
export function partOf({ colour, mask }: Pick<RunState, 'colour' | 'mask'>): Picture {
  const box = keptBox(mask, THERE);
  if (!box)
    throw new SieveError(
      'unsupported',
      'The mask of this piece keeps nothing.',
      'Choose a piece that keeps something.',
    );
  const whole = withAlphaOf(colour, mask);
  const [width, height] = [box.x1 - box.x0, box.y1 - box.y0];
  const data = new Uint8Array(4 * width * height);
  for (let y = 0; y < height; y++) {
    const from = 4 * ((box.y0 + y) * whole.width + box.x0);
    data.set(whole.data.subarray(from, from + 4 * width), 4 * width * y);
  }
  return makePicture(width, height, data);
}
