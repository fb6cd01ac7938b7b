import { applyTable } from '../raster/apply-table.ts';
import type { StepKind } from './step.ts';

export interface OpacityFactorParams {
  /** 0–1; every alpha is multiplied by it. */
  factor: number;
}

export const opacityFactor: StepKind<OpacityFactorParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Opacity factor',
  hint: 'Multiplies every alpha by one factor.',
  defaults: { factor: 0.5 },
  ranges: { factor: { min: 0, max: 1 } },
  pointwise: () => true,
  pullsMask: false,
  apply({ mask }, { factor }, env) {
    const table = Uint8Array.from({ length: 256 }, (_, v) => Math.floor(v * factor + 0.5));
    return { mask: applyTable(mask, table, env) };
  },
};
