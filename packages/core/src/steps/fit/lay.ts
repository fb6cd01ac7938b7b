import { SieveError } from '../../errors.ts';
import type { Placing } from '../../fit/placing.ts';
import { resampleMap } from '../../fit/resample.ts';
import { LIMITS } from '../../limits.ts';
import type { MapName } from '../../raster/maps.ts';
import type { Mask, Picture, Raster, Samples } from '../../raster/raster.ts';
import { frameOf, type RunState } from '../../raster/run-state.ts';
import type { MipFilter } from '../../sieve/mip-filters.ts';
import type { Applied, StepEnv } from '../step.ts';

/** Version of the steps that resample: since this one borders go on under a filter, and a box is an area. */
export const FIT_VERSION = 2;
export const FIT_BETTER = 'Borders stay as opaque as they are, and a box is averaged by area.';

/** What sides come to: as they are, or the next larger one that targets ask for (common practice). */
export const SIDES = ['any size', 'multiple of 4', 'power of two'] as const;
export type Sides = (typeof SIDES)[number];

export function sideOf(length: number, sides: Sides): number {
  const whole = Math.max(1, Math.ceil(length - 1e-6));
  if (sides === 'multiple of 4') return Math.ceil(whole / 4) * 4;
  if (sides === 'any size') return whole;
  let side = 1;
  while (side < whole) side *= 2;
  return side;
}

/** Alpha byte from which a texel counts as part of the subject when it is fitted. */
export const SUBJECT = 8;

/**
 * Every map of a state in its new place.
 *
 * @param full - In texels of the full size.
 * @throws {@link SieveError} `too-large`
 */
export function laid(state: RunState, full: Placing, sharp: MipFilter, env: StepEnv): Applied {
  const { width, height } = full;
  if (Math.max(width, height) > LIMITS.side || width * height > LIMITS.texels) {
    throw new SieveError(
      'too-large',
      `The texture would have ${width} × ${height} texels; ${LIMITS.side} a side are the most.`,
      'Choose a smaller size in this step.',
    );
  }
  const { scale } = env;
  const filter = env.draft ? 'triangle' : sharp;
  const here = scale === 1 ? full : atViewSize(full, scale);
  const before = frameOf(state, scale);
  const step = Math.sqrt(full.xx * full.xx + full.yx * full.yx); // texels before to one after
  const out = new Map<MapName, Raster<Samples>>();
  const exact = env.version >= FIT_VERSION;
  const mask = resampleMap('mask', state.mask, here, filter, env, exact) as Mask;
  const colour = resampleMap('colour', state.colour, here, filter, env, exact) as Picture;
  for (const [name, raster] of state.maps) {
    env.checkpoint((2 + out.size) / (2 + state.maps.size));
    out.set(name, resampleMap(name, raster, here, filter, env, exact));
  }
  return { colour, mask, maps: out, frame: { width, height, share: (before.share * width * step) / before.width } };
}

/** Below it a side is as long as it comes to. */
const SMALL = 256;
/** Mip levels of sides that halve evenly are made several times as fast: while a slider is dragged, all maps wait for them. */
const EVEN = 16;

/** The same with fewer texels, its sides even for some halvings; what they hold is stretched by three texels in a hundred at the most. */
function atViewSize(full: Placing, scale: number): Placing {
  const side = (length: number) =>
    length < SMALL ? Math.max(1, Math.round(length)) : Math.round(length / EVEN) * EVEN;
  const [width, height] = [side(full.width * scale), side(full.height * scale)];
  const across = (full.width * scale) / width;
  const down = (full.height * scale) / height;
  return {
    width,
    height,
    xx: full.xx * across,
    xy: full.xy * down,
    x0: full.x0 * scale,
    yx: full.yx * across,
    yy: full.yy * down,
    y0: full.y0 * scale,
  };
}

/** All of a picture, shifted so that (x, y) becomes the top left corner. */
export function windowOn(x: number, y: number, width: number, height: number): Placing {
  return { width, height, xx: 1, xy: 0, x0: x, yx: 0, yy: 1, y0: y };
}
