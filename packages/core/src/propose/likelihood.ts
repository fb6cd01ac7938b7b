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
  /** How near its edge lies to where colours change most around it. */
  located: number;
  /** How far colours a few texels inside and outside of its edge are from each other, beside the spread of all. */
  step: number;
  /** Of the four borders, those that are free of it. */
  free: number;
}

const KEYS: readonly (keyof Likelihood)[] = ['edge', 'rim', 'explained', 'apart', 'between', 'sharper', 'border', 'even', 'one', 'clean', 'simple', 'size', 'central', 'sure', 'located', 'step', 'free']; // prettier-ignore

const HALF = 128;
/** Texels from an edge at which its two sides are compared. */
const STEP = 2;
/** Share of a border up to which it is free. */
const FREE = 0.02;

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
  { gradient, strong, frame, fromMiddle: distances, lab, bins, ridge, whole }: SmallPicture,
  { width, height, data }: Mask,
): Likelihood | null {
  const n = width * height;
  const kept = new Uint8Array(n);
  for (let i = 0; i < n; i++) kept[i] = Number(data[i] >= HALF);
  let [rim, rimStrong, rimSum, anyStrong, explained, area, framed, keptFrame, soft] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  let [fromMiddle, innerKept, innerDropped, insideKept, insideDropped] = [0, 0, 0, 0, 0];
  let [light, a, b, squares] = [0, 0, 0, 0];
  let [located, stepped, steps] = [0, 0, 0];
  const keptBins = new Uint32Array(whole.bins.length);
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
      framed += frame[i];
      if (data[i] > 40 && data[i] < 215) soft++;
      if (side === 1) {
        const [l1, a1, b1] = [lab[3 * i], lab[3 * i + 1], lab[3 * i + 2]];
        light += l1;
        a += a1;
        b += b1;
        squares += l1 * l1 + a1 * a1 + b1 * b1;
        keptBins[bins[i]]++;
        area++;
        fromMiddle += distances[i];
        keptFrame += frame[i];
      }
      if (isRim) {
        rim++;
        rimSum += g;
        rimStrong += Number(isStrong);
        located += g / (ridge[i] + 1e-6);
      } else if (side === 1) {
        innerKept += g;
        insideKept++;
      } else {
        innerDropped += g;
        insideDropped++;
      }
      if (x >= STEP && x < width - STEP && side !== kept[i + 1]) {
        stepped += apartOf(lab, i - STEP, i + STEP);
        steps++;
      }
      if (y >= STEP && y < height - STEP && side !== kept[i + width]) {
        stepped += apartOf(lab, i - STEP * width, i + STEP * width);
        steps++;
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
  const insideDetail = innerKept / Math.max(1, insideKept);
  const outsideDetail = innerDropped / Math.max(1, insideDropped);
  const meanGradient = whole.gradient / n + 1e-6;
  const bordered = keptFrame / Math.max(1, framed);
  return {
    edge: clamp(rimStrong / Math.max(1, rim)),
    rim: clamp(rimSum / Math.max(1, rim) / meanGradient / 6),
    explained: anyStrong === 0 ? 0 : explained / anyStrong,
    apart: coloursApart(whole.bins, keptBins, area, n),
    between: betweenOf(whole.sums, [light, a, b, squares], area, n),
    sharper: insideDetail / (insideDetail + outsideDetail + 1e-6),
    border: 1 - bordered,
    even: 1 - 4 * bordered * (1 - bordered),
    one: largest / area,
    clean: 1 / (1 + specks / 12),
    simple: clamp((4 * Math.sqrt(area)) / Math.max(1, rim)),
    size: Math.min(1, share / 0.06) * Math.min(1, (1 - share) / 0.2),
    central: clamp(1.5 - fromMiddle / area / (whole.fromMiddle / n)),
    sure: 1 - Math.min(1, (3 * soft) / n),
    located: located / Math.max(1, rim),
    step: clamp(stepped / Math.max(1, steps) / (2 * whole.spread + 1e-6)),
    free: freeOf(kept, width, height) / 4,
  };
}

/**
 * Fisher's criterion as a share: variance between the two means of all variance.
 *
 * @param whole - Sums of the three channels, and of their squares, of all texels. @param kept - Of those that are kept.
 */
function betweenOf(whole: readonly number[], kept: readonly number[], area: number, n: number): number {
  const sides = [whole.map((sum, c) => sum - kept[c]), kept];
  const counts = [n - area, area];
  const squaresOf = ([x, y, z]: readonly number[]) => x * x + y * y + z * z;
  const total = whole[3] - squaresOf(whole) / n;
  const within = sides.reduce((sum, side, k) => sum + side[3] - squaresOf(side) / counts[k], 0);
  return total <= 1e-9 ? 0 : clamp(1 - within / total);
}

/** 1 − the Bhattacharyya coefficient of the colours of both sides (A. Bhattacharyya, 1943), counted in bins. */
function coloursApart(whole: Uint32Array, kept: Uint32Array, area: number, n: number): number {
  let alike = 0;
  for (let i = 0; i < whole.length; i++) alike += Math.sqrt(kept[i] * (whole[i] - kept[i]));
  return 1 - alike / Math.sqrt(area * (n - area));
}

/** Borders that next to nothing is kept of. */
function freeOf(kept: Uint8Array, width: number, height: number): number {
  const isFree = (count: number, at: (k: number) => number) => {
    let sum = 0;
    for (let k = 0; k < count; k++) sum += kept[at(k)];
    return Number(sum < FREE * count);
  };
  return (
    isFree(width, (x) => x) +
    isFree(width, (x) => (height - 1) * width + x) +
    isFree(height, (y) => y * width) +
    isFree(height, (y) => y * width + width - 1)
  );
}

/** Distance of two texels in OKLab. */
function apartOf(lab: Float32Array, i: number, j: number): number {
  const [l, a, b] = [lab[3 * i] - lab[3 * j], lab[3 * i + 1] - lab[3 * j + 1], lab[3 * i + 2] - lab[3 * j + 2]];
  return Math.sqrt(l * l + a * a + b * b);
}

const clamp = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v);
