import { SieveError } from '../../errors.ts';
import { allocateHeap, makeMask, type Allocate, type Mask } from '../../raster/raster.ts';
import { filteredMaskMips } from '../filtered-mips.ts';
import type { MipFilter } from '../mip-filters.ts';
import { maskMips } from '../mips.ts';
import { thresholdByte } from '../threshold.ts';
import { edgeRoom, type EdgeRoom } from './edge-room.ts';
import { handDown, writeBlocks } from './hand-down.ts';
import { driftOf, heldLevels, type HeldLevel, type Outcome } from './judge.ts';
import {
  averageMeans,
  halfSize,
  isEven,
  reachBelow,
  reachOfBlocks,
  reachOfTexels,
  roundedMeans,
  UNIT,
  type Reach,
} from './reach.ts';
import { chooseSides, evenOut, type Band } from './sides.ts';
import { holdUnder } from './under-filter.ts';

export interface HoldOptions {
  /** 0–1, as the material has it. */
  cutoff: number;
  /** The material's opacity factor, 0–1. */
  opacity?: number;
  /** 0: nothing is changed; 1: all that helps. Edges magnified move by as much less. */
  strength?: number;
  /** Levels are held down to this longer side, in texels. */
  downTo?: number;
  /**
   * How the target averages; plain averages of 2 × 2 hold in any case. Without it: Kaiser's filter, under which Lanczos' holds
   * as well, up to 2048² texels; beyond, where time would count, box.
   */
  filter?: MipFilter;
  allocate?: Allocate;
  /** Called between levels with the share done; cancels by throwing. */
  checkpoint?: (share: number) => void;
}

export const HOLD_DEFAULTS = { opacity: 1, strength: 1, downTo: 8 } as const;

export interface Held {
  /** A new mask; every texel on the side of the cutoff where it was. */
  mask: Mask;
  /** Over all levels. */
  unreachable: number;
  /** From level 1. */
  levels: HeldLevel[];
}

const WIDE_UP_TO = 2048 * 2048;

function defaultFilter({ width, height }: Mask): MipFilter {
  return width * height <= WIDE_UP_TO ? 'Kaiser' : 'box';
}

/** What the rounding of 8-bit levels can take away, in alphas. */
const GAP = 0.4;
/** How far from the threshold means stay as long as they can, in alphas; halved from level to level. */
const EASE = 48;
/** First level whose neighbours are evened out; the ones before show edges that are seen near by. */
const EVEN_FROM = 2;

/**
 * Hold at distance: reshapes alpha on each side of the cutoff so that the mip levels which a target makes on its own,
 * plain averages of 2 × 2 texels, clip to the kept share that level 0 has in every neighbourhood.
 *
 * From fine to coarse it is found what the mean of each texel of a level can come to, and decided which are to be kept
 * (error diffusion over windows of 4 × 4 texels, among what can be reached); from coarse to fine the means
 * are handed to the texels above, first where no edge moves.
 *
 * @param mask - Any size; sides that do not halve evenly are averaged as our own levels are.
 * @throws {@link SieveError} `out-of-range` for a cutoff, opacity or strength outside 0–1.
 */
export function holdAtDistance(mask: Mask, options: HoldOptions): Held {
  const { cutoff, opacity = HOLD_DEFAULTS.opacity, strength = HOLD_DEFAULTS.strength } = options;
  for (const [name, value] of Object.entries({ cutoff, opacity, strength })) {
    if (!(value >= 0 && value <= 1))
      throw new SieveError('out-of-range', `The ${name} is ${value}.`, 'Take one of 0 to 1.');
  }
  const threshold = thresholdByte(cutoff, opacity);
  const sizes = sizesBelow(mask, Math.max(1, options.downTo ?? HOLD_DEFAULTS.downTo));
  const decided = threshold < 1 || threshold > 255 || strength === 0;
  if (decided || sizes.length === 0) {
    const levels = sizes.map((size) => ({ ...size, unreachable: 0, places: new Int32Array() }));
    return { mask: makeMask(mask.width, mask.height, mask.data.slice()), unreachable: 0, levels };
  }
  return reshape(mask, threshold, strength, sizes.length, options);
}

function sizesBelow(mask: Mask, downTo: number): { width: number; height: number }[] {
  const sizes: { width: number; height: number }[] = [];
  for (let size = halfSize(mask); Math.max(size.width, size.height) >= downTo; size = halfSize(size)) {
    sizes.push(size);
    if (size.width === 1 && size.height === 1) break;
  }
  return sizes;
}

/** Drift, as a share of all texels, with which a level is held well enough. */
const CLOSE = 0.004;
/** How often sides are chosen at the most: where level 0 is odd and has up to so many texels, and where it is even. */
const TIMES = { upTo2M: 4, upTo8M: 2, beyond: 1, even: 4 };

/**
 * Where sides do not halve evenly, some texels come out on another side than was chosen, most of them kept. Then as many
 * fewer, or more, are chosen again, until each level keeps what level 0 does.
 */
