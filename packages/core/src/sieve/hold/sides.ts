import { bayerMatrix } from '../../math/bayer.ts';
import { keepEdge, naturalCount } from './natural.ts';
import { UNIT, WHOLE, type Reach } from './reach.ts';

/** Side of the neighbourhoods whose kept share is held, in texels of their level. */
const WINDOW = 4;
/** Mean at which a texel is as naturally kept as can be, off the threshold, in 256ths. */
const NATURAL_REACH = 64 * UNIT;
/** What decides which texels of a neighbourhood are kept, beside their own share (1): in parts of a whole share. */
const WEIGHTS = { natural: 0.3, nested: 0.5, spread: 0.1 };
const SCALE = 4096;
const SHARE_SHIFT = 3; // 32768ths to 4096ths
const NATURAL = Math.round((WEIGHTS.natural * SCALE * 1024) / NATURAL_REACH);
const NESTED = (WEIGHTS.nested * SCALE) / 4;
const SPREAD = Math.round((WEIGHTS.spread * SCALE) / 16);
/** Spreads what is else equal. */
const BAYER = bayerMatrix(WINDOW);
const MOST_CARRIED = 1.5;
/** Rows of windows between two looks whether the result is still wanted. */
const LOOK_ROWS = 16;

/** The band around the threshold in which no mean may lie, in 256ths. */
export interface Band {
  /** The mean that the clip of this level cuts at: 8-bit levels are rounded up an eighth on average, each. */
  centre: number;
  /** At least this is needed to be kept at all, and this where it can be had. */
  need: number;
  safe: number;
  /** At most this to be dropped. */
  top: number;
  /** How far from the centre a mean stays as long as it can: filters wider than 2 × 2 mix in what lies around. */
  ease: number;
}

/**
 * Decides which texels of a level are kept: in every window of 4 × 4 as many as the kept share of level 0 there, the
 * remainder carried to the windows around it (error diffusion, Floyd and Steinberg 1976); within a window those with
 * the largest share, that are kept naturally, and that hold what is kept on the level above. A window that clips by itself
 * as it should, between its texels too, is left alone. Writes `kept`.
 *
 * @param finer - The level above, whose `kept` counts as nested; null where that has not twice the size.
 * @param whole - Whether windows are left alone and edges stay: hold of version 1 decided all of them.
 * @param look - Called now and then; cancels by throwing.
 * @returns how many texels are on the wrong side, because nothing else can be reached.
 */
export function chooseSides(level: Reach, finer: Reach | null, band: Band, whole: boolean, look?: () => void): number {
  const { width, height } = level;
  const [across, down] = [Math.ceil(width / WINDOW), Math.ceil(height / WINDOW)];
  const carried = new Float64Array(across * down);
  const scores = new Int32Array(WINDOW * WINDOW);
  let outOfReach = 0;
  for (let wy = 0; wy < down; wy++) {
    if (wy % LOOK_ROWS === 0) look?.();
    const way = wy % 2 ? -1 : 1;
    for (let n = 0; n < across; n++) {
      const wx = way > 0 ? n : across - 1 - n;
      const at = wy * across + wx;
      const inside = (wx + 1) * WINDOW <= width && (wy + 1) * WINDOW <= height;
      if (inside && bindUniform(level, band, wy * WINDOW * width + wx * WINDOW)) {
        if (carried[at] !== 0) carry(carried, across, down, wx, wy, way, clampCarried(carried[at]));
        continue;
      }
      const found = scoreWindow(level, finer, band, wx * WINDOW, wy * WINDOW, scores);
      const ideal = found.share + carried[at];
      let count = whole ? naturalCount(level, band.centre, wx * WINDOW, wy * WINDOW, found.share, carried[at]) : -1;
      const leftAlone = count >= 0 && keepNatural(level, band, wx * WINDOW, wy * WINDOW);
      if (!leftAlone) {
        count = Math.max(found.must, Math.min(found.can, Math.round(ideal)));
        outOfReach += Math.max(0, Math.round(found.share) - found.can, found.must - Math.round(found.share));
        if (count > 0) keepBest(level, wx * WINDOW, wy * WINDOW, count, scores);
      }
      if (whole) keepEdges(level, band.centre, wx * WINDOW, wy * WINDOW, leftAlone);
      bindWindow(level, band, wx * WINDOW, wy * WINDOW);
      const rest = clampCarried(ideal - count);
      if (rest !== 0) carry(carried, across, down, wx, wy, way, rest);
    }
  }
  return outOfReach;
}

