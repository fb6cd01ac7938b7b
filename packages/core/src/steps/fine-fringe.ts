import { threeWays } from '../matte/alpha-from-colours.ts';
import { closedFormMatting } from '../matte/closed-form.ts';
import type { StepKind } from './step.ts';

export interface FineFringeParams {
  /** Texels to each side of the edge in which alpha is solved for. */
  band: number;
  /** How much the mask so far counts there, beside what the colours say. */
  trust: number;
}

/** Measured on the generator's mane: less than half the error of the hard mask; see docs/accuracy.md. */
const EPSILON = 2e-6;
const ITERATIONS = 10;

/** A soft fringe for hair and fuzz, by closed-form matting (Levin et al. 2008) in a band around the mask so far. */
export const fineFringe: StepKind<FineFringeParams> = {
  stretch: 'mask',
  purpose: 'clean',
  label: 'Fine fringe',
  hint: 'Finds the soft fringe of hair and fuzz from the colours, in a band around the edge of the mask so far.',
  defaults: { band: 3, trust: 0.25 },
  ranges: {
    band: { min: 1, max: 32, step: 0.5, digits: 1, unit: 'texels' },
    trust: { min: 0.02, max: 4, logarithmic: true },
  },
  pullsMask: false,
  apply({ colour, mask }, { band, trust }, env) {
    const sure = threeWays(mask, Math.max(1, band * env.scale), env);
    const options = { trust, epsilon: EPSILON, iterations: ITERATIONS };
    return { mask: closedFormMatting(colour, mask, sure, options, env) };
  },
};
