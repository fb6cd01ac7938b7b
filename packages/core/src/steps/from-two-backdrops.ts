import { byteOfLinear16Table, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { SieveError } from '../errors.ts';
import { backdropRow, fitBackdrop, type Backdrop } from '../matte/backdrop.ts';
import type { MixedIn } from '../matte/mixing.ts';
import { measureShift } from '../matte/registration.ts';
import { makeMask, makePicture, type Picture } from '../raster/raster.ts';
import type { StepKind } from './step.ts';

export interface FromTwoBackdropsParams {
  /** The same subject on another backdrop; the colour picture is the first. */
  sourceId: string;
  /** In which values the subject and the backdrop mix: light adds up linearly, painted pictures often in encoded values. */
  mixed: MixedIn;
}

const LEAST_APART = 0.08;
/** Summed over the channels: nearer than this a texel may be backdrop. */
const SHOWS = 0.1;

/**
 * Exact alpha and colour of a subject seen on two backdrops: A. R. Smith, J. F. Blinn, "Blue Screen Matting" (1996),
 * triangulation: α = 1 − (C₁ − C₂)·(B₁ − B₂) / |B₁ − B₂|², F = (C − (1 − α) B) / α on the darker backdrop.
 */
export const fromTwoBackdrops: StepKind<FromTwoBackdropsParams> = {
  stretch: 'mask',
  purpose: 'pull',
  needs: 'a second source',
  label: 'From two backdrops',
  hint: 'From the same subject on a dark and on a light backdrop: its exact alpha and its own colour.',
  defaults: { sourceId: '', mixed: 'found' },
  ranges: {},
  pullsMask: true,
  reads: ({ sourceId }) => (sourceId ? [{ id: sourceId, as: 'colour', otherSize: 'refused' }] : []),
  apply({ colour }, { sourceId, mixed }, env) {
    if (!sourceId) return { notice: 'Choose the picture of the same subject on the other backdrop.' };
    const other = env.source(sourceId);
    const { width, height } = colour;
    if (other.width !== width || other.height !== height) {
      throw new SieveError(
        'size-mismatch',
        'The two pictures differ in size.', // not by how much: this may run at view size
        'Take both with the same camera or scanner settings, so that they line up texel for texel.',
      );
    }
    const [first, second] = [fitBackdrop(colour), fitBackdrop(other)];
    const apart = middleApart(first, second);
    if (apart < LEAST_APART) {
      throw new SieveError(
        'unsupported',
        'The two backdrops have nearly the same colour, so alpha cannot be computed.',
        'Take the second picture on a backdrop that is much darker or lighter.',
      );
    }
    const told = mixed === 'found' ? tellMixed(colour, other, first, second) : null;
    const linear = (told?.mixed ?? mixed) === 'linear light';
    const alpha = env.allocate(width * height);
    const own = env.allocate(4 * width * height);
    const job = {
      colour,
      other,
      first,
      second,
      values: linear ? LINEAR_OF_BYTE : ENCODED,
      linear,
      alpha,
      own,
      subject: new Uint8Array(width * height),
    };
    env.bands(height, (y0, y1) => triangulate(job, y0, y1));
    const made = makeMask(width, height, alpha);
    const shift = measureShift(colour, other, makeMask(width, height, job.subject), env);
    return {
      colour: makePicture(width, height, own),
      mask: made,
      notice: [told?.notice, sayShift(shift, env.scale)].filter(Boolean).join(' '),
    };
  },
};

const ENCODED = Float64Array.from({ length: 256 }, (_, v) => v / 255);

/** Grid on which it is looked whether the channels agree, texels a side. */
const LOOKED = 700;
/** Alpha between these is mixed enough to tell. */
const MIXED_FROM = 0.12;
const MIXED_TO = 0.88;
const LEAST_LOOKED = 24;

/**
 * Each channel by itself gives an alpha; in the values that were mixed the three agree. Told by the mean difference of
 * the channels from their mean, over texels of the fringe.
 */
function tellMixed(
  colour: Picture,
  other: Picture,
  first: Backdrop,
  second: Backdrop,
): { mixed: 'linear light' | 'encoded values'; notice: string } {
  const light = disagreement(colour, other, first, second, true);
  const encoded = disagreement(colour, other, first, second, false);
  if (light === null || encoded === null) {
    return {
      mixed: 'linear light',
      notice: 'Too few half-covered texels to find out how they were blended: taken as light.',
    };
  }
  const mixed = light <= encoded ? 'linear light' : 'encoded values';
  const say = (v: number) => `${(100 * v).toFixed(1)} %`;
  const [own, worse] = light <= encoded ? [light, encoded] : [encoded, light];
  const words = mixed === 'linear light' ? ['as light', 'as sRGB values'] : ['as sRGB values', 'as light'];
  return {
    mixed,
    notice: `Blended ${words[0]}: the channels agree within ${say(own)}; ${words[1]}, within ${say(worse)}.`,
  };
}

function disagreement(
  colour: Picture,
  other: Picture,
  first: Backdrop,
  second: Backdrop,
  linear: boolean,
): number | null {
  const { width, height } = colour;
  const values = linear ? LINEAR_OF_BYTE : ENCODED;
  const step = Math.max(1, Math.floor(Math.max(width, height) / LOOKED));
  const [row1, row2] = [new Float64Array(12), new Float64Array(12)];
  let sum = 0;
  let count = 0;
  for (let y = step >> 1; y < height; y += step) {
    backdropRow(first, y, row1);
    backdropRow(second, y, row2);
    for (let x = step >> 1; x < width; x += step) {
      const i = 4 * (y * width + x);
      const u = (2 * (x + 0.5)) / width - 1;
      const alphas: number[] = [];
      for (let c = 0; c < 3; c++) {
        const apart = at(row1, c, u, values, linear) - at(row2, c, u, values, linear);
        const seen = values[colour.data[i + c]] - values[other.data[i + c]];
        if (Math.abs(apart) >= LEAST_APART) alphas.push(1 - seen / apart);
      }
      if (alphas.length < 2) continue;
      const mean = alphas.reduce((a, b) => a + b, 0) / alphas.length;
      if (mean < MIXED_FROM || mean > MIXED_TO) continue;
      sum += alphas.reduce((s, a) => s + Math.abs(a - mean), 0) / alphas.length;
      count++;
    }
  }
  return count < LEAST_LOOKED ? null : sum / count;
}

function middleApart(a: Backdrop, b: Backdrop): number {
  const [p, q] = [new Float64Array(12), new Float64Array(12)];
  backdropRow(a, a.height / 2, p);
  backdropRow(b, b.height / 2, q);
  return Math.sqrt((p[0] - q[0]) ** 2 + (p[4] - q[4]) ** 2 + (p[8] - q[8]) ** 2);
}

function sayShift(shift: { x: number; y: number } | null, scale: number): string {
  if (!shift) return 'The subject has no texture to check that the two pictures line up.';
  const far = Math.sqrt(shift.x * shift.x + shift.y * shift.y) / scale;
  if (far < 0.25) return `The two pictures line up (${far.toFixed(2)} texels apart).`;
  const say = (v: number) => (v / scale).toFixed(2);
  return `The second picture is shifted by ${say(shift.x)} texels across and ${say(shift.y)} down: the fringe is not exact.`;
}

interface Job {
  colour: Picture;
  other: Picture;
  first: Backdrop;
  second: Backdrop;
  values: Float64Array;
  linear: boolean;
  alpha: Uint8Array;
  own: Uint8Array;
  /** 255 where neither backdrop shows. */
  subject: Uint8Array;
}

function triangulate(
  { colour, other, first, second, values, linear, alpha, own, subject }: Job,
  y0: number,
  y1: number,
): void {
  const { width } = colour;
  const [row1, row2] = [new Float64Array(12), new Float64Array(12)];
  const [b1, b2, c1, c2] = [new Float64Array(3), new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const toByte = linear ? byteOfLinear16Table() : null;
  for (let y = y0; y < y1; y++) {
    backdropRow(first, y, row1);
    backdropRow(second, y, row2);
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const u = (2 * (x + 0.5)) / width - 1;
      let dot = 0;
      let length = 0;
      let light1 = 0;
      let light2 = 0;
      let far1 = 0;
      let far2 = 0;
      for (let c = 0; c < 3; c++) {
        b1[c] = at(row1, c, u, values, linear);
        b2[c] = at(row2, c, u, values, linear);
        c1[c] = values[colour.data[4 * i + c]];
        c2[c] = values[other.data[4 * i + c]];
        const apart = b1[c] - b2[c];
        dot += (c1[c] - c2[c]) * apart;
        length += apart * apart;
        far1 += Math.abs(c1[c] - b1[c]);
        far2 += Math.abs(c2[c] - b2[c]);
        light1 += b1[c];
        light2 += b2[c];
      }
      if (far1 > SHOWS && far2 > SHOWS) subject[i] = 255;
      const a = Math.min(1, Math.max(0, 1 - dot / length));
      alpha[i] = 255 * a + 0.5;
      const [c, b] = light1 <= light2 ? [c1, b1] : [c2, b2];
      for (let k = 0; k < 3; k++) {
        const f = a > 0.004 ? Math.min(1, Math.max(0, (c[k] - (1 - a) * b[k]) / a)) : 0;
        own[4 * i + k] = toByte ? toByte[(f * 65535 + 0.5) | 0] : 255 * f + 0.5;
      }
      own[4 * i + 3] = colour.data[4 * i + 3];
    }
  }
}

/** The backdrop at x, in the values that are mixed; between bytes by a straight line. */
function at(row: Float64Array, c: number, u: number, values: Float64Array, linear: boolean): number {
  const k = 4 * c;
  const encoded = Math.min(1, Math.max(0, row[k] + u * (row[k + 1] + u * (row[k + 2] + u * row[k + 3]))));
  if (!linear) return encoded;
  const place = encoded * 255;
  const low = Math.min(254, place | 0);
  return values[low] + (values[low + 1] - values[low]) * (place - low);
}
