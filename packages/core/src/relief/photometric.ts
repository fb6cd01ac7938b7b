import { byteOfLinear16Table, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { REC709 } from '../colour/luminance.ts';
import { SieveError } from '../errors.ts';
import { cosine, sine } from '../math/trigonometry.ts';
import { asWords, makePicture, type Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { writeNormal, type Normals } from './normals.ts';

/** A photograph under one light far away; angles in degrees. */
export interface LitPicture {
  picture: Picture;
  /** Where the light is: 0 to the right, 90 above (y up). */
  azimuth: number;
  /** Above the plane of the card: 90 is straight from the front. */
  elevation: number;
}

/** Brighter and darker than these, 0–1 of linear light, a texel is burnt out or in shadow and is left out if it can be. */
const BURNT = 0.97;
const SHADOW = 0.012;

/**
 * Normals and albedo of a matte subject from three or more photographs under known lights: R. J. Woodham, "Photometric
 * method for determining surface orientation from multiple images" (1980). Light is I = ρ (n · l); ρ n is solved by
 * least squares, per texel, from linear luminance; the albedo of each channel follows from the normal.
 *
 * @param out - Normals, 3 samples a texel, and the albedo's RGBA.
 * @throws {@link SieveError} `unsupported` where the lights lie in one plane.
 */
export function photometricStereo(
  lit: readonly LitPicture[],
  env: Pick<Work, 'bands'>,
  out: { normals: Uint16Array; albedo: Uint8Array },
): { normals: Normals; albedo: Picture } {
  const [{ picture: first }] = lit;
  const { width, height } = first;
  const ways = lit.map(({ azimuth, elevation }) => {
    const flat = cosine(elevation);
    return [flat * cosine(azimuth), flat * sine(azimuth), sine(elevation)];
  });
  const all = new Float64Array(6);
  for (const way of ways) addTo(all, way);
  if (Math.abs(determinant(all)) < LEAST_SPREAD) {
    throw new SieveError(
      'unsupported',
      'The lights lie in one plane, so depth cannot be computed.',
      'Give each picture the direction its light came from; they must not all be on one line.',
    );
  }
  const words = lit.map(({ picture }) => asWords(picture.data));
  const albedo = asWords(out.albedo);
  const toByte = byteOfLinear16Table();
  const light = new Float64Array(lit.length);
  const m = new Float64Array(6);
  const v = new Float64Array(3);
  const shade = new Float64Array(lit.length);
  env.bands(height, (y0, y1) => {
    for (let i = y0 * width; i < y1 * width; i++) {
      for (let k = 0; k < words.length; k++) light[k] = luminanceOf(words[k][i]);
      m.fill(0);
      v.fill(0);
      let used = 0;
      for (let k = 0; k < ways.length; k++) if (light[k] > SHADOW && light[k] < BURNT) used++;
      const choosy = used >= 3;
      for (let k = 0; k < ways.length; k++) {
        if (choosy && !(light[k] > SHADOW && light[k] < BURNT)) continue;
        addTo(m, ways[k]);
        for (let c = 0; c < 3; c++) v[c] += light[k] * ways[k][c];
      }
      if (!solve(m, v) && choosy) {
        m.set(all); // the rest lie in one plane: take them all
        v.fill(0);
        for (let k = 0; k < ways.length; k++) for (let c = 0; c < 3; c++) v[c] += light[k] * ways[k][c];
        solve(m, v);
      }
      writeNormal(out.normals, 3 * i, v[0], v[1], v[2]);
      const length = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]) || 1;
      let sum = 0;
      for (let k = 0; k < ways.length; k++) {
        const s = (v[0] * ways[k][0] + v[1] * ways[k][1] + v[2] * ways[k][2]) / length;
        shade[k] = s > 0 && light[k] > SHADOW && light[k] < BURNT ? s : 0;
        sum += shade[k] * shade[k];
      }
      let word = words[0][i] & 0xff000000;
      for (let c = 0; c < 3; c++) {
        let lightOf = 0;
        for (let k = 0; k < ways.length; k++) lightOf += shade[k] * LINEAR_OF_BYTE[(words[k][i] >>> (8 * c)) & 255];
        const rho = sum > 1e-9 ? Math.min(1, lightOf / sum) : LINEAR_OF_BYTE[(words[0][i] >>> (8 * c)) & 255];
        word |= toByte[(rho * 65535 + 0.5) | 0] << (8 * c);
      }
      albedo[i] = word;
    }
  });
  return { normals: { width, height, channels: 3, data: out.normals }, albedo: makePicture(width, height, out.albedo) };
}

/** Determinant of the lights' product matrix below which they are taken to lie in a plane. */
const LEAST_SPREAD = 1e-4;

function luminanceOf(w: number): number {
  return (
    REC709.r * LINEAR_OF_BYTE[w & 255] +
    REC709.g * LINEAR_OF_BYTE[(w >>> 8) & 255] +
    REC709.b * LINEAR_OF_BYTE[(w >>> 16) & 255]
  );
}

/** Upper half of the symmetric sum of l lᵀ: xx, xy, xz, yy, yz, zz. */
function addTo(m: Float64Array, [x, y, z]: readonly number[]): void {
  m[0] += x * x;
  m[1] += x * y;
  m[2] += x * z;
  m[3] += y * y;
  m[4] += y * z;
  m[5] += z * z;
}

function determinant([a, b, c, d, e, f]: Float64Array): number {
  return a * (d * f - e * e) - b * (b * f - c * e) + c * (b * e - c * d);
}

/** Solves in place; false where the matrix has no inverse. */
function solve(m: Float64Array, v: Float64Array): boolean {
  const [a, b, c, d, e, f] = m;
  const det = determinant(m);
  if (Math.abs(det) < LEAST_SPREAD) return false;
  const [p, q, r] = v;
  v[0] = (p * (d * f - e * e) + q * (c * e - b * f) + r * (b * e - c * d)) / det;
  v[1] = (p * (c * e - b * f) + q * (a * f - c * c) + r * (b * c - a * e)) / det;
  v[2] = (p * (b * e - c * d) + q * (b * c - a * e) + r * (a * d - b * b)) / det;
  return true;
}
