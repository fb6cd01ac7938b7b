import { SieveError } from '../../errors.ts';
import { allocateHeap, makeMask, type Allocate, type Mask } from '../../raster/raster.ts';
import { filteredMaskMips } from '../filtered-mips.ts';
import type { MipFilter } from '../mip-filters.ts';
import { maskMips } from '../mips.ts';
import { thresholdByte } from '../../math/threshold.ts';
import { edgeRoom, type EdgeRoom } from './edge-room.ts';
import { handDown, writeBlocks } from './hand-down.ts';
import { heldLevels, type HeldLevel } from './judge.ts';
import { halfSize, isEven, reachBelow, reachOfBlocks, reachOfTexels, roundedMeans, UNIT, type Reach } from './reach.ts';
import { refineLevels } from './refine.ts';
import { chooseSides, evenOut, type Band } from './sides.ts';
import { settle } from './settle.ts';

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
   * as well, up to 2048² texels, 1024² where sides are odd; beyond, where time would count, box.
   */
  filter?: MipFilter;
  /** {@link HOLD_VERSION} unless a piece was held by an earlier one, whose texels it keeps. */
  version?: number;
  allocate?: Allocate;
  /** Called now and then with the share done; cancels by throwing. */
  checkpoint?: (share: number) => void;
}

/**
 * Version 2 leaves alone what clips by itself between the texels, where a renderer samples, and keeps edges of all levels;
 * version 3 refines two levels by what a renderer samples.
 */
export const HOLD_VERSION = 3;

export const HOLD_DEFAULTS = { opacity: 1, strength: 1, downTo: 8 } as const;

export interface Held {
  /** A new mask; every texel on the side of the cutoff where it was. */
  mask: Mask;
  /** Over all levels. */
  unreachable: number;
  /** From level 1. */
  levels: HeldLevel[];
}

const WIDE_UP_TO = { even: 2048 * 2048, odd: 1024 * 1024 };

function defaultFilter(mask: Mask): MipFilter {
  const most = isEven(mask, halfSize(mask)) ? WIDE_UP_TO.even : WIDE_UP_TO.odd;
  return mask.width * mask.height <= most ? 'Kaiser' : 'box';
}

/** Rounds of settling after levels were refined: more would undo what that gained. */
const ROUNDS_AFTER = 2;
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
 * are handed to the texels above, first where no edge moves. Then two levels are refined as a renderer samples them.
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
  return reshape(mask, threshold, sizes.length, options);
}

function sizesBelow(mask: Mask, downTo: number): { width: number; height: number }[] {
  const sizes: { width: number; height: number }[] = [];
  for (let size = halfSize(mask); Math.max(size.width, size.height) >= downTo; size = halfSize(size)) {
    sizes.push(size);
    if (size.width === 1 && size.height === 1) break;
  }
  return sizes;
}

function reshape(
  mask: Mask,
  threshold: number,
  count: number,
  {
    strength = HOLD_DEFAULTS.strength,
    allocate = allocateHeap,
    version = HOLD_VERSION,
    checkpoint,
    filter,
  }: HoldOptions,
): Held {
  const room = edgeRoom(threshold, strength);
  const even = isEven(mask, halfSize(mask));
  const texels = even ? null : reachOfTexels(mask, room);
  const levels: Reach[] = [];
  const outOfReach: number[] = [];
  const bands: Band[] = [];
  const centres = texels ? [0] : [];
  let above = 0;
  let done = 0;
  const look = checkpoint && (() => checkpoint(done));
  for (let l = 1; l <= count; l++) {
    const finer = levels.at(-1) ?? texels;
    const level = finer ? reachBelow(finer) : reachOfBlocks(mask, room, look);
    if (isEven(finer ?? mask, level)) above += ROUNDED_UP;
    const band = bandOf(threshold, l, above);
    const halves = finer && finer.width >= 2 * level.width && finer.height >= 2 * level.height;
    const nested = l > 1 && halves ? finer : null;
    outOfReach.push(chooseSides(level, nested, band, version > 1, look));
    if (l >= EVEN_FROM) evenOut(level, band.centre);
    levels.push(level);
    bands.push(band);
    centres.push(band.centre);
    done = 0.6 - 0.5 ** (l + 1);
    look?.();
  }
  const chain = texels ? [texels, ...levels] : levels;
  for (let l = chain.length - 1; l > 0; l--) handDown(chain[l], chain[l - 1], () => checkpoint?.(0.6));
  const by = filter ?? defaultFilter(mask);
  const before = texels || by === 'box' ? null : writeTexels(mask, room, levels[0], null, allocateHeap).data;
  const centre = (threshold - 0.5) * UNIT;
  const means = { chain, centres, centre, texels: before };
  const throughout = filter !== undefined;
  settle(means, { filter: by, throughout }, (share) => checkpoint?.(0.65 + 0.25 * share));
  done = 0.9;
  const handDownFrom = (at: number) => {
    for (let l = at; l > 0; l--) handDown(levels[l], levels[l - 1]);
  };
  const refined = version > 2 && !texels && refineLevels(levels, bands, handDownFrom, look);
  if (refined && by !== 'box') {
    // wider filters lost a little by it, and get it back
    const now = writeTexels(mask, room, levels[0], null, allocateHeap, look).data;
    settle({ ...means, texels: now }, { filter: by, throughout, rounds: ROUNDS_AFTER }, look);
  }
  done = 0.95;
  const out = writeTexels(mask, room, levels[0], texels, allocate, look);
  checkpoint?.(0.95);
  const mips = !filter || filter === 'box' ? maskMips(out) : filteredMaskMips(out, { filter });
  const held = heldLevels({ mips, threshold, wanted: levels, outOfReach });
  return { mask: out, unreachable: held.reduce((sum, level) => sum + level.unreachable, 0), levels: held };
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

function writeTexels(
  mask: Mask,
  room: EdgeRoom,
  first: Reach,
  texels: Reach | null,
  allocate: Allocate,
  look?: () => void,
): Mask {
  const data = allocate(mask.data.length);
  if (texels) return roundedMeans(texels, data);
  writeBlocks(first, mask, room, data, look);
  return makeMask(mask.width, mask.height, data);
}
