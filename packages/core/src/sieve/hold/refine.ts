import { averageMeans, isEven, reachBelow, UNIT, WHOLE, type Reach } from './reach.ts';
import { bindTexel, type Band } from './sides.ts';
import { countWindow, sampleWindow, WINDOW } from './window.ts';

/** Moves that are tried of the four texels of a block, in 256ths, until one is better. */
const MOVES = [48 * UNIT, 12 * UNIT];
/** How much texels count beside what is sampled. */
const COUNTS = 2;
/** What a move must be better by, as a share of a window; a window this close is left alone. */
const LEAST_GAIN = 0.004;
const CLOSE = 0.02;
/** A level may keep so many texels more or fewer than its share asks for; of a large one this share of them. */
const REST = 1;
const REST_OF_LARGE = 1e-4;
/** How far from the clip a mean stays that is moved, in 256ths: clear of rounding. */
const CLEAR = 0.6 * UNIT;
/** Rows of blocks between two looks whether the result is still wanted. */
const LOOK_ROWS = 8;
const BOUNDS = ['low', 'high', 'lowFree', 'highFree'] as const;
/** Texels of a level that is refined: of smaller ones the shares are chance, of larger ones it would take as long as all else. */
const TEXELS = { least: 1 << 12, most: 1 << 18 };
/** Which of the chain is refined, the finer one first: the second and the third level. */
const REFINED = [1, 2];

/**
 * Refines levels as a renderer samples them, half way to the next: blocks of 2 × 2 texels are raised or lowered where the
 * kept shares of the windows of 4 × 4 around them come closer to those of level 0. No edge of level 0 moves to be noticed,
 * the level does not drift, and no texel of a coarser one changes side. What follows for finer levels is left to handing
 * down.
 *
 * @param chain - From level 1; means handed down. @param bands - Of each of them.
 * @param handDown - Gives the means of one of the chain to those before it.
 * @returns whether any level could be refined: it and the next two are to halve evenly.
 */
export function refineLevels(
  chain: readonly Reach[],
  bands: readonly Band[],
  handDown: (at: number) => void,
  look?: () => void,
): boolean {
  let any = false;
  const even = (l: number) => l < chain.length && isEven(chain[l - 1], chain[l]);
  for (const at of REFINED) {
    if (![at, at + 1, at + 2].every(even) || !isRefined(chain[at].mean.length)) continue;
    new Refinement(chain, at, bands).run(look);
    handDown(at);
    any = true;
  }
  return any;
}

function isRefined(texels: number): boolean {
  return texels >= TEXELS.least && texels <= TEXELS.most;
}

/** Windows that a block of texels has a part in, and what is known of them after a move. */
interface Windows {
  x0: number;
  x1: number;
  y0: number;
  y1: number;
  errors: Float64Array;
  counts: Float64Array;
}

class Refinement {
  private readonly level: Reach;
  private readonly next: Reach;
  private readonly coarser: readonly Reach[];
  private readonly band: Band;
  /** Of the level and the next. */
  private readonly centres: number;
  /** What the texels can come to, whichever side was chosen for them. */
  private readonly room: Reach;
  private readonly across: number;
  private readonly down: number;
  /** Of each window, what it keeps more than it should: shares of it. */
  private readonly errors: Float64Array;
  /** And texels, either way, as a share of it. */
  private readonly counts: Float64Array;
  /** Texels that the level keeps beyond its share, and how many it may. */
  private rest: number;
  private readonly most: number;
  private readonly before = new Int32Array(4);
  private readonly coarserAfter = new Int32Array(16);
  private readonly windows: Windows = {
    x0: 0,
    x1: 0,
    y0: 0,
    y1: 0,
    errors: new Float64Array(16),
    counts: new Float64Array(16),
  };

  constructor(
    chain: readonly Reach[],
    private readonly at: number,
    private readonly bands: readonly Band[],
  ) {
    const uneven = chain.findIndex((level, l) => l > at && !isEven(chain[l - 1], level));
    const end = uneven < 0 ? chain.length : uneven;
    [this.level, this.next, this.coarser] = [chain[at], chain[at + 1], chain.slice(at + 1, end)];
    this.band = bands[at];
    this.centres = bands[at].centre + bands[at + 1].centre;
    this.room = reachBelow(chain[at - 1]);
    for (let l = at + 1; l < end; l++) averageMeans(chain[l - 1], chain[l]);
    this.across = Math.ceil(this.level.width / WINDOW);
    this.down = Math.ceil(this.level.height / WINDOW);
    this.errors = new Float64Array(this.across * this.down);
    this.counts = new Float64Array(this.across * this.down);
    this.rest = restOf(this.level, this.band);
    this.most = Math.max(REST, REST_OF_LARGE * this.level.mean.length, Math.abs(this.rest));
  }

  run(look?: () => void): void {
    const { errors, counts, across, down, next } = this;
    for (let wy = 0, o = 0; wy < down; wy++) {
      if (wy % LOOK_ROWS === 0) look?.();
      for (let wx = 0; wx < across; wx++, o++) {
        errors[o] = this.windowError(wx, wy);
        counts[o] = this.windowCount(wx, wy);
      }
    }
    for (let y = 0; y < next.height; y++) {
      if (y % LOOK_ROWS === 0) look?.();
      for (let x = 0; x < next.width; x++) {
        const off = errors[(y >> 1) * across + (x >> 1)];
        if (off > CLOSE) this.move(x, y, -1);
        else if (off < -CLOSE) this.move(x, y, 1);
      }
    }
  }

  /** Raises a block (way 1) or lowers it, as far as it helps. */
  private move(x: number, y: number, way: -1 | 1): void {
    for (const size of MOVES) if (this.tryMove(x, y, way * size)) return;
  }

