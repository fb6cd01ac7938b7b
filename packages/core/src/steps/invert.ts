import { applyTable } from '../raster/apply-table.ts';
import type { StepKind } from './step.ts';

export type InvertParams = Record<never, never>;

export const REVERSED = Uint8Array.from({ length: 256 }, (_, v) => 255 - v);

export const invert: StepKind<InvertParams> = {
  stretch: 'mask',
  label: 'Invert',
  hint: 'Swaps kept and dropped.',
  defaults: {},
  ranges: {},
  pullsMask: false,
  sourcesOf: () => [],
  apply: ({ colour, mask }, _params, env) => ({ colour, mask: applyTable(mask, REVERSED, env) }),
};
