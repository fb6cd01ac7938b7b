import { evaluateRun } from '../run/evaluate.ts';
import { makeStep, type StepEntry } from '../piece/piece-doc.ts';
import type { StepKindName } from '../steps/registry.ts';
import type { Mask, Picture } from '../raster/raster.ts';
import { resize } from '../raster/resize.ts';
import { halvingsTo, shrink } from '../raster/shrink.ts';
import type { RunSource } from '../run/run.ts';
import { candidatesOf, FAMILIES, fromAgreed, type Candidate } from './candidates.ts';
import { likelihoodOf, type Likelihood } from './likelihood.ts';
import { fromSeeds, fromTouches, seedsOf } from './seeds.ts';
import { intersectionOverUnion } from './measures.ts';
import { BOTH } from './weights.ts';
import { smallPicture, type SmallPicture } from './small-picture.ts';

/** A mask to start from, and the run that makes it. */
export interface Proposal {
  run: StepEntry[];
  /** Of the size of the picture. */
  mask: Mask;
  /** What it is called, a word or three. */
  title: string;
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
  /** A picture that is its mask, by its name, as a further source. */
  byName?: RunSource;
  /** Texels of the pictures to one of their full size, up to 1: what a run says in texels is in those of the full size. */
  scale?: number;
  makeId?: () => string;
}

/** What is proposed, and what each kind of step that makes a mask would give. */
export interface AllProposed {
  /** The likeliest first, each another mask than those before it. */
  likeliest: Proposal[];
  /** One for each kind of step, where that kind has something to say. */
  ofKinds: Proposal[];
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
export function proposeMasks(picture: Picture, options: ProposeOptions = {}): Proposal[] {
  return propose(picture, options, () => []).likeliest;
}

/** The same, and the best of each kind of step that makes a mask by itself. */
export function proposeForKinds(picture: Picture, options: ProposeOptions = {}): AllProposed {
  return propose(picture, options, bestOfKinds);
}

function propose(
  picture: Picture,
  { most = MOST, scale = 1, makeId = counted(), ...sources }: ProposeOptions,
  ofKinds: (tried: readonly Tried[], touched: () => Tried[]) => Tried[],
): AllProposed {
  if (Math.min(picture.width, picture.height) < 4) return { likeliest: [], ofKinds: [] };
  const { tried, touched } = tryEach(picture, makeId, scale);
  const weighed = withOthers(tried);
  const made = ({ family, steps, mask: small, reason, likelihood }: Tried): Proposal[] => {
    const isWhole = small.width === picture.width && small.height === picture.height;
    const mask = isWhole ? small : wholeMask(steps, picture, scale);
    return mask ? [{ run: steps, mask, title: FAMILIES[family], reason, likelihood }] : [];
  };
  const sure = fromSources(picture, sources, { makeId, scale }).slice(0, most);
  const ranked = apartFrom(bestOfEach(weighed), most - sure.length);
  return {
    likeliest: [...sure, ...ranked.flatMap(made)],
    ofKinds: [
      ...sure,
      ...ofKinds(weighed, touched)
        .filter((one) => !sure.some((s) => s.run[0].kind === one.steps[0].kind))
        .flatMap(made),
    ],
  };
}

/** By the step that a run begins with. */
function bestOfKinds(tried: readonly Tried[], touched: () => Tried[]): Tried[] {
  const best = new Map<StepKindName, Tried>();
  for (const one of [...tried, ...touched()]) {
    const [{ kind }] = one.steps;
    const before = best.get(kind);
    if (!before || one.likelihood > before.likelihood) best.set(kind, one);
  }
  return [...best.values()];
}

/** Longer side up to which a mask is made as it will be; of a larger picture it is made of a smaller one and magnified. */
const VIEW_SIDE = 2048;

function wholeMask(steps: readonly StepEntry[], picture: Picture, scale: number): Mask | null {
  const halvings = halvingsTo(VIEW_SIDE, picture);
  const mask = maskOf(steps, shrink(picture, halvings, 'colour'), scale / 2 ** halvings);
  return mask && halvings > 0 ? resize(mask, picture.width, picture.height) : mask;
}

/** All that was tried, for those who measure it. */
export const triedMasks = (picture: Picture): Tried[] => tryEach(picture, counted(), 1).tried;

/** @returns also where touches lead, which stand beside the rest: they say what the scribbles say, less well. */
function tryEach(picture: Picture, makeId: () => string, scale: number): { tried: Tried[]; touched: () => Tried[] } {
  const small = smallPicture(picture, scale);
  const tried = tryAll(small, candidatesOf(small, makeId));
  const sure = agreed(tried);
  const seeds = seedsOf(small, sure);
  return {
    tried: [...tried, ...tryAll(small, [...fromSeeds(seeds, makeId), ...fromAgreed(small, sure, makeId)])],
    touched: () => tryAll(small, fromTouches(seeds, makeId)),
  };
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

interface Making {
  makeId: () => string;
  scale: number;
}

/** What further sources say: two pictures of one thing on two backdrops, or a mask that is called one, leave nothing open. */
function fromSources(
  picture: Picture,
  { other, byName }: Pick<ProposeOptions, 'other' | 'byName'>,
  { makeId, scale }: Making,
): Proposal[] {
  const made = (source: RunSource, run: StepEntry[], title: string, reason: string): Proposal[] => {
    const mask = maskOf(run, picture, scale, [source]);
    return mask ? [{ run, mask, title, reason, likelihood: 1 }] : [];
  };
  const sourceIn = (source: RunSource) => ({ sourceId: source.id });
  return [
    ...(byName ? made(byName, [makeStep(makeId(), 'from-channel', { ...sourceIn(byName), channel: 'luminance', fit: 'scale' })], 'Its mask', 'A further source is called its mask.') : []), // prettier-ignore
    ...(other ? made(other, [makeStep(makeId(), 'from-two-backdrops', sourceIn(other))], 'Two backdrops', 'Two pictures on two backdrops: opacity is exact.') : []), // prettier-ignore
  ];
}