  private windowError(wx: number, wy: number): number {
    return sampleWindow(this.level, this.next, this.centres, wx, wy);
  }

  private windowCount(wx: number, wy: number): number {
    return Math.abs(countWindow(this.level, this.band.centre, wx, wy)) / WINDOW ** 2;
  }

  /** Of a block by its texel of the next level. @returns whether the move was better, and stays. */
  private tryMove(x: number, y: number, by: number): boolean {
    const { level, next, room, before } = this;
    const { width, mean } = level;
    const i = 2 * y * width + 2 * x;
    const o = y * next.width + x;
    let moved = false;
    for (let k = 0; k < 4; k++) {
      const t = i + (k & 1) + (k >> 1) * width;
      const was = mean[t];
      before[k] = was;
      if (by > 0) mean[t] = Math.max(was, Math.min(was + by, room.highFree[t]));
      else mean[t] = Math.min(was, Math.max(was + by, room.lowFree[t]));
      if (mean[t] !== was) moved = true;
    }
    if (!moved) return false;
    const nextBefore = next.mean[o];
    next.mean[o] = (mean[i] + mean[i + 1] + mean[i + width] + mean[i + width + 1] + 2) >> 2;
    const rest = this.restAfter(i);
    if (Math.abs(rest) <= this.most && this.holdsCoarser(x, y, nextBefore) && this.isBetter(x, y)) {
      this.rest = rest;
      this.accept(x, y, i);
      return true;
    }
    for (let k = 0; k < 4; k++) mean[i + (k & 1) + (k >> 1) * width] = before[k];
    next.mean[o] = nextBefore;
    return false;
  }

  /** What the level keeps beyond its share after a move; Infinity where a mean came too near to the clip. */
  private restAfter(i: number): number {
    const { level, band, before } = this;
    let { rest } = this;
    for (let k = 0; k < 4; k++) {
      const mean = level.mean[i + (k & 1) + (k >> 1) * level.width];
      if (mean === before[k]) continue;
      if (comesNear(mean, before[k], band.centre)) return Infinity;
      rest += isKept(mean, band) - isKept(before[k], band);
    }
    return rest;
  }

  /** Whether the coarser levels keep their sides, clear of the clip; the next has its new mean already. */
  private holdsCoarser(x: number, y: number, nextBefore: number): boolean {
    const { coarser, coarserAfter, at, bands } = this;
    let was = nextBefore;
    let to = this.next.mean[y * this.next.width + x];
    for (let l = 0; ;) {
      const { centre } = bands[at + 1 + l];
      if (to !== was && (to >= centre !== was >= centre || comesNear(to, was, centre))) return false;
      coarserAfter[l] = to;
      const { mean, width } = coarser[l];
      const own = mean[(y >> l) * width + (x >> l)];
      if (++l === coarser.length) return true;
      // of the four above one is new: that of the next level lies there, those of coarser ones do not yet
      const i = 2 * (y >> l) * width + 2 * (x >> l);
      was = coarser[l].mean[(y >> l) * coarser[l].width + (x >> l)];
      to = (mean[i] + mean[i + 1] + mean[i + width] + mean[i + width + 1] - own + to + 2) >> 2;
    }
  }

  private isBetter(x: number, y: number): boolean {
    const { errors, counts, windows, across, down } = this;
    // the texels of the next level count up to one of its own away, which is two of the level
    windows.x0 = Math.max(0, (2 * x - 3) >> 2);
    windows.x1 = Math.min(across - 1, (2 * x + 4) >> 2);
    windows.y0 = Math.max(0, (2 * y - 3) >> 2);
    windows.y1 = Math.min(down - 1, (2 * y + 4) >> 2);
    let gain = 0;
    for (let wy = windows.y0, n = 0; wy <= windows.y1; wy++) {
      for (let wx = windows.x0; wx <= windows.x1; wx++, n++) {
        const after = this.windowError(wx, wy);
        windows.errors[n] = after;
        const count = this.windowCount(wx, wy);
        windows.counts[n] = count;
        const w = wy * across + wx;
        gain += Math.abs(errors[w]) - Math.abs(after) + COUNTS * (counts[w] - count);
      }
    }
    return gain > LEAST_GAIN;
  }

  private accept(x: number, y: number, i: number): void {
    const { errors, counts, windows, across, level, room, coarser, coarserAfter } = this;
    for (let wy = windows.y0, n = 0; wy <= windows.y1; wy++) {
      for (let wx = windows.x0; wx <= windows.x1; wx++, n++) {
        errors[wy * across + wx] = windows.errors[n];
        counts[wy * across + wx] = windows.counts[n];
      }
    }
    for (const [l, { mean, width }] of coarser.entries()) mean[(y >> l) * width + (x >> l)] = coarserAfter[l];
    for (let k = 0; k < 4; k++) {
      const t = i + (k & 1) + (k >> 1) * level.width;
      if (level.kept[t] === isKept(level.mean[t], this.band)) continue;
      level.kept[t] = 1 - level.kept[t];
      for (const field of BOUNDS) level[field][t] = room[field][t];
      bindTexel(level, this.band, t);
    }
  }
}

function isKept(mean: number, { centre }: Band): 0 | 1 {
  return mean >= centre ? 1 : 0;
}

/** Whether a mean comes to lie closer to the clip than is clear, and closer than it lay on that side. */
function comesNear(to: number, was: number, centre: number): boolean {
  const off = Math.abs(to - centre);
  return off < CLEAR && (to >= centre !== was >= centre || off < Math.abs(was - centre));
}

/** How many texels a level keeps beyond its share. */
function restOf({ mean, share }: Reach, band: Band): number {
  let rest = 0;
  for (let i = 0; i < mean.length; i++) rest += isKept(mean[i], band) - share[i] / WHOLE;
  return rest;
}
