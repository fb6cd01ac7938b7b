import { growMask } from '../mask/edge-distance.ts';
import { applyTable, REVERSED } from '../raster/apply-table.ts';
import type { StepKind } from './step.ts';

export interface GrowParams {
  /** Texels by which the edge moves outwards; below 0 inwards. Any fraction. */
  by: number;
}

export const grow: StepKind<GrowParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Grow / shrink',
  hint: 'Moves the edge outwards or inwards by texels and fractions of one.',
  defaults: { by: 1 },
  ranges: { by: { min: -64, max: 64, step: 0.25, unit: 'texels' } },
  pullsMask: false,
  apply({ mask }, params, env) {
    const by = params.by * env.scale;
    if (by === 0) return {};
    if (by > 0) return { mask: growMask(mask, by, env) };
    const grown = growMask(applyTable(mask, REVERSED, env), -by, env);
    return { mask: applyTable(grown, REVERSED, env) };
  },
};
