import { growMask } from '../mask/edge-distance.ts';
import { applyTable } from '../raster/apply-table.ts';
import { REVERSED } from './invert.ts';
import type { StepKind } from './step.ts';

export interface GrowParams {
  /** Texels by which the edge moves outwards; below 0 inwards. Any fraction. */
  by: number;
}

export const grow: StepKind<GrowParams> = {
  stretch: 'mask',
  label: 'Grow / shrink',
  hint: 'Moves the edge outwards or inwards by texels and fractions of one.',
  defaults: { by: 1 },
  ranges: { by: { min: -64, max: 64, step: 0.25, unit: 'texels' } },
  pullsMask: false,
  sourcesOf: () => [],
  apply({ colour, mask }, params, env) {
    const by = params.by * env.scale;
    if (by === 0) return { colour, mask };
    if (by > 0) return { colour, mask: growMask(mask, by, env) };
    const grown = growMask(applyTable(mask, REVERSED, env), -by, env);
    return { colour, mask: applyTable(grown, REVERSED, env) };
  },
};
