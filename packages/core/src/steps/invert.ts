import { applyTable, REVERSED } from '../raster/apply-table.ts';
import type { StepKind } from './step.ts';

export type InvertParams = Record<never, never>;

export const invert: StepKind<InvertParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Invert',
  hint: 'Swaps kept and dropped.',
  defaults: {},
  ranges: {},
  pointwise: () => true,
  pullsMask: false,
  apply: ({ mask }, _params, env) => ({ mask: applyTable(mask, REVERSED, env) }),
};
