import type { MipFilter } from '../mip-filters.ts';
import { handDown } from './hand-down.ts';
import { emptyPlane, halve, spread, tapsOutwards, weighBlocks, type Plane } from './planes.ts';
import { averageMeans, isEven, UNIT, type Reach } from './reach.ts';

/** Rounds at most, and the share of a level's texels on the wrong side with which they end; of small levels it is chance. */
const ROUNDS = 8;
const ENOUGH = 0.001;
const JUDGED_FROM = 1024;
/** How far past the threshold a mean is wanted, in 256ths: 8-bit levels are rounded, and the first is estimated. */
const PAST = 2 * UNIT;
/** Moves go further than to what is missing (over-relaxation): most are taken back in part by plain averages. */
const RELAXED = 1.6;
const MOST_ASKED = 2 ** 17 - 1;

/**
 * Makes means hold under a wider filter too. In rounds, as of projections onto convex sets (L. Gubin, B. Polyak, E. Raik
 * 1967): what the filter makes of the means is computed for every level; what is on the wrong side there moves the means it
 * is made of, coarse levels first; then plain averages are put on their side once more. No mean leaves what is allowed.
 * Levels past the first whose sides do not halve evenly are left as they are.
 *
 * @param levels - From level 1; sides chosen and means handed down.
 * @param texels - Level 0 as those means have it, of twice the size of level 1.
 */
export function holdUnder(
  filter: MipFilter,
  levels: readonly Reach[],
  texels: Uint8Array,
  threshold: number,
  checkpoint?: (share: number) => void,
): void {
  const uneven = levels.findIndex((level, l) => l > 0 && !isEven(levels[l - 1], level));
  const chain = uneven < 0 ? levels : levels.slice(0, uneven);
  const taps = tapsOutwards(filter);
  const made = chain.map(emptyPlane);
  const asked = chain.map(emptyPlane);
  const first = firstLevel(taps, chain[0], texels);
  for (let round = 0; round < ROUNDS; round++) {
    checkpoint?.(round / ROUNDS);
    first(made[0]);
    for (let l = 1; l < chain.length; l++) {
      halve(made[l - 1].data, taps, 0, made[l]);
      clamp(made[l].data);
    }
    if (ask(chain, made, asked, taps, threshold) <= ENOUGH) return;
    move(chain[0], asked[0]);
    for (let l = 1; l < levels.length; l++) averageMeans(levels[l - 1], levels[l]);
    for (let l = levels.length - 1; l > 0; l--) handDown(levels[l], levels[l - 1]);
  }
}

/**
 * @returns a function that estimates what the filter makes of level 0 from the means of its blocks; what their texels differ
 *   from these is added as it was at first.
 */
function firstLevel(taps: readonly number[], level: Reach, texels: Uint8Array): (out: Plane) => void {
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

/** What is asked of the texels of a mean for one that it lacks, times their weight: that makes up for it. */
function askedOf(taps: readonly number[]): number {
  return 1 / taps.reduce((sum, w) => sum + 2 * w * w, 0) ** 2;
}

/** Writes what each level's means are to change by. @returns the largest share of a level that is on the wrong side. */
function ask(
  chain: readonly Reach[],
  made: readonly Plane[],
  asked: readonly Plane[],
  taps: readonly number[],
  threshold: number,
): number {
  const centre = Math.round((threshold - 0.5) * UNIT);
  const scale = askedOf(taps);
  let most = 0;
  for (const { data } of asked) data.fill(0);
  for (let l = chain.length - 1; l >= 0; l--) {
    const wrong = askLevel(chain[l].kept, made[l].data, asked[l].data, centre);
    if (chain[l].kept.length >= JUDGED_FROM) most = Math.max(most, wrong);
    if (l > 0) spread(asked[l], taps, scale, asked[l - 1]);
  }
  return most;
}

function askLevel(kept: Uint8Array, made: Int32Array, asked: Int32Array, centre: number): number {
  let wrong = 0;
  for (let i = 0; i < kept.length; i++) {
    const way = 2 * kept[i] - 1;
    const past = way * (made[i] - centre);
    const missing = PAST - past - way * asked[i]; // what coarser levels ask for counts already
    if (missing <= 0) continue;
    if (past < 0) wrong++;
    asked[i] = Math.max(-MOST_ASKED, Math.min(MOST_ASKED, asked[i] + way * Math.round(RELAXED * missing)));
  }
  return wrong / kept.length;
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
