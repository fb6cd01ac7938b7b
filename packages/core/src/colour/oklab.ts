import { cubeRoot } from '../math/roots.ts';
import { LINEAR_OF_BYTE } from './srgb.ts';

/** Lightness 0–1 and the two opponent axes. */
export type Oklab = readonly [L: number, a: number, b: number];

/**
 * OKLab (B. Ottosson, "A perceptual color space for image processing", 2020).
 * LMS from linear sRGB, and Lab from the cube roots of LMS; rows of the published matrices.
 */
export const LMS_FROM_LINEAR_RGB = [
  0.4122214708, 0.5363325363, 0.0514459929, 0.2119034982, 0.6806995451, 0.1073969566, 0.0883024619, 0.2817188376,
  0.6299787005,
] as const;
const LMS_FROM_XYZ = [
  0.8189330101, 0.3618667424, -0.1288597137, 0.0329845436, 0.9293118715, 0.0361456387, 0.0482003018, 0.2643662691,
  0.633851707,
] as const;
export const LAB_FROM_LMS_ROOTS = [
  0.2104542553, 0.793617785, -0.0040720468, 1.9779984951, -2.428592205, 0.4505937099, 0.0259040371, 0.7827717662,
  -0.808675766,
] as const;

export function oklabFromBytes(r: number, g: number, b: number): Oklab {
  return fromLms(LMS_FROM_LINEAR_RGB, LINEAR_OF_BYTE[r], LINEAR_OF_BYTE[g], LINEAR_OF_BYTE[b]);
}

/** XYZ relative to D65, Y of white 1. */
export function oklabFromXyz(x: number, y: number, z: number): Oklab {
  return fromLms(LMS_FROM_XYZ, x, y, z);
}

export function oklabDistance(p: Oklab, q: Oklab): number {
  const dL = p[0] - q[0];
  const da = p[1] - q[1];
  const db = p[2] - q[2];
  return Math.sqrt(dL * dL + da * da + db * db);
}

function fromLms(m: readonly number[], x: number, y: number, z: number): Oklab {
  const l = signedCubeRoot(m[0] * x + m[1] * y + m[2] * z);
  const c = signedCubeRoot(m[3] * x + m[4] * y + m[5] * z);
  const s = signedCubeRoot(m[6] * x + m[7] * y + m[8] * z);
  const n = LAB_FROM_LMS_ROOTS;
  return [n[0] * l + n[1] * c + n[2] * s, n[3] * l + n[4] * c + n[5] * s, n[6] * l + n[7] * c + n[8] * s];
}

function signedCubeRoot(v: number): number {
  return v < 0 ? -cubeRoot(-v) : cubeRoot(v);
}
