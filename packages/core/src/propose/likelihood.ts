import { findRegions } from '../mask/regions.ts';
import type { Mask } from '../raster/raster.ts';
import type { SmallPicture } from './small-picture.ts';
import { WEIGHTS } from './weights.ts';

/** What speaks for a mask without knowing the truth, each 0–1. */
export interface Likelihood {
  /** How much oftener than elsewhere its edge lies where the picture has one. */
  edge: number;
  /** How strong the picture's edges are along it, beside those of the whole picture. */
  rim: number;
  /** Of the picture's strong edges, those that it explains: at its edge, or inside of what is kept. */
  explained: number;
  /** How different the colours on its two sides are. */
  apart: number;
  /** Of the spread of all colours, what lies between the two sides. */
  between: number;
  /** How much more detail is inside than outside: what is in front is sharper. */
  sharper: number;
  /** How much of the border is dropped. */
  border: number;
  /** How much of one kind the border is. */
  even: number;
  /** How much of what is kept is one subject. */
  one: number;
  /** How free of specks it is. */
  clean: number;
  /** How short its edge is for what it keeps. */
  simple: number;
  /** Whether about as much is kept as of a subject that fills a picture. */
  size: number;
  /** How nearer to the middle than the whole picture it is. */
  central: number;
  /** How sure it is of each texel: few are half kept. */
  sure: number;
}

const KEYS: readonly (keyof Likelihood)[] = ['edge', 'rim', 'explained', 'apart', 'between', 'sharper', 'border', 'even', 'one', 'clean', 'simple', 'size', 'central', 'sure']; // prettier-ignore

const HALF = 128;
/** Bins of a channel, for colours of the two sides. */
const BINS = 8;

/** What a mask of a small picture comes to: as much of the truth as it is likely to have, 0–1. */
export function likelihoodOf(small: SmallPicture, mask: Mask): { all: number; parts: Likelihood } | null {
  const parts = partsOf(small, mask);
  return parts && { all: clamp(weighed(parts)), parts };
}

/** The parts, and their products two by two, in the order of the weights. */
export function termsOf(parts: Likelihood): number[] {
  const values = KEYS.map((key) => parts[key]);
  return [1, ...values, ...values.flatMap((v, i) => values.slice(i).map((w) => v * w))];
}

function weighed(parts: Likelihood): number {
  return termsOf(parts).reduce((sum, term, i) => sum + term * (WEIGHTS[i] ?? 0), 0);
}

/** Null where nothing, or all, is kept. */
function partsOf(
  { picture, gradient, strong, frame, fromMiddle: distances, lab }: SmallPicture,
  { width, height, data }: Mask,
): Likelihood | null {
  const n = width * height;
  const kept = new Uint8Array(n);
  for (let i = 0; i < n; i++) kept[i] = Number(data[i] >= HALF);
  let [rim, rimStrong, rimSum, anyStrong, explained, area, framed, keptFrame, soft] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  let [fromMiddle, all, gradients] = [0, 0, 0];
  const inner = [0, 0];
  const inside = [0, 0];
  const sums = [new Float64Array(4), new Float64Array(4)];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const side = kept[i];
      const isRim =
        (x < width - 1 && side !== kept[i + 1]) ||
        (y < height - 1 && side !== kept[i + width]) ||
        (x > 0 && side !== kept[i - 1]) ||
        (y > 0 && side !== kept[i - width]);
      const g = gradient[i];
      const isStrong = g > strong;
      const distance = distances[i];
      all += distance;
      gradients += g;
      area += side;
      fromMiddle += side * distance;
      framed += frame[i];
      keptFrame += side * frame[i];
      if (data[i] > 40 && data[i] < 215) soft++;
      const sum = sums[side];
      for (let c = 0; c < 3; c++) {
        const v = lab[3 * i + c];
        sum[c] += v;
        sum[3] += v * v;
      }
      if (isRim) {
        rim++;
        rimSum += g;
        rimStrong += Number(isStrong);
      } else {
        inner[side] += g;
        inside[side]++;
      }
      if (isStrong) {
        anyStrong++;
        explained += Number(isRim || side === 1);
      }
    }
  }
  if (area === 0 || area === n) return null;
  const share = area / n;
  const { areas } = findRegions(data, width, height, { low: HALF, high: 255, connectivity: 8 });
  const largest = areas.reduce((most, a) => Math.max(most, a), 0);
  const speck = Math.max(3, 0.0004 * n);
  const specks = areas.reduce((sum, a) => sum + Number(a < speck), 0);
  const [insideDetail, outsideDetail] = [1, 0].map((side) => inner[side] / Math.max(1, inside[side]));
  const meanGradient = gradients / n + 1e-6;
  const bordered = keptFrame / Math.max(1, framed);
  return {
    edge: clamp(rimStrong / Math.max(1, rim)),
    rim: clamp(rimSum / Math.max(1, rim) / meanGradient / 6),
    explained: anyStrong === 0 ? 0 : explained / anyStrong,
    apart: coloursApart(picture.data, kept),
    between: betweenOf(sums, area, n),
    sharper: insideDetail / (insideDetail + outsideDetail + 1e-6),
    border: 1 - bordered,
    even: 1 - 4 * bordered * (1 - bordered),
    one: largest / area,
    clean: 1 / (1 + specks / 12),
    simple: clamp((4 * Math.sqrt(area)) / Math.max(1, rim)),
    size: Math.min(1, share / 0.06) * Math.min(1, (1 - share) / 0.2),
    central: clamp(1.5 - fromMiddle / area / (all / n)),
    sure: 1 - Math.min(1, (3 * soft) / n),
  };
}

/** Fisher's criterion as a share: variance between the two means of all variance. */
function betweenOf(sums: readonly Float64Array[], area: number, n: number): number {
  const counts = [n - area, area];
  let [total, within] = [0, 0];
  const whole = [0, 1, 2].map((c) => (sums[0][c] + sums[1][c]) / n);
  total = sums[0][3] + sums[1][3] - n * whole.reduce((sum, v) => sum + v * v, 0);
  for (const [side, sum] of sums.entries()) {
    within += sum[3] - (sum[0] ** 2 + sum[1] ** 2 + sum[2] ** 2) / counts[side];
  }
  return total <= 1e-9 ? 0 : clamp(1 - within / total);
}

/** 1 − the Bhattacharyya coefficient of the colours of both sides (A. Bhattacharyya, 1943), in bins that overlap by half. */
function coloursApart(rgba: Uint8Array, kept: Uint8Array): number {
  const sides = [new Float64Array(BINS ** 3), new Float64Array(BINS ** 3)];
  const counts = [0, 0];
  for (let i = 0; i < kept.length; i++) {
    const bin = ((rgba[4 * i] >> 5) * BINS + (rgba[4 * i + 1] >> 5)) * BINS + (rgba[4 * i + 2] >> 5);
    sides[kept[i]][bin]++;
    counts[kept[i]]++;
  }
  let alike = 0;
  for (let b = 0; b < sides[0].length; b++) alike += Math.sqrt((sides[0][b] / counts[0]) * (sides[1][b] / counts[1]));
  return 1 - alike;
}

const clamp = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v);