function clampCarried(rest: number): number {
  return Math.max(-MOST_CARRIED, Math.min(MOST_CARRIED, rest));
}

/** Windows in which all is kept, or nothing: there is nothing to decide. @param at - The first texel. */
function bindUniform(level: Reach, { centre, safe, top, ease }: Band, at: number): boolean {
  const { width, share, kept, low, high, lowFree, highFree, mean } = level;
  const first = share[at];
  if (first !== 0 && first !== WHOLE) return false;
  for (let y = 0, i = at; y < WINDOW; y++, i += width) {
    if (share[i] !== first || share[i + 1] !== first || share[i + 2] !== first || share[i + 3] !== first) return false;
  }
  for (let y = 0, row = at; y < WINDOW; y++, row += width) {
    for (let i = row; i < row + WINDOW; i++) {
      if (first === 0) {
        kept[i] = 0;
        if (high[i] > top) high[i] = low[i] > top ? low[i] : top;
        if (mean[i] > high[i]) mean[i] = high[i];
        if (highFree[i] > centre - ease) highFree[i] = centre - ease;
      } else {
        kept[i] = 1;
        if (low[i] < safe) low[i] = high[i] < safe ? high[i] : safe;
        if (mean[i] < low[i]) mean[i] = low[i];
        if (lowFree[i] < centre + ease) lowFree[i] = centre + ease;
      }
    }
  }
  return true;
}

const found = { share: 0, must: 0, can: 0 };

/** Sums the shares of a window, counts what can and what must be kept there, and gives each texel its score. */
function scoreWindow(
  level: Reach,
  finer: Reach | null,
  { centre, need, top }: Band,
  x0: number,
  y0: number,
  scores: Int32Array,
): typeof found {
  const { width, height, low, high, mean, share, kept } = level;
  const x1 = Math.min(width, x0 + WINDOW);
  const y1 = Math.min(height, y0 + WINDOW);
  let total = 0;
  found.must = 0;
  found.can = 0;
  for (let y = y0, n = 0; y < y1; y++) {
    for (let x = x0; x < x1; x++, n++) {
      const i = y * width + x;
      kept[i] = 0;
      total += share[i];
      if (share[i] === 0 || high[i] < need) {
        scores[n] = NEVER;
        continue;
      }
      found.can++;
      if (share[i] === WHOLE || low[i] > top) {
        found.must++;
        scores[n] = ALWAYS;
        continue;
      }
      const off = mean[i] - centre;
      scores[n] =
        (share[i] >> SHARE_SHIFT) +
        (((off < -NATURAL_REACH ? -NATURAL_REACH : off > NATURAL_REACH ? NATURAL_REACH : off) * NATURAL) >> 10) +
        (finer ? NESTED * keptAbove(finer, x, y) : 0) +
        SPREAD * BAYER[(y - y0) * WINDOW + x - x0];
    }
  }
  found.share = total / WHOLE;
  return found;
}

const NEVER = -100000;
const ALWAYS = 100000;

function keptAbove({ width, kept }: Reach, x: number, y: number): number {
  const i = 2 * (y * width + x);
  return kept[i] + kept[i + 1] + kept[i + width] + kept[i + width + 1];
}

/** Keeps what the means of a window keep. @returns false, and nothing done, where that cannot be had. */
function keepNatural(level: Reach, { centre, safe, top }: Band, x0: number, y0: number): boolean {
  const { width, height, low, high, mean, kept } = level;
  const [x1, y1] = [Math.min(width, x0 + WINDOW), Math.min(height, y0 + WINDOW)];
  for (let y = y0; y < y1; y++) {
    for (let i = y * width + x0, end = y * width + x1; i < end; i++) {
      if (mean[i] >= centre ? high[i] < safe : low[i] > top) return false;
    }
  }
  for (let y = y0; y < y1; y++) {
    for (let i = y * width + x0, end = y * width + x1; i < end; i++) kept[i] = mean[i] >= centre ? 1 : 0;
  }
  return true;
}