function reshape(mask: Mask, threshold: number, strength: number, count: number, options: HoldOptions): Held {
  const aims = new Array<number>(count).fill(1);
  const { filter = defaultFilter(mask) } = options;
  const times = timesFor(mask, count);
  const turns = filter === 'box' || times === 1 ? times : times + 1;
  const once = (by: MipFilter, of: readonly number[], turn: number) =>
    reshapeOnce(mask, threshold, strength, of, by, {
      ...options,
      checkpoint: (share) => options.checkpoint?.((turn + share) / turns),
    });
  if (times === 1) return heldOf(once(filter, aims, 0));
  let best: { made: Outcome; aims: number[]; off: number } | null = null;
  for (let time = 0; time < times; time++) {
    const made = once('box', aims, time);
    const { coverages, off } = driftOf(made);
    if (!best || off < best.off) best = { made, aims: [...aims], off };
    if (off <= CLOSE) break;
    const whole = coverages[0];
    for (let l = 0; l < count; l++) {
      aims[l] *= Math.max(0.5, Math.min(1.5, whole / Math.max(coverages[l + 1], whole / 4)));
    }
  }
  return heldOf(filter === 'box' ? best!.made : once(filter, best!.aims, times));
}

function heldOf(outcome: Outcome): Held {
  const levels = heldLevels(outcome);
  return { mask: outcome.mask, unreachable: levels.reduce((sum, level) => sum + level.unreachable, 0), levels };
}

function timesFor(mask: Mask, count: number): number {
  const texels = mask.width * mask.height;
  if (mask.width % 2 ** count === 0 && mask.height % 2 ** count === 0) return 1;
  if (isEven(mask, halfSize(mask))) return TIMES.even;
  return texels < 2e6 ? TIMES.upTo2M : texels < 8e6 ? TIMES.upTo8M : TIMES.beyond;
}

/** @param aims - Of every level, how many texels are chosen for one that is wanted. */
function reshapeOnce(
  mask: Mask,
  threshold: number,
  strength: number,
  aims: readonly number[],
  filter: MipFilter,
  { allocate = allocateHeap, checkpoint, filter: asked = 'box' }: HoldOptions,
): Outcome {
  const room = edgeRoom(threshold, strength);
  const even = isEven(mask, halfSize(mask));
  const texels = even ? null : reachOfTexels(mask, room);
  const levels: Reach[] = [];
  const outOfReach: number[] = [];
  let above = 0;
  for (let l = 1; l <= aims.length; l++) {
    const finer = levels.at(-1) ?? texels;
    const level = finer ? reachBelow(finer) : reachOfBlocks(mask, room);
    if (isEven(finer ?? mask, level)) above += ROUNDED_UP;
    const band = bandOf(threshold, l, above);
    const halves = finer && finer.width >= 2 * level.width && finer.height >= 2 * level.height;
    const nested = l > 1 && halves ? finer : null;
    outOfReach.push(chooseSides(level, nested, band, aims[l - 1]));
    if (l >= EVEN_FROM) evenOut(level, band.centre);
    levels.push(level);
    checkpoint?.(0.7 - 0.5 ** (l + 1));
  }
  const chain = texels ? [texels, ...levels] : levels;
  const goOn = () => checkpoint?.(0.75);
  for (let l = chain.length - 1; l > 0; l--) handDown(chain[l], chain[l - 1], goOn);
  settle(chain, texels ? ROUNDS.ofTexels : ROUNDS.ofLevels, goOn);
  checkpoint?.(0.8);
  if (filter !== 'box' && !texels) {
    const before = writeTexels(mask, room, levels[0], null, allocateHeap).data;
    holdUnder(filter, levels, before, threshold, (share) => checkpoint?.(0.8 + 0.15 * share));
  }
  const out = writeTexels(mask, room, levels[0], texels, allocate);
  checkpoint?.(0.95);
  const seenBy = filter === 'box' ? 'box' : asked;
  const mips = seenBy === 'box' ? maskMips(out) : filteredMaskMips(out, { filter: seenBy });
  return { mask: out, mips, threshold, wanted: levels, outOfReach };
}

/** How often means that do not halve evenly are handed down again: level 0 is large. */
const ROUNDS = { ofLevels: 3, ofTexels: 1 };

/**
 * Where sides do not halve evenly, not all means can be met at once: what came of them is averaged again, and what is on
 * the wrong side handed down once more.
 */
function settle(chain: readonly Reach[], rounds: number, goOn: () => void): void {
  if (chain.every((level, i) => i === 0 || isEven(chain[i - 1], level))) return;
  for (let round = 0; round < rounds; round++) {
    for (let l = 1; l < chain.length; l++) averageMeans(chain[l - 1], chain[l]);
    for (let l = chain.length - 1; l > 0; l--) handDown(chain[l], chain[l - 1], goOn);
  }
}

/** An average of four bytes whose half is rounded up lies this much above the true one, on average; each level adds its own. */
const ROUNDED_UP = 1 / 8;

/** @param above - How far the 8-bit level lies above the true means, on average. */
function bandOf(threshold: number, level: number, above: number): Band {
  const centre = Math.round((threshold - 0.5 - above) * UNIT);
  const gap = Math.round(GAP * UNIT);
  const safe = Math.round((threshold - 0.5) * UNIT) + gap;
  const ease = Math.max(0, Math.min((EASE * UNIT) >> level, centre, 255 * UNIT - centre));
  return { centre, need: centre + gap, safe, top: centre - gap, ease };
}

function writeTexels(mask: Mask, room: EdgeRoom, first: Reach, texels: Reach | null, allocate: Allocate): Mask {
  const data = allocate(mask.data.length);
  if (texels) return roundedMeans(texels, data);
  writeBlocks(first, mask, room, data);
  return makeMask(mask.width, mask.height, data);
}
