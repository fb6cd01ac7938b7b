import { countBits, over65535, SAMPLE_WORDS, SAMPLES } from './cover.ts';

/** Side of a tile: what is recomputed, kept and sent at once. */
export const TILE = 64;
export const TILE_TEXELS = TILE * TILE;
/** Coverage of a whole texel. */
export const FULL = 65535;

/**
 * How far one stroke covers each texel, in tiles that are made where it comes to. Kept apart from the mask while the
 * stroke is drawn, so that passing a texel twice does not count twice.
 */
export class Coverage {
  readonly across: number;
  readonly down: number;
  readonly tiles = new Map<number, Uint16Array>();
  /** Tiles written to since they were taken last. */
  private touched = new Set<number>();
  private readonly samples = new Map<number, Uint32Array>();

  /** @param only - Tiles that are wanted; others are left out. */
  constructor(
    readonly width: number,
    readonly height: number,
    private readonly only: ReadonlySet<number> | null = null,
  ) {
    this.across = Math.ceil(width / TILE);
    this.down = Math.ceil(height / TILE);
  }

  takeTouched(): Set<number> {
    const { touched } = this;
    this.touched = new Set();
    this.lastIndex = -1;
    return touched;
  }

  private lastIndex = -1;
  private lastTile: Uint16Array | null = null;

  /** Rows come to the same tile many times over: the last one is at hand. */
  private tile(index: number): Uint16Array | null {
    if (index === this.lastIndex) return this.lastTile;
    this.lastIndex = index;
    if (this.only && !this.only.has(index)) return (this.lastTile = null);
    let tile = this.tiles.get(index);
    if (!tile) this.tiles.set(index, (tile = new Uint16Array(TILE_TEXELS)));
    this.touched.add(index);
    return (this.lastTile = tile);
  }

  isFull(x: number, y: number): boolean {
    const tile = this.tile((y >> 6) * this.across + (x >> 6));
    return !tile || tile[((y & 63) << 6) + (x & 63)] === FULL;
  }

  /** Whether anything is wanted of the rows and columns [x0, x1) × [y0, y1). */
  wants(x0: number, y0: number, x1: number, y1: number): boolean {
    if (x1 <= 0 || y1 <= 0 || x0 >= this.width || y0 >= this.height) return false;
    if (!this.only) return true;
    const [left, right] = [Math.max(0, x0) >> 6, Math.min(this.width, x1) - 1];
    for (let ty = Math.max(0, y0) >> 6; ty <= (Math.min(this.height, y1) - 1) >> 6; ty++) {
      for (let tx = left; tx <= right >> 6; tx++) if (this.only.has(ty * this.across + tx)) return true;
    }
    return false;
  }

  /** In a row, texels [x0, x1): the larger of what was there and `values`, which begin at x0. */
  mergeRow(y: number, x0: number, x1: number, values: Uint16Array): void {
    const base = (y >> 6) * this.across;
    const inTile = (y & 63) << 6;
    for (let x = x0; x < x1;) {
      const end = Math.min(x1, (x | 63) + 1);
      const tile = this.tile(base + (x >> 6));
      if (tile) {
        for (let i = inTile + (x & 63), k = x - x0; k < end - x0; i++, k++) {
          if (values[k] > tile[i]) tile[i] = values[k];
        }
      }
      x = end;
    }
  }

  /** Texels [x0, x1) of a row are covered whole. */
  fillRow(y: number, x0: number, x1: number): void {
    const base = (y >> 6) * this.across;
    const inTile = (y & 63) << 6;
    for (let x = x0; x < x1;) {
      const end = Math.min(x1, (x | 63) + 1);
      this.tile(base + (x >> 6))?.fill(FULL, inTile + (x & 63), inTile + ((end - 1) & 63) + 1);
      x = end;
    }
  }

  /** In a row: what is left uncovered is covered by these shares, as when one dab lies over another. */
  addRow(y: number, x0: number, x1: number, values: Uint16Array): void {
    const base = (y >> 6) * this.across;
    const inTile = (y & 63) << 6;
    for (let x = x0; x < x1;) {
      const end = Math.min(x1, (x | 63) + 1);
      const tile = this.tile(base + (x >> 6));
      if (tile) {
        for (let i = inTile + (x & 63), k = x - x0; k < end - x0; i++, k++) {
          const own = tile[i];
          if (values[k] > 0 && own < FULL) tile[i] = own + over65535((FULL - own) * values[k]);
        }
      }
      x = end;
    }
  }

  /** For one texel: a share that lies beside what was there, not over it. */
  addShare(x: number, y: number, value: number): void {
    const tile = this.tile((y >> 6) * this.across + (x >> 6));
    const i = ((y & 63) << 6) + (x & 63);
    if (tile) tile[i] = Math.min(FULL, tile[i] + value);
  }

  /** Samples of one texel that are covered, word by word, and those that were before: the union is exact. */
  mergeSamples(x: number, y: number, words: Uint32Array): void {
    const index = (y >> 6) * this.across + (x >> 6);
    const tile = this.tile(index);
    if (!tile) return;
    const i = ((y & 63) << 6) + (x & 63);
    if (tile[i] === FULL) return;
    let planes = this.samples.get(index);
    if (!planes) this.samples.set(index, (planes = new Uint32Array(TILE_TEXELS * SAMPLE_WORDS)));
    let count = 0;
    for (let w = 0, at = i * SAMPLE_WORDS; w < SAMPLE_WORDS; w++, at++) {
      planes[at] |= words[w];
      count += countBits(planes[at]);
    }
    tile[i] = count === SAMPLES ? FULL : count * 256;
  }

  /** Where the stroke comes no more: frees what only drawing needs. */
  finish(): void {
    this.samples.clear();
  }
}
