import type { Footprint } from './outline.ts';

/**
 * Which cells of a grid are taken, as bits; finds room for runs of cells 32 places at a time. Of each row the taken
 * places are kept spread to the left by 1, 2, 4… cells too: what a run of any length would meet is two of these laid
 * over each other.
 */
export class Room {
  private readonly words: number;
  private readonly steps: number;
  /** For each row, `steps` rows of words. */
  private readonly spread: Uint32Array;
  private readonly met: Uint32Array;
  private readonly all: Uint32Array;

  constructor(
    readonly columns: number,
    readonly rows: number,
  ) {
    this.words = (columns + 31) >>> 5;
    this.steps = 1 + Math.ceil(Math.log2(Math.max(2, columns)));
    this.spread = new Uint32Array(rows * this.steps * this.words);
    this.met = new Uint32Array(this.words);
    this.all = new Uint32Array(this.words);
  }

  take({ starts, runs }: Footprint, left: number, top: number): void {
    const { words, steps, spread, columns, rows } = this;
    for (let r = 0; r + 1 < starts.length; r++) {
      const y = top + r;
      if (y < 0 || y >= rows || starts[r] === starts[r + 1]) continue;
      const base = y * steps * words;
      for (let k = starts[r]; k < starts[r + 1]; k += 2) {
        const to = Math.min(columns, left + runs[k + 1]);
        for (let x = Math.max(0, left + runs[k]); x < to; x++) spread[base + (x >>> 5)] |= 1 << (x & 31);
      }
      for (let s = 1; s < steps; s++) {
        const from = base + (s - 1) * words;
        spread.copyWithin(from + words, from, from + words);
        orShifted(spread, from + words, spread, from, words, 1 << (s - 1));
      }
    }
  }

  /**
   * The uppermost place with room for a footprint, of equal ones the leftmost.
   *
   * @param before - Only rows above this one are looked at.
   * @returns its column + its row × columns, or −1.
   */
  find({ width, height, starts, runs }: Footprint, before: number): number {
    const { words, steps, spread, met, all, columns, rows } = this;
    const places = columns - width + 1;
    if (places < 1) return -1;
    const last = Math.min(rows - height, before - 1);
    all.fill(0);
    for (let x = places; x < words * 32; x++) all[x >>> 5] |= 1 << (x & 31);
    for (let y = 0; y <= last; y++) {
      met.set(all);
      let free = true;
      for (let r = 0; r < height && free; r++) {
        const base = (y + r) * steps * words;
        for (let k = starts[r]; k < starts[r + 1]; k += 2) {
          const long = runs[k + 1] - runs[k];
          const step = 31 - Math.clz32(long);
          const row = base + step * words;
          orShifted(met, 0, spread, row, words, runs[k]);
          const rest = long - (1 << step);
          if (rest > 0) orShifted(met, 0, spread, row, words, runs[k] + rest);
        }
        free = false;
        for (let w = 0; w < words; w++) {
          if (met[w] !== 0xffffffff) {
            free = true;
            break;
          }
        }
      }
      if (!free) continue;
      for (let w = 0; w < words; w++) {
        const open = ~met[w];
        if (open !== 0) return y * columns + 32 * w + (31 - Math.clz32(open & -open));
      }
    }
    return -1;
  }
}

/** Lays bits over others, moved to the left by some places. */
function orShifted(
  into: Uint32Array,
  at: number,
  from: Uint32Array,
  start: number,
  words: number,
  places: number,
): void {
  const whole = places >>> 5;
  const part = places & 31;
  const end = start + words;
  let i = start + whole;
  if (part === 0) for (let w = at; i < end; w++, i++) into[w] |= from[i];
  else {
    for (let w = at; i < end; w++, i++) {
      into[w] |= (from[i] >>> part) | (i + 1 < end ? from[i + 1] << (32 - part) : 0);
    }
  }
}
