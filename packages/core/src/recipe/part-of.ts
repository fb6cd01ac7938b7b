import { SieveError } from '../errors.ts';
import { keptBox } from '../mask/kept-box.ts';
import type { Box } from '../raster/box.ts';
import { makePicture, type Picture, type Raster, type Samples } from '../raster/raster.ts';
import { frameOf, type RunState } from '../raster/run-state.ts';
import { withAlphaOf } from '../raster/with-alpha.ts';
import { PART_MAPS, type PartMap } from './part.ts';

/** Alpha from which a texel belongs to a part. */
export const PART_THERE = 8;

/** What a piece comes to, for growing from, trimmed to what is there. */
export interface Part {
  /** Its colour with the mask as alpha. */
  picture: Picture;
  /** Its maps, four channels of 16 bits: normal to the right and up, height, translucency; null where it makes none. */
  relief: Raster<Uint16Array> | null;
  maps: PartMap[];
  /** Its width as a share of that of the piece's card. */
  share: number;
}

/**
 * Takes a part of a piece.
 *
 * @throws {@link SieveError} `unsupported` where the mask keeps nothing.
 */
export function partOf(state: RunState): Part {
  const { colour, mask } = state;
  const box = keptBox(mask, PART_THERE);
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
  const maps = PART_MAPS.filter((map) => state.maps.has(map));
  return {
    picture: makePicture(width, height, data),
    relief: maps.length > 0 ? reliefOf(state, box) : null,
    maps,
    share: (frameOf(state).share * width) / colour.width,
  };
}

const NEUTRAL = [32768, 32768, 32768, 0];

function reliefOf({ maps }: RunState, { x0, y0, x1, y1 }: Box): Raster<Uint16Array> {
  const [width, height] = [x1 - x0, y1 - y0];
  const data = new Uint16Array(4 * width * height);
  for (let i = 0; i < data.length; i++) data[i] = NEUTRAL[i & 3];
  const lay = (raster: Raster<Samples> | undefined, from: number, to: number) => {
    if (!raster) return;
    const factor = raster.data instanceof Uint16Array ? 1 : 257;
    for (let y = y0, o = to; y < y1; y++) {
      let i = (y * raster.width + x0) * raster.channels + from;
      for (let x = x0; x < x1; x++, o += 4, i += raster.channels) data[o] = raster.data[i] * factor;
    }
  };
  lay(maps.get('normal'), 0, 0);
  lay(maps.get('normal'), 1, 1);
  lay(maps.get('height'), 0, 2);
  lay(maps.get('translucency'), 0, 3);
  return { width, height, channels: 4, data };
}
