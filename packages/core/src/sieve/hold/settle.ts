import type { MipFilter } from '../mip-filters.ts';
import { handDown } from './hand-down.ts';
import { halvingOf } from './halving.ts';
import { emptyPlane, halve, tapsOutwards, weighBlocks, type Plane } from './planes.ts';
import { averageMeans, isEven, UNIT, type Reach } from './reach.ts';

/** Means that are to be met all at once. */
export interface Means {
  /** From the level whose means are free to the coarsest; sides chosen and means handed down. */
  chain: readonly Reach[];
  /** For each: the mean that its clip cuts at, in 256ths, where averages are plain, and where they are not. */
  centres: readonly number[];
  centre: number;
  /** Level 0 as the means have it, where the first of the chain are its blocks of 2 × 2; null where that is level 0. */
  texels: Uint8Array | null;
}

/** Rounds at most: where sides halve evenly, where they do not, and where then more means than this are free. */
const ROUNDS = { even: 8, uneven: 20, large: 8 };
const LARGE = 2e6;
/** Share of a level's texels on the wrong side with which rounds end; of small levels it is chance. */
const ENOUGH = 0.001;
const JUDGED_FROM = 1024;
/**
 * How far past the centre a mean is wanted, in 256ths, and how far it goes there in one round. Of wider filters the first
 * level is estimated, and plain averages take back a part of most moves: both are larger.
 */
const PLAIN = { past: 0.6 * UNIT, step: 0.8 };
const WIDER = { past: 2 * UNIT, step: 1.6 };
const MOST_ASKED = 2 ** 17 - 1;

/**
 * Handing means down meets them one level at a time. Where sides do not halve evenly, means share texels and not all are
 * met; and a filter wider than 2 × 2 takes in what lies around. Here all levels are met at once, in rounds, by projections
 * onto convex sets (L. Gubin, B. Polyak, E. Raik 1967): what a filter makes of the means is computed for every level; what
 * is on the wrong side moves the means it is made of, coarse levels first. No mean leaves what is allowed.
 *
 * @param filter - Besides plain averages. @param throughout - It takes part in every round; otherwise plain averages have
 *   the last word where sides do not halve evenly. @param rounds - At most.
 */
export function settle(
  means: Means,
  { filter, throughout, rounds = roundsFor(means.chain) }: { filter: MipFilter; throughout: boolean; rounds?: number },
  checkpoint?: (share: number) => void,
): void {
  const { chain, centres } = means;
  const last = evenSteps(chain); // from here on means share texels; those before follow from it
  const even = chain.slice(0, last + 1);
  const shared = last < chain.length - 1;
  if (filter === 'box' && !shared) return;
  const planes = { made: chain.map(emptyPlane), asked: chain.map(emptyPlane) };
  const wide = filter === 'box' ? null : mover(filter, means, planes);
  const rest = { ...means, chain: chain.slice(last), centres: centres.slice(last) };
  const plain = shared ? mover('box', rest, { made: planes.made.slice(last), asked: planes.asked.slice(last) }) : null;
  for (let round = 0; round < rounds; round++) {
    checkpoint?.(round / rounds);
    const widely = wide && (throughout || round < ROUNDS.even);
    let wrong = 0;
    if (widely) {
      wrong = wide();
      for (let l = 1; l <= last; l++) averageMeans(chain[l - 1], chain[l]);
    }
    if (plain) wrong = Math.max(wrong, plain());
    if (widely) handDownAll(even);
    if (wrong <= ENOUGH) break;
  }
  if (plain) handDownAll(even);
}

function roundsFor(chain: readonly Reach[]): number {
  const last = evenSteps(chain);
  if (last === chain.length - 1) return ROUNDS.even;
  return chain[last].mean.length > LARGE ? ROUNDS.large : ROUNDS.uneven;
}

/** How many levels follow the first by halving evenly. */
function evenSteps(chain: readonly Reach[]): number {
  const uneven = chain.findIndex((level, l) => l > 0 && !isEven(chain[l - 1], level));
  return (uneven < 0 ? chain.length : uneven) - 1;
}

