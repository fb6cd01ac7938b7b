import { oklabFromBytes, type Oklab } from '../colour/oklab.ts';
import type { Rgb } from '../colour/srgb.ts';
import { cosine, sine } from '../math/trigonometry.ts';
import { STEPS } from './profile.ts';

/** How far copies differ in colour. */
export interface TintSwing {
  /** Share of the way from one picked colour to the other, 0–1 (common practice: a third). */
  tint: number;
  /** Largest change of OKLab lightness to either side (common practice: 0.07). */
  lightness: number;
  /** Largest change of chroma to either side, as a share of it (common practice: 0.15). */
  richness: number;
}

export const SWING_DEFAULTS: TintSwing = { tint: 1 / 3, lightness: 0.07, richness: 0.15 };
export const SWING_RANGES = {
  tint: { min: 0, max: 1 },
  lightness: { min: 0, max: 0.5 },
  richness: { min: 0, max: 1 },
} as const;

// outside, since a long scene makes tens of thousands of colours
const cube = (v: number) => v * v * v;
const cut = (v: number) => Math.min(1, Math.max(0, v));

/** Linear R, G, B of an OKLab colour, cut off at 0 and 1: Ottosson's published inverses. */
export function linearOf([L, a, b]: Oklab): [number, number, number] {
  const x = cube(L + 0.3963377774 * a + 0.2158037573 * b);
  const y = cube(L - 0.1055613458 * a - 0.0638541728 * b);
  const z = cube(L - 0.0894841775 * a - 1.291485548 * b);
  return [
    cut(4.0767416621 * x - 3.3077115913 * y + 0.2309699292 * z),
    cut(-1.2684380046 * x + 2.6097574011 * y - 0.3413193965 * z),
    cut(-0.0041960863 * x - 0.7034186147 * y + 1.707614701 * z),
  ];
}

export function mixed(p: Oklab, q: Oklab, share: number): Oklab {
  return [p[0] + (q[0] - p[0]) * share, p[1] + (q[1] - p[1]) * share, p[2] + (q[2] - p[2]) * share];
}

/**
 * A colour between two, drifted.
 *
 * @param draws - Three random numbers in [0, 1).
 */
export function drifted(from: Rgb, to: Rgb, swing: TintSwing, draws: readonly number[]): Oklab {
  const [L, a, b] = mixed(oklabFromBytes(...from), oklabFromBytes(...to), swing.tint * draws[0]);
  const rich = 1 + swing.richness * (2 * draws[2] - 1);
  return [L + swing.lightness * (2 * draws[1] - 1), a * rich, b * rich];
}

/** Places at which a colour along a line is computed; between them it goes over in light. */
const KNOTS = 16;
const EACH = STEPS / KNOTS;

/** Colours along a line from what an OKLab colour is at each place of it, 0–1. */
export function alongOf(colourAt: (place: number) => Oklab): Float32Array {
  const out = new Float32Array(3 * (STEPS + 1));
  let [r, g, b] = linearOf(colourAt(0));
  for (let k = 0; k < KNOTS; k++) {
    const [red, green, blue] = linearOf(colourAt((k + 1) / KNOTS));
    for (let i = 0; i <= EACH; i++) {
      const o = 3 * (k * EACH + i);
      const share = i / EACH;
      out[o] = r + (red - r) * share;
      out[o + 1] = g + (green - g) * share;
      out[o + 2] = b + (blue - b) * share;
    }
    [r, g, b] = [red, green, blue];
  }
  return out;
}

/** Factors on the light of a part, along it: as its colour drifts from the first of both, by an OKLab colour a place. */
export function tintsOf(from: Rgb, colourAt: (place: number) => Oklab): Float32Array {
  const base = linearOf(oklabFromBytes(...from)).map((v) => Math.max(v, 0.01));
  return alongOf(colourAt).map((v, i) => v / base[i % 3]);
}

/** A point at an angle, degrees from straight up, clockwise; y down. */
export function towards(degrees: number): [x: number, y: number] {
  return [sine(degrees), -cosine(degrees)];
}
