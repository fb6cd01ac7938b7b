import type { Rgb } from '../colour/srgb.ts';
import { maskByColour, type ColourMetric } from '../mask/by-colour.ts';
import { borderRegions, fillRegions, regionsOf, regionsWith, type TexelAt } from '../mask/connected.ts';
import type { Mask } from '../raster/raster.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface FromColourParams {
  /** Colours to drop and colours to keep, 8-bit sRGB, picked on the Sheet. */
  drop: Rgb[];
  keep: Rgb[];
  /** How the distance of two colours is measured: OKLab, 0–1, or CIEDE2000 over 100, which is of like size. */
  metric: ColourMetric;
  /** Whether all that looks like it is meant, or only what is connected to the border or to touched texels. */
  reach: ColourReach;
  /** The touched texels; none: the border. */
  from: TexelAt[];
  /** Distance up to which a colour counts as one of the swatches, 0–1. */
  tolerance: number;
  /** Width of the ramp around the tolerance, in the same unit; 0 is a hard edge. */
  softness: number;
}

export const COLOUR_REACHES = ['all over', 'connected'] as const;
export type ColourReach = (typeof COLOUR_REACHES)[number];

export const FROM_COLOUR_DEFAULTS: FromColourParams = {
  drop: [],
  keep: [],
  metric: 'OKLab',
  reach: 'all over',
  from: [],
  tolerance: 0.1,
  softness: 0.08,
};

/** See {@link maskByColour}; connected: only what is connected to the border or to touched texels. */
export const fromColour: StepKind<FromColourParams> = {
  stretch: 'mask',
  purpose: 'pull',
  label: 'From colour',
  hint: 'Drops what looks like the drop colours, keeps what looks like the keep colours.',
  defaults: FROM_COLOUR_DEFAULTS,
  ranges: {
    tolerance: { min: 0, max: 0.6, step: 0.005, digits: 3 },
    softness: { min: 0, max: 0.5, step: 0.005, digits: 3 },
  },
  pointwise: ({ reach }) => reach === 'all over',
  pullsMask: true,
  apply({ colour }, params, env) {
    const alike = maskByColour(colour, params, env);
    return { mask: params.reach === 'connected' ? connected(alike, params, env) : alike };
  },
};

/** Only regions that are connected to the border or to touched texels are dropped (or kept, by keep swatches). */
function connected(mask: Mask, { drop, keep, from }: FromColourParams, env: StepEnv): Mask {
  const kept = drop.length === 0 && keep.length > 0;
  const regions = regionsOf(mask, kept, env);
  const meant = from.length > 0 ? regionsWith(regions, from, env.scale) : borderRegions(regions, mask.height);
  return fillRegions(mask, regions, { goes: (r) => !meant.has(r), value: kept ? 0 : 255 }, env);
}
