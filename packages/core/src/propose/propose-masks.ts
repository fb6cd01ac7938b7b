import { evaluateRun } from '../run/evaluate.ts';
import { makeStep, type StepEntry } from '../piece/piece-doc.ts';
import type { Mask, Picture } from '../raster/raster.ts';
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
 * @param picture - As large as a view: masks are made at its size, and found at 256 texels a side.
 * @returns None where nothing parts its texels: one colour, a few texels.
 */
export function proposeMasks(
  picture: Picture,
  { most = MOST, other, makeId = counted() }: ProposeOptions = {},
): Proposal[] {
  if (Math.min(picture.width, picture.height) < 4) return [];
  const ranked = apartFrom(bestOfEach(withOthers(triedMasks(picture, makeId))), most);
  const pair = other ? fromPair(picture, other, makeId) : [];
  const found = ranked.map(({ steps, reason, likelihood }) => ({ run: steps, reason, likelihood }));
  return [...pair, ...found].slice(0, most).flatMap((one) => {
    const mask = 'mask' in one ? (one.mask as Mask) : maskOf(one.run, picture);
    return mask ? [{ ...one, mask }] : [];
  });
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

/** What other ways come to, too, is likelier: the mean of how far a mask agrees with the nearest of three other families. */
export function agreementOf(one: Tried, tried: readonly Tried[]): number {
  const nearest = new Map<string, number>();
  for (const two of tried) {
    if (two.family === one.family) continue;
    const alike = intersectionOverUnion(one.mask, two.mask);
    if (alike > (nearest.get(two.family) ?? 0)) nearest.set(two.family, alike);
  }
  const best = [...nearest.values()].sort((a, b) => b - a).slice(0, OTHERS);
  return best.reduce((sum, v) => sum + v, 0) / OTHERS;
}

/** Terms of what a mask says by itself and of how far others agree. */
export const bothTerms = (own: number, others: number): number[] => [1, own, others, own * others, others * others];

function withOthers(tried: readonly Tried[]): Tried[] {
  return tried.map((one) => {
    const terms = bothTerms(one.likelihood, agreementOf(one, tried));
    const likelihood = terms.reduce((sum, term, i) => sum + term * BOTH[i], 0);
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
