import { findNearest, nearestTexels } from '../mask/nearest.ts';
import { pushPull } from '../mask/push-pull.ts';
import { asWords, makePicture, type Mask, type Picture } from '../raster/raster.ts';
import { thresholdByte } from '../math/threshold.ts';
import type { StepEnv, StepKind } from './step.ts';

export const BLEED_HOWS = ['nearest', 'smooth'] as const;
export type BleedHow = (typeof BLEED_HOWS)[number];
export const BLEED_UNDERS = ['below that alpha', 'transparent only'] as const;
export type BleedUnder = (typeof BLEED_UNDERS)[number];

export interface BleedParams {
  /**
   * Alpha, 0–1, from which a texel's own colour is trusted. Not the material's cutoff: moving that must not
   * recompute the run.
   */
  trust: number;
  /** The colour of the nearest trusted texel, or one that changes smoothly between all of them. */
  how: BleedHow;
  /** Which texels take it: all that are not trusted, or those without any alpha alone. */
  under: BleedUnder;
  /** No farther than this from a trusted texel, in texels; 0: everywhere. */
  reach: number;
}

export const BLEED_DEFAULTS: BleedParams = { trust: 0.5, how: 'nearest', under: 'below that alpha', reach: 0 };

export const bleed: StepKind<BleedParams> = {
  stretch: 'colour',
  purpose: 'colour',
  label: 'Bleed',
  hint: 'Gives dropped texels the colour of the kept ones around them, so that filtering draws no halo.',
  defaults: BLEED_DEFAULTS,
  ranges: {
    trust: { min: 0.01, max: 1 },
    reach: { min: 0, max: 4096, step: 1, digits: 0, unit: 'texels' },
  },
  pullsMask: false,
  apply({ colour, mask }, { trust, how, under, reach }, env) {
    const threshold = thresholdByte(trust);
    // texels that take a colour: of those that are not trusted all, or the transparent ones
    const takes = under === 'transparent only' ? 0 : 255;
    const far = reach > 0 ? Math.max(1, reach * env.scale) : Infinity;
    const job = { colour, mask, threshold, takes, far };
    return { colour: how === 'smooth' ? smooth(job, env) : nearest(job, env) };
  },
};

interface Job {
  colour: Picture;
  mask: Mask;
  /** 1–255; at 0 all texels are trusted, at 256 none. */
  threshold: number;
  /** The most alpha of a texel that takes a colour. */
  takes: number;
  /** In texels, from centre to centre. */
  far: number;
}

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
  return nearest({ colour, mask, threshold, takes: 255, far: Infinity }, env);
}

function nearest({ colour, mask, threshold, takes, far }: Job, env: Pick<StepEnv, 'allocate' | 'bands'>): Picture {
  const { width, height } = colour;
  const out = env.allocate(colour.data.length);
  const from = asWords(colour.data);
  const to = asWords(out);
  const copy = (start: number, end: number) => to.set(from.subarray(start, end), start);
  const all = takes === 255 && far === Infinity;
  findNearest(mask, { threshold, ...(far < Infinity ? { reach: far } : {}) }, env, {
    own: copy,
    none: copy,
    found(start, end, found) {
      const rgb = from[found] & 0xffffff;
      if (all) for (let i = start; i < end; i++) to[i] = rgb | (from[i] & 0xff000000);
      else {
        const y = Math.floor(start / width);
        const fy = Math.floor(found / width);
        const dy = (y - fy) * (y - fy);
        for (let i = start, dx = start - y * width - (found - fy * width); i < end; i++, dx++) {
          const near = dx * dx + dy <= far * far && mask.data[i] <= takes;
          to[i] = near ? rgb | (from[i] & 0xff000000) : from[i];
        }
      }
    },
  });
  return makePicture(width, height, out);
}

function smooth({ colour, mask, threshold, takes, far }: Job, env: StepEnv): Picture {
  const { width, height } = colour;
  const { data } = mask;
  const out = env.allocate(colour.data.length);
  const [from, to] = [asWords(colour.data), asWords(out)];
  to.set(from);
  const reached = far < Infinity ? nearestTexels(mask, { threshold, reach: far }, env) : null;
  const within = (i: number) => {
    const at = reached![i];
    if (at < 0) return false;
    const [y, sy] = [Math.floor(i / width), Math.floor(at / width)];
    const [dx, dy] = [i - y * width - (at - sy * width), y - sy];
    return dx * dx + dy * dy <= far * far;
  };
  const chosen = takes < 255 || reached ? (i: number) => data[i] <= takes && (!reached || within(i)) : undefined;
  pushPull(colour, mask, threshold, env, to, chosen);
  return makePicture(width, height, out);
}
