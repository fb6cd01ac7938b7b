import { blurValues } from '../mask/blur.ts';
import { makeMask } from '../raster/raster.ts';
import type { StepKind } from './step.ts';

export interface FeatherParams {
  /** Standard deviation of the blur in texels. */
  radius: number;
  /** Where the edge may soften: to both sides, or without losing (outwards) or winning (inwards) any alpha. */
  side: FeatherSide;
}

export const FEATHER_SIDES = ['both', 'outwards', 'inwards'] as const;
export type FeatherSide = (typeof FEATHER_SIDES)[number];

export const feather: StepKind<FeatherParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Feather',
  hint: 'Softens the edge; a wide feather fades it out.',
  defaults: { radius: 1, side: 'both' },
  ranges: { radius: { min: 0, max: 128, step: 0.1, unit: 'texels' } },
  pullsMask: false,
  apply({ mask }, { radius, side }, env) {
    const sigma = radius * env.scale;
    if (sigma === 0) return {};
    const { width, height, data } = mask;
    const soft = blurValues(mask, sigma, env);
    const out = env.allocate(data.length);
    const raise = side === 'outwards' ? 1 : 0;
    const lower = side === 'inwards' ? 1 : 0;
    env.bands(height, (y0, y1) => round(soft, data, raise, lower, out, y0 * width, y1 * width));
    return { mask: makeMask(width, height, out) };
  },
};

function round(
  soft: Float32Array,
  own: Uint8Array,
  raise: number,
  lower: number,
  out: Uint8Array,
  from: number,
  to: number,
): void {
  for (let i = from; i < to; i++) {
    const v = (soft[i] + 0.5) | 0;
    const o = own[i];
    out[i] = (raise && v < o) || (lower && v > o) ? o : v;
  }
}
