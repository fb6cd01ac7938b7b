import { evaluateRun } from '../run/evaluate.ts';
import { makeStep, type StepEntry } from '../piece/piece-doc.ts';
import type { Mask, Picture } from '../raster/raster.ts';
import { resize } from '../raster/resize.ts';
import { halvingsTo, shrink } from '../raster/shrink.ts';
import type { RunSource } from '../run/run.ts';
import { candidatesOf, fromAgreed, fromSeeds, type Candidate } from './candidates.ts';
import { likelihoodOf, type Likelihood } from './likelihood.ts';
import { BOTH } from './weights.ts';
import { smallPicture, type SmallPicture } from './small-picture.ts';

/** A mask to start from, and the run that makes it. */
export interface Proposal {
  run: StepEntry[];
  /** Of the size of the picture. */
  mask: Mask;
  /** Why it may be the one, a line. */
  reason: string;
  /** 0–1; by what {@link likelihoodOf} says, without a truth. */
  likelihood: number;
}

export interface ProposeOptions {
  /** At the most. */
  most?: number;
  /** The same on another backdrop, as a further source. */
  other?: RunSource;
  makeId?: () => string;
}

const MOST = 6;
/** Masks that agree so far are one proposal. */
const SAME = 0.93;
const HALF = 128;

interface Tried extends Candidate {
  /** Of the small picture. */
  mask: Mask;
  likelihood: number;
  parts: Likelihood;
}

/**
 * Masks that a picture without one may start from, the likeliest first: its backdrop, the colours of its border, its parts by
 * colour, what is light or dark, colourful or grey, and the subject that most of those agree on, by scribbles.
 *
 * @param picture - As large as a view: masks are found at 256 texels a side, and made at up to 2048.
 * @returns None where nothing parts its texels: one colour, a few texels.
 */
export function proposeMasks(
  picture: Picture,
  { most = MOST, other, makeId = counted() }: ProposeOptions = {},
): Proposal[] {
  if (Math.min(picture.width, picture.height) < 4) return [];
  const ranked = apartFrom(bestOfEach(withOthers(triedMasks(picture, makeId))), most);
  const pair = other ? fromPair(picture, other, makeId) : [];
  const found = ranked.slice(0, most - pair.length).flatMap(({ steps, reason, likelihood }): Proposal[] => {
    const mask = wholeMask(steps, picture);
    return mask ? [{ run: steps, mask, reason, likelihood }] : [];
  });
  return [...pair, ...found];
}

/** Longer side up to which a mask is made as it will be; of a larger picture it is made of a smaller one and magnified. */
const VIEW_SIDE = 2048;

function wholeMask(steps: readonly StepEntry[], picture: Picture): Mask | null {
  const halvings = halvingsTo(VIEW_SIDE, picture);
  const mask = maskOf(steps, shrink(picture, halvings, 'colour'), 1 / 2 ** halvings);
  return mask && halvings > 0 ? resize(mask, picture.width, picture.height) : mask;
}

/** All that was tried, for those who measure it. */
export function triedMasks(picture: Picture, makeId: () => string = counted()): Tried[] {
  const small = smallPicture(picture);
  const tried = tryAll(small, candidatesOf(small, makeId));
  const sure = agreed(tried);
  return [...tried, ...tryAll(small, [...fromSeeds(small, sure, makeId), ...fromAgreed(small, sure, makeId)])];
}

function counted(): () => string {
  let n = 0;
  return () => `proposed-${++n}`;
}

function maskOf(steps: readonly StepEntry[], picture: Picture, scale = 1, others: RunSource[] = []): Mask | null {
  const sources = [{ id: 'picture', sha256: 'picture', picture }, ...others];
  const { mask, steps: done } = evaluateRun(steps, { sources, scale });
  return done.some((s) => s.error) ? null : mask;
}

function tryAll(small: SmallPicture, candidates: readonly Candidate[]): Tried[] {
  return candidates.flatMap((candidate) => {
    const mask = maskOf(candidate.steps, small.picture, 1 / small.factor);
    if (!mask) return [];
    const found = likelihoodOf(small, mask);
    return found ? [{ ...candidate, mask, likelihood: found.all, parts: found.parts }] : [];
  });
}

