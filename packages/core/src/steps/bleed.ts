import { thresholdByte } from '../sieve/threshold.ts';
import { findNearest } from '../mask/nearest.ts';
import { asWords, makePicture, type Mask, type Picture } from '../raster/raster.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface BleedParams {
  /**
   * Alpha, 0–1, from which a texel's own colour is trusted. Not the material's cutoff: moving that must not
   * recompute the run.
   */
  trust: number;
}

export const BLEED_DEFAULTS: BleedParams = { trust: 0.5 };

export const bleed: StepKind<BleedParams> = {
  stretch: 'colour',
  purpose: 'colour',
  label: 'Bleed',
  hint: 'Gives every dropped texel the colour of the nearest kept one, so that filtering draws no halo.',
  defaults: BLEED_DEFAULTS,
  ranges: { trust: { min: 0.01, max: 1 } },
  pullsMask: false,
  apply: ({ colour, mask }, { trust }, env) => ({ colour: bleedColour(colour, mask, thresholdByte(trust), env) }),
};

/**
 * Colour of the nearest texel whose mask is at or above `threshold`, by exact Euclidean distance between centres; at
 * equal distance any of the nearest. Alpha is left as it is. Without any trusted texel the picture comes back as is.
 *
 * @param threshold - 1–255; at 0 all texels are trusted, at 256 none.
 */
export function bleedColour(
  colour: Picture,
  mask: Mask,
  threshold: number,
  env: Pick<StepEnv, 'allocate' | 'bands'>,
): Picture {
  const { width, height } = colour;
  const out = env.allocate(colour.data.length);
  const from = asWords(colour.data);
  const to = asWords(out);
  const copy = (start: number, end: number) => to.set(from.subarray(start, end), start);
  findNearest(mask, { threshold }, env, {
    own: copy,
    none: copy,
    found(start, end, found) {
      const rgb = from[found] & 0xffffff;
      for (let i = start; i < end; i++) to[i] = rgb | (from[i] & 0xff000000);
    },
  });
  return makePicture(width, height, out);
}
