import type { TexelAt } from '../mask/connected.ts';
import { connectedTo, likeTouched } from '../mask/touched.ts';
import { applyTable, REVERSED } from '../raster/apply-table.ts';
import type { StepKind } from './step.ts';

export interface FromTouchParams {
  /** Touched texels of the colour picture. */
  at: TexelAt[];
  /** OKLab distance to a touched colour, and the ramp around it. */
  tolerance: number;
  softness: number;
  /** Breaks of up to this many texels in what bounds the region do not let it leak out. */
  gaps: number;
  take: TouchTake;
}

export const TOUCH_TAKES = ['keep it', 'drop it'] as const;
export type TouchTake = (typeof TOUCH_TAKES)[number];

/** The connected region of like colour around touched points. */
export const fromTouch: StepKind<FromTouchParams> = {
  stretch: 'mask',
  purpose: 'pull',
  label: 'From touch',
  hint: 'Takes the connected region of similar colour around the points you touch.',
  defaults: { at: [], tolerance: 0.1, softness: 0.04, gaps: 0, take: 'drop it' },
  ranges: {
    tolerance: { min: 0, max: 0.6, step: 0.005, digits: 3 },
    softness: { min: 0, max: 0.5, step: 0.005, digits: 3 },
    gaps: { min: 0, max: 64, step: 1, digits: 0, unit: 'texels' },
  },
  pullsMask: true,
  apply({ colour }, params, env) {
    if (params.at.length === 0) return {};
    const { tolerance, softness } = params;
    const alike = likeTouched(colour, params.at, tolerance, softness, env);
    const region = connectedTo(alike, params.at, params.gaps * env.scale, env);
    return { mask: params.take === 'keep it' ? region : applyTable(region, REVERSED, env) };
  },
};
