import { makeMask } from '../raster/raster.ts';
import type { StepKind } from './step.ts';

export interface CombineParams {
  how: CombineHow;
  /** Id of an earlier step of the run: the mask as it was after that one. Empty: nothing is chosen yet. */
  stepId: string;
}

/** How to join two alphas a (so far) and b (the other), 0–255. */
const RULES = {
  'keep both': (a: number, b: number) => (a < b ? a : b),
  'keep either': (a: number, b: number) => (a > b ? a : b),
  'take away': (a: number, b: number) => (a < 255 - b ? a : 255 - b),
  multiply: (a: number, b: number) => Math.floor((a * b) / 255 + 0.5),
} as const;
export type CombineHow = keyof typeof RULES;
export const COMBINE_HOWS = Object.keys(RULES) as CombineHow[];

export const combine: StepKind<CombineParams> = {
  stretch: 'mask',
  purpose: 'cut',
  needs: 'an earlier step',
  label: 'Combine',
  hint: 'Combines this mask with the mask after an earlier step.',
  defaults: { how: 'keep both', stepId: '' },
  ranges: {},
  pointwise: () => true,
  pullsMask: false,
  stepsOf: ({ stepId }) => (stepId ? [stepId] : []),
  apply({ mask }, { how, stepId }, env) {
    if (!stepId) return {};
    const { width, height, data } = mask;
    const other = env.maskAfter(stepId).data;
    const table = new Uint8Array(65536);
    for (let i = 0; i < 65536; i++) table[i] = RULES[how](i >> 8, i & 255);
    const out = env.allocate(data.length);
    env.bands(height, (y0, y1) => join(data, other, table, out, y0 * width, y1 * width));
    return { mask: makeMask(width, height, out) };
  },
};

function join(a: Uint8Array, b: Uint8Array, table: Uint8Array, out: Uint8Array, from: number, to: number): void {
  for (let i = from; i < to; i++) out[i] = table[(a[i] << 8) | b[i]];
}