/** Where texels are kept or dropped by themselves, their edges stay. */
function keepEdges(level: Reach, centre: number, x0: number, y0: number, leftAlone: boolean): void {
  const { width, height, mean, kept } = level;
  const [x1, y1] = [Math.min(width, x0 + WINDOW), Math.min(height, y0 + WINDOW)];
  for (let y = y0; y < y1; y++) {
    for (let x = x0, i = y * width + x0; x < x1; x++, i++) {
      if (mean[i] >= centre === (kept[i] === 1)) keepEdge(level, centre, x, y, leftAlone);
    }
  }
}

function keepBest({ width, height, kept }: Reach, x0: number, y0: number, count: number, scores: Int32Array): void {
  const across = Math.min(WINDOW, width - x0);
  const texels = across * Math.min(WINDOW, height - y0);
  for (let k = 0; k < count; k++) {
    let best = 0;
    for (let n = 1; n < texels; n++) if (scores[n] > scores[best]) best = n;
    scores[best] = NEVER - 1;
    kept[(y0 + Math.floor(best / across)) * width + x0 + (best % across)] = 1;
  }
}

function carry(to: Float64Array, across: number, down: number, x: number, y: number, way: number, rest: number): void {
  const at = y * across + x;
  const ahead = x + way >= 0 && x + way < across;
  const behind = x - way >= 0 && x - way < across;
  if (ahead) to[at + way] += (rest * 7) / 16;
  if (y + 1 === down) return;
  if (behind) to[at + across - way] += (rest * 3) / 16;
  to[at + across] += (rest * 5) / 16;
  if (ahead) to[at + across + way] += rest / 16;
}

/** How far past the band a mean is put where that is to be had, in 256ths. */
const MARGIN = 2 * UNIT;

/** Narrows what the texels of a window can come to, to the side that was chosen for them. */
function bindWindow(level: Reach, band: Band, x0: number, y0: number): void {
  const { width, height } = level;
  const x1 = Math.min(width, x0 + WINDOW);
  const y1 = Math.min(height, y0 + WINDOW);
  for (let y = y0; y < y1; y++) {
    for (let i = y * width + x0, end = y * width + x1; i < end; i++) bindTexel(level, band, i);
  }
}

export function bindTexel(level: Reach, { centre, safe, top, ease }: Band, i: number): void {
  const { low, high, lowFree, highFree, mean, kept } = level;
  const lo = low[i];
  const hi = high[i];
  if (kept[i] === 1) {
    const least = lo > safe ? lo : hi < safe ? hi : safe;
    const wanted = hi < least + MARGIN ? hi : least + MARGIN;
    low[i] = least;
    if (mean[i] < wanted) mean[i] = wanted;
    if (lowFree[i] < centre + ease) lowFree[i] = centre + ease;
  } else {
    const most = hi < top ? hi : lo > top ? lo : top;
    const wanted = lo > most - MARGIN ? lo : most - MARGIN;
    high[i] = most;
    if (mean[i] > wanted) mean[i] = wanted;
    if (highFree[i] > centre - ease) highFree[i] = centre - ease;
  }
}

/** How much further from the threshold than a texel can come its neighbours may lie: what wider filters still hold. */
const EVEN = 3;

/**
 * A filter wider than 2 × 2 takes a little of the texels around. Where a texel can come only just past the threshold,
 * its neighbours of the other side come near it too, as far as no edge moves by it.
 */
export function evenOut({ width, height, low, high, lowFree, highFree, mean, kept }: Reach, centre: number): void {
  for (let y = 0, i = 0; y < height; y++) {
    const y0 = Math.max(0, y - 1);
    const y1 = Math.min(height - 1, y + 1);
    for (let x = 0; x < width; x++, i++) {
      const own = kept[i];
      const limit = own
        ? centre - EVEN * Math.max(high[i] - centre, 77)
        : centre + EVEN * Math.max(centre - low[i], 77);
      if (own ? limit <= 0 : limit >= 255 * UNIT) continue;
      const x0 = Math.max(0, x - 1);
      const x1 = Math.min(width - 1, x + 1);
      for (let v = y0; v <= y1; v++) {
        for (let j = v * width + x0, end = v * width + x1; j <= end; j++) {
          if (kept[j] === own) continue;
          if (own && mean[j] < limit) mean[j] = Math.max(mean[j], Math.min(highFree[j], high[j], limit));
          else if (!own && mean[j] > limit) mean[j] = Math.min(mean[j], Math.max(lowFree[j], low[j], limit));
        }
      }
    }
  }
}
