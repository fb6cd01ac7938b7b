import { fromLabRows, makeLabRows, toLabRows } from '../colour/lab-rows.ts';
import { SieveError } from '../errors.ts';
import { HALF } from '../mask/edge-distance.ts';
import { asWords, makePicture, type Picture } from '../raster/raster.ts';
import type { StepEnv, StepKind } from './step.ts';

export interface MatchParams {
  /** The picture to be like. */
  sourceId: string;
  /** 0 leaves the lightness, 1 gives it the mean and spread of the reference. */
  lightness: number;
  /** The same of the two colour axes. */
  colour: number;
}

/** Mean and spread of lightness and of the two colour axes. */
export interface LabSpread {
  mean: [number, number, number];
  spread: [number, number, number];
}

/**
 * Each axis of a perceptual space is shifted and scaled to the reference's mean and standard deviation: E. Reinhard,
 * M. Ashikhmin, B. Gooch, P. Shirley, "Color Transfer between Images" (2001), here in OKLab.
 */
export const match: StepKind<MatchParams> = {
  stretch: 'colour',
  purpose: 'recolour',
  needs: 'a second source',
  label: 'Match',
  hint: 'Matches the colours of what is kept to another picture: their mean and their spread.',
  defaults: { sourceId: '', lightness: 1, colour: 1 },
  ranges: { lightness: { min: 0, max: 1 }, colour: { min: 0, max: 1 } },
  pullsMask: false,
  reads: ({ sourceId }) => (sourceId ? [{ id: sourceId, as: 'colour', otherSize: 'scaled' }] : []),
  apply({ colour, mask }, params, env) {
    if (!params.sourceId) return { notice: 'Choose the picture whose colours are to be matched.' };
    const reference = env.source(params.sourceId);
    const theirs = labSpread(reference, (i) => reference.data[4 * i + 3], env);
    const own = labSpread(colour, (i) => mask.data[i], env);
    if (!theirs) {
      throw new SieveError(
        'unsupported',
        'The reference is transparent all over.',
        'Choose a picture with something on it.',
      );
    }
    if (!own) return { notice: 'The mask keeps nothing, so there is no colour to match.' };
    const strength = [params.lightness, params.colour, params.colour];
    const gain = strength.map((s, k) => 1 + s * ((own.spread[k] > 1e-4 ? theirs.spread[k] / own.spread[k] : 1) - 1));
    const add = strength.map((s, k) => own.mean[k] * (1 - gain[k]) + s * (theirs.mean[k] - own.mean[k]));
    return { colour: scaled(colour, gain, add, env) };
  },
};

/** Spread of the texels whose alpha is at least one half; null where there is none. */
export function labSpread(
  picture: Picture,
  alphaOf: (i: number) => number,
  env: Pick<StepEnv, 'bands'>,
): LabSpread | null {
  const { width, height } = picture;
  const words = asWords(picture.data);
  const rows = makeLabRows(width);
  const sums = new Float64Array(6);
  let count = 0;
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      toLabRows(words, y * width, (y + 1) * width, rows);
      const { L, a, b } = rows;
      for (let x = 0, i = y * width; x < width; x++, i++) {
        if (alphaOf(i) < HALF) continue;
        count++;
        sums[0] += L[x];
        sums[1] += a[x];
        sums[2] += b[x];
        sums[3] += L[x] * L[x];
        sums[4] += a[x] * a[x];
        sums[5] += b[x] * b[x];
      }
    }
  });
  if (count === 0) return null;
  const mean = [0, 1, 2].map((k) => sums[k] / count) as LabSpread['mean'];
  const spread = [0, 1, 2].map((k) =>
    Math.sqrt(Math.max(0, sums[3 + k] / count - mean[k] * mean[k])),
  ) as LabSpread['spread'];
  return { mean, spread };
}

function scaled(colour: Picture, gain: number[], add: number[], env: StepEnv): Picture {
  const { width, height } = colour;
  const out = env.allocate(colour.data.length);
  const [from, to] = [asWords(colour.data), asWords(out)];
  const rows = makeLabRows(width);
  const axes = [rows.L, rows.a, rows.b];
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      toLabRows(from, y * width, (y + 1) * width, rows);
      for (const [k, axis] of axes.entries()) {
        for (let x = 0; x < width; x++) axis[x] = axis[x] * gain[k] + add[k];
      }
      fromLabRows(rows, from, to, y * width, (y + 1) * width);
    }
  });
  return makePicture(width, height, out);
}
