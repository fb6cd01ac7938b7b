import { filterWeight, type MipFilter } from '../sieve/mip-filters.ts';

/** Fractions of a texel that weights are kept for. */
export const PHASES = 128;

/** Weights of a filter that reads every so many texels. */
export interface Kernel {
  taps: number;
  /** Weights of every phase, normalised. */
  weights: Float32Array;
  /** First tap of phase 0, relative to the whole part of a place. */
  first: number;
}

/** Half widths in texels of the result. */
const SUPPORT: Record<MipFilter, number> = { box: 0.5, triangle: 1, Kaiser: 3, Lanczos: 3 };

/**
 * @param scale - Texels before to one after: above 1 the filter is as many times wider.
 * @param exact - Else the outermost tap of some phases is left out, as in version 1 of the steps of the fit.
 */
export function kernelOf(filter: MipFilter, scale: number, exact: boolean): Kernel {
  const wide = Math.max(1, scale);
  const support = SUPPORT[filter] * wide;
  const taps = exact ? 2 * Math.ceil(support) : Math.max(1, Math.ceil(2 * support));
  const first = -Math.ceil(support) + 1;
  const weights = new Float32Array((PHASES + 1) * taps);
  for (let phase = 0; phase <= PHASES; phase++) {
    let sum = 0;
    for (let k = 0; k < taps; k++) {
      const w = filterWeight(filter, (first + k - phase / PHASES) / wide);
      weights[phase * taps + k] = w;
      sum += w;
    }
    // a box that lies just between two texels: the nearer one
    if (sum === 0) weights[phase * taps + Math.min(taps - 1, Math.max(0, Math.round(phase / PHASES) - first))] = 1;
    else for (let k = 0; k < taps; k++) weights[phase * taps + k] /= sum;
  }
  return { taps, weights, first };
}
