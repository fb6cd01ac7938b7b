import { curveAt, type CurvePoint } from '../math/curve.ts';
import { power } from '../math/roots.ts';
import { applyTable } from '../raster/apply-table.ts';
import type { StepKind } from './step.ts';

export interface LevelsParams {
  /** Alpha, 0–1, that becomes 0. */
  black: number;
  /** Alpha, 0–1, that becomes 1; at or below black, the ramp is a jump at black. */
  white: number;
  /** Above 1 lifts the middle, below 1 lowers it; 0.1–10. */
  gamma: number;
  /** Hard: what comes out at one half or more is kept whole, the rest dropped whole. */
  ramp: 'soft' | 'hard';
  /** Then a curve through these points, from the left; none is a straight line. */
  curve: CurvePoint[];
}

export const LEVELS_DEFAULTS: LevelsParams = { black: 0, white: 1, gamma: 1, ramp: 'soft', curve: [] };

export const levels: StepKind<LevelsParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Levels',
  hint: 'Darker than the black point is dropped, lighter than the white point is kept.',
  defaults: LEVELS_DEFAULTS,
  ranges: {
    black: { min: 0, max: 1 },
    white: { min: 0, max: 1 },
    gamma: { min: 0.1, max: 10, logarithmic: true },
  },
  pointwise: () => true,
  pullsMask: false,
  apply: ({ mask }, params, env) => ({ mask: applyTable(mask, levelsTable(params), env) }),
};

/** Output of every 8-bit alpha: ((v − black) / (white − black)) ^ (1 / gamma), then the curve, rounded. */
export function levelsTable({ black, white, gamma, ramp, curve }: LevelsParams): Uint8Array {
  return Uint8Array.from({ length: 256 }, (_, code) => {
    const v = code / 255;
    const t = white > black ? Math.min(1, Math.max(0, (v - black) / (white - black))) : v >= black ? 1 : 0;
    const out = curveAt(curve, power(t, 1 / gamma));
    return ramp === 'hard' ? (out >= 0.5 ? 255 : 0) : Math.floor(out * 255 + 0.5);
  });
}