function handDownAll(chain: readonly Reach[]): void {
  for (let l = chain.length - 1; l > 0; l--) handDown(chain[l], chain[l - 1]);
}

/** @returns a function that moves the free means, and says which share of a level was on the wrong side before, at the most. */
function mover(filter: MipFilter, means: Means, { made, asked }: { made: Plane[]; asked: Plane[] }): () => number {
  const { chain, centres, centre, texels } = means;
  const plain = filter === 'box';
  const halvings = chain.slice(1).map((level, l) => halvingOf(filter, chain[l], level));
  const estimate = texels && !plain ? estimator(filter, chain[0], texels) : null;
  const { past, step } = plain ? PLAIN : WIDER;
  return () => {
    if (estimate) estimate(made[0]);
    else made[0].data.set(chain[0].mean);
    for (const [l, by] of halvings.entries()) {
      by.halve(made[l].data, made[l + 1]);
      clamp(made[l + 1].data);
    }
    let most = 0;
    for (const { data } of asked) data.fill(0);
    for (let l = chain.length - 1; l >= (estimate ? 0 : 1); l--) {
      const { kept } = chain[l];
      const wrong = ask(kept, made[l].data, asked[l].data, plain ? centres[l] : centre, past, step);
      if (kept.length >= JUDGED_FROM) most = Math.max(most, wrong / kept.length);
      if (l > 0) halvings[l - 1].spread(asked[l], asked[l - 1]);
    }
    move(chain[0], asked[0]);
    return most;
  };
}

/**
 * @returns a function that estimates what a filter makes of level 0 from the means of its blocks; what their texels differ
 *   from these is added as it was at first.
 */
function estimator(filter: MipFilter, level: Reach, texels: Uint8Array): (out: Plane) => void {
  const taps = tapsOutwards(filter);
  const within = emptyPlane(level);
  const blocks = emptyPlane(level);
  halve(texels, taps, 8, within);
  weighBlocks(level.mean, taps, blocks);
  subtract(within.data, blocks.data);
  return (out) => {
    weighBlocks(level.mean, taps, out);
    add(out.data, within.data);
    clamp(out.data);
  };
}

function add(to: Int32Array, from: Int32Array): void {
  for (let i = 0; i < to.length; i++) to[i] += from[i];
}

function subtract(from: Int32Array, by: Int32Array): void {
  for (let i = 0; i < from.length; i++) from[i] -= by[i];
}

const FULL = 255 * UNIT;

/** As bytes do: filters with negative lobes go past the ends. */
function clamp(data: Int32Array): void {
  for (let i = 0; i < data.length; i++) {
    const v = data[i];
    if (v < 0) data[i] = 0;
    else if (v > FULL) data[i] = FULL;
  }
}

/** Adds to what is asked of the means of a level. @returns how many are on the wrong side. */
function ask(
  kept: Uint8Array,
  made: Int32Array,
  asked: Int32Array,
  centre: number,
  past: number,
  step: number,
): number {
  let wrong = 0;
  for (let i = 0; i < kept.length; i++) {
    const way = 2 * kept[i] - 1;
    const off = way * (made[i] - centre);
    const missing = past - off - way * asked[i]; // what coarser levels ask for counts already
    if (missing <= 0) continue;
    if (off < 0) wrong++;
    asked[i] = Math.max(-MOST_ASKED, Math.min(MOST_ASKED, asked[i] + way * Math.round(step * missing)));
  }
  return wrong;
}

function move({ mean, low, high }: Reach, { data }: Plane): void {
  for (let i = 0; i < mean.length; i++) {
    const by = data[i];
    if (by === 0) continue;
    const was = mean[i];
    const to = was + by;
    // what is out of its bounds already, for want of anything better, goes no further
    mean[i] = by > 0 ? Math.max(was, Math.min(to, high[i])) : Math.min(was, Math.max(to, low[i]));
  }
}