/** How sure each texel is to be kept, by all that was tried: the likelier counts far more. */
function agreed(tried: readonly Tried[]): Float32Array {
  const out = new Float32Array(tried[0]?.mask.data.length ?? 0);
  const best = Math.max(...tried.map((t) => t.likelihood));
  const weights = tried.map((t) => Math.exp(20 * (t.likelihood - best)));
  const whole = weights.reduce((sum, w) => sum + w, 0);
  for (const [n, { mask }] of tried.entries()) {
    const weight = weights[n] / (255 * whole);
    for (let i = 0; i < out.length; i++) out[i] += weight * mask.data[i];
  }
  return out;
}

/** How many of other families a mask is held against: those that are most like it. */
const OTHERS = 3;

/** What other ways come to, too, is likelier: for each, the mean of how far it agrees with the nearest of three other families. */
export function agreementsOf(tried: readonly Pick<Tried, 'family' | 'mask'>[]): number[] {
  const bits = tried.map(({ mask }) => bitsOf(mask));
  return tried.map(({ family }, i) => {
    const nearest = new Map<string, number>();
    for (const [j, two] of tried.entries()) {
      if (two.family === family) continue;
      const alike = sharedBits(bits[i], bits[j]);
      if (alike > (nearest.get(two.family) ?? 0)) nearest.set(two.family, alike);
    }
    const best = [...nearest.values()].sort((a, b) => b - a).slice(0, OTHERS);
    return best.reduce((sum, v) => sum + v, 0) / OTHERS;
  });
}

/** Whether each texel is kept, 32 to a word: all pairs are compared. */
function bitsOf({ data }: Mask): Int32Array {
  const out = new Int32Array(Math.ceil(data.length / 32));
  for (let i = 0; i < data.length; i++) if (data[i] >= HALF) out[i >> 5] |= 1 << (i & 31);
  return out;
}

/** Intersection over union. */
function sharedBits(a: Int32Array, b: Int32Array): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    both += ones(a[i] & b[i]);
    either += ones(a[i] | b[i]);
  }
  return either === 0 ? 1 : both / either;
}

/** Bits of a word that are set (P. Wegner, 1960, in parallel). */
function ones(word: number): number {
  let v = word - ((word >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** Terms of what a mask says by itself and of how far others agree. */
export const bothTerms = (own: number, others: number): number[] => [1, own, others, own * others, others * others];

function withOthers(tried: readonly Tried[]): Tried[] {
  const agreements = agreementsOf(tried);
  return tried.map((one, i) => {
    const terms = bothTerms(one.likelihood, agreements[i]);
    const likelihood = terms.reduce((sum, term, k) => sum + term * BOTH[k], 0);
    return { ...one, likelihood: Math.max(0, Math.min(1, likelihood)) };
  });
}

function bestOfEach(tried: readonly Tried[]): Tried[] {
  const best = new Map<string, Tried>();
  for (const one of tried) {
    const before = best.get(one.family);
    if (!before || one.likelihood > before.likelihood) best.set(one.family, one);
  }
  return [...best.values()].sort((a, b) => b.likelihood - a.likelihood);
}

/** The likeliest, each another mask than those before it. */
function apartFrom(ranked: readonly Tried[], most: number): Tried[] {
  const out: Tried[] = [];
  for (const one of ranked) {
    if (out.length < most && !out.some((two) => intersectionOverUnion(one.mask, two.mask) > SAME)) out.push(one);
  }
  return out;
}

/** Of what is kept at one half (P. Jaccard, 1912). */
export function intersectionOverUnion(a: Mask, b: Mask): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < a.data.length; i++) {
    const [one, two] = [a.data[i] >= HALF, b.data[i] >= HALF];
    both += Number(one && two);
    either += Number(one || two);
  }
  return either === 0 ? 1 : both / either;
}

/** Two pictures of one thing on two backdrops say alpha exactly. */
function fromPair(picture: Picture, other: RunSource, makeId: () => string): Proposal[] {
  const run = [makeStep(makeId(), 'from-two-backdrops', { sourceId: other.id })];
  const mask = maskOf(run, picture, 1, [other]);
  return mask ? [{ run, mask, reason: 'Two pictures on two backdrops: opacity is exact.', likelihood: 1 }] : [];
}
