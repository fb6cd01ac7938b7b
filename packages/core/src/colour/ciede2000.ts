import { cubeRoot, exponential } from '../math/roots.ts';
import { angleOf, cosine, sine } from '../math/trigonometry.ts';
import { LINEAR_OF_BYTE } from './srgb.ts';

/** CIELAB, L* 0–100. */
export type Lab = readonly [L: number, a: number, b: number];

/** Rows of XYZ from linear sRGB (IEC 61966-2-1), and the D65 white that they add up to. */
const XYZ_FROM_RGB = [
  [0.4124564, 0.3575761, 0.1804375],
  [0.2126729, 0.7151522, 0.072175],
  [0.0193339, 0.119192, 0.9503041],
] as const;

/** CIE 1976 L*a*b* of an 8-bit sRGB colour, relative to D65. */
export function labFromBytes(r: number, g: number, b: number): Lab {
  const [x, y, z] = XYZ_FROM_RGB.map(([p, q, s]) =>
    bend((p * LINEAR_OF_BYTE[r] + q * LINEAR_OF_BYTE[g] + s * LINEAR_OF_BYTE[b]) / (p + q + s)),
  );
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

function bend(t: number): number {
  return t > 216 / 24389 ? cubeRoot(t) : ((24389 / 27) * t + 16) / 116;
}

/** Degrees; opposite hues are half a turn apart whatever the last bits of their angles say. */
const HALF_TURN = 180 + 1e-9;

const CHROMA_25 = 6103515625; // 25⁷

/** The weight that chroma lends to a* and to the turn of hue: √(c⁷ / (c⁷ + 25⁷)). */
function chromaWeight(c: number): number {
  const seventh = c * c * c * c * c * c * c;
  return Math.sqrt(seventh / (seventh + CHROMA_25));
}

/**
 * CIEDE2000 colour difference, all weights 1: G. Sharma, W. Wu, E. Dalal, "The CIEDE2000 Color-Difference Formula:
 * Implementation Notes, Supplementary Test Data, and Mathematical Observations" (2005), their equations 2–22.
 */
export function ciede2000([L1, a1, b1]: Lab, [L2, a2, b2]: Lab): number {
  const meanC = (Math.sqrt(a1 * a1 + b1 * b1) + Math.sqrt(a2 * a2 + b2 * b2)) / 2;
  const stretch = 1 + 0.5 * (1 - chromaWeight(meanC));
  const [x1, x2] = [a1 * stretch, a2 * stretch];
  const [c1, c2] = [Math.sqrt(x1 * x1 + b1 * b1), Math.sqrt(x2 * x2 + b2 * b2)];
  const [h1, h2] = [angleOf(b1, x1), angleOf(b2, x2)];
  const grey = c1 * c2 === 0;

  const dL = L2 - L1;
  const dC = c2 - c1;
  const apart = h2 - h1;
  const turn = grey ? 0 : apart > HALF_TURN ? apart - 360 : apart < -HALF_TURN ? apart + 360 : apart;
  const dH = 2 * Math.sqrt(c1 * c2) * sine(turn / 2);

  const L = (L1 + L2) / 2;
  const C = (c1 + c2) / 2;
  const h = meanHue(h1, h2, grey);
  const T = 1 - 0.17 * cosine(h - 30) + 0.24 * cosine(2 * h) + 0.32 * cosine(3 * h + 6) - 0.2 * cosine(4 * h - 63);
  const away = (h - 275) / 25;
  const rotation = -sine(60 * exponential(-away * away)) * 2 * chromaWeight(C);
  const off = (L - 50) * (L - 50);
  const sL = dL / (1 + (0.015 * off) / Math.sqrt(20 + off));
  const sC = dC / (1 + 0.045 * C);
  const sH = dH / (1 + 0.015 * C * T);
  return Math.sqrt(Math.max(0, sL * sL + sC * sC + sH * sH + rotation * sC * sH));
}

function meanHue(h1: number, h2: number, grey: boolean): number {
  if (grey) return h1 + h2;
  if (Math.abs(h1 - h2) <= HALF_TURN) return (h1 + h2) / 2;
  return h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
}
