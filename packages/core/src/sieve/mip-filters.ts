import { sine } from '../math/trigonometry.ts';

/** How a level is made from the one before it. Each name is that of the filter in signal processing. */
export const MIP_FILTERS = ['box', 'triangle', 'Kaiser', 'Lanczos'] as const;
export type MipFilter = (typeof MIP_FILTERS)[number];

/** What lies beside a picture: itself again, its border texel, or its mirror image (glTF 2.0 §3.8.4.5). */
export const WRAPS = ['clamp', 'repeat', 'mirror'] as const;
export type Wrap = (typeof WRAPS)[number];

/** Texels of the smaller level to either side that a filter looks at. */
const RADIUS: Record<MipFilter, number> = { box: 0.5, triangle: 1, Kaiser: 3, Lanczos: 3 };
/** Shape of the Kaiser window; 4 is a common choice for mip levels (common practice). */
const KAISER_ALPHA = 4;

/** The weight of a filter at a distance in texels of the smaller level; 1 in the middle, before weights are made to add up. */
export function filterWeight(filter: MipFilter, distance: number): number {
  const x = Math.abs(distance);
  if (x >= RADIUS[filter]) return 0;
  switch (filter) {
    case 'box':
      return 1;
    case 'triangle':
      return 1 - x;
    case 'Lanczos': // C. E. Duchon, "Lanczos Filtering in One and Two Dimensions", 1979: sinc x · sinc x/3
      return sinc(x) * sinc(x / 3);
    case 'Kaiser': // J. F. Kaiser, 1974: sinc x · I₀(α √(1 − (x/3)²)) / I₀(α)
      return (sinc(x) * bessel(KAISER_ALPHA * Math.sqrt(1 - (x / 3) * (x / 3)))) / bessel(KAISER_ALPHA);
  }
}

function sinc(x: number): number {
  return x === 0 ? 1 : sine(180 * x) / (Math.PI * x);
}

/** Modified Bessel function of the first kind, order 0, by its series. */
function bessel(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; k <= 30; k++) {
    term *= (x / (2 * k)) * (x / (2 * k));
    sum += term;
  }
  return sum;
}

/** Where each texel of a smaller level comes from along one axis. */
export interface FilterTaps {
  /** Texels read for each. */
  count: number;
  /** `count` for each texel out: which texels are read, already wrapped, and their weights, which add up to 1. */
  index: Int32Array;
  weight: Float64Array;
}

/** @param from - Side of the level that is read. @param to - Side of the smaller one. */
export function filterTaps(filter: MipFilter, from: number, to: number, wrap: Wrap): FilterTaps {
  const scale = from / to;
  const reach = RADIUS[filter] * scale;
  const count = Math.ceil(2 * reach) + 1;
  const index = new Int32Array(count * to);
  const weight = new Float64Array(count * to);
  for (let o = 0; o < to; o++) {
    const centre = (o + 0.5) * scale;
    const first = Math.floor(centre - reach + 1e-9);
    let sum = 0;
    for (let k = 0; k < count; k++) {
      const i = first + k;
      const w =
        filter === 'box'
          ? overlap(i, centre - reach, centre + reach)
          : filterWeight(filter, (i + 0.5 - centre) / scale);
      index[o * count + k] = wrapped(i, from, wrap);
      weight[o * count + k] = w;
      sum += w;
    }
    for (let k = 0; k < count; k++) weight[o * count + k] /= sum;
  }
  return { count, index, weight };
}

/** How much of texel i lies between two places. */
function overlap(i: number, from: number, to: number): number {
  return Math.max(0, Math.min(i + 1, to) - Math.max(i, from));
}

function wrapped(i: number, side: number, wrap: Wrap): number {
  if (wrap === 'clamp') return Math.max(0, Math.min(side - 1, i));
  const period = wrap === 'repeat' ? side : 2 * side;
  const at = ((i % period) + period) % period;
  return at < side ? at : period - 1 - at;
}
