import { joinBoxes, type Box } from '../raster/box.ts';
import type { Mask } from '../raster/raster.ts';
import { halveInto } from './mips.ts';
import type { Histogram } from './histogram.ts';
import {
  resampleSilhouette,
  ringOf,
  sampleSilhouette,
  silhouetteSide,
  type MaskSummary,
  type Silhouette,
} from './summary.ts';

const BLOCK = 256;

/** Histograms of the blocks of one level. */
interface LevelTally {
  across: number;
  down: number;
  blocks: Uint32Array[];
  counts: Histogram;
}

/**
 * A mask with its mip levels and what the Sieve says of them, kept up to date where a part of it changed: what is
 * painted by hand must not cost a look at every texel.
 */
export class MaskTally {
  private readonly levelTallies: LevelTally[];
  private readonly border: LevelTally;
  private readonly middle: LevelTally;
  private readonly silhouettes: Silhouette[];

  /** @param chain - Level 0 first; its memory is read again at each refresh, and that of the others written. */
  constructor(readonly chain: readonly Mask[]) {
    this.levelTallies = chain.map((level) => emptyTally(level));
    this.border = emptyTally(chain[0]);
    this.middle = emptyTally(chain[0]);
    this.silhouettes = chain.map((level, i) => sampleSilhouette(level, silhouetteSide(i)));
    for (const [i, level] of chain.entries()) {
      this.count(i, [{ x0: 0, y0: 0, x1: level.width, y1: level.height }]);
    }
  }

  /** These parts of level 0 were written into. */
  refresh(boxes: readonly Box[]): void {
    let parts = boxes;
    for (let i = 0; i < this.chain.length; i++) {
      if (i > 0) parts = joinBoxes(parts.map((part) => halveInto(this.chain[i - 1], this.chain[i], part)));
      this.count(i, parts);
      for (const part of parts) resampleSilhouette(this.silhouettes[i], this.chain[i], part);
    }
  }

  /** As {@link summariseMask} says it of the whole; the same arrays each time. */
  summary(): MaskSummary {
    const levels = this.chain.map((level, i) => ({
      width: level.width,
      height: level.height,
      counts: this.levelTallies[i].counts,
      silhouette: this.silhouettes[i],
    }));
    return { levels, border: this.border.counts, middle: this.middle.counts };
  }

  private count(level: number, parts: readonly Box[]): void {
    const mask = this.chain[level];
    const tally = this.levelTallies[level];
    for (const block of blocksOf(parts, tally.across)) {
      const [x0, y0] = [(block % tally.across) * BLOCK, Math.floor(block / tally.across) * BLOCK];
      const within = { x0, y0, x1: Math.min(mask.width, x0 + BLOCK), y1: Math.min(mask.height, y0 + BLOCK) };
      recount(tally, block, (counts) => countBox(mask, within, counts));
      if (level === 0) this.countPlaces(mask, block, within);
    }
  }

  private countPlaces(mask: Mask, block: number, within: Box): void {
    const { ring, middle } = ringOf(mask);
    recount(this.middle, block, (counts) => countBox(mask, meet(within, middle), counts));
    recount(this.border, block, (counts) => {
      const { width, height } = mask;
      for (const side of [
        { x0: 0, y0: 0, x1: width, y1: Math.min(ring, height) },
        { x0: 0, y0: Math.max(ring, height - ring), x1: width, y1: height },
        { x0: 0, y0: ring, x1: Math.min(ring, width), y1: height - ring },
        { x0: Math.max(ring, width - ring), y0: ring, x1: width, y1: height - ring },
      ]) {
        countBox(mask, meet(within, side), counts);
      }
    });
  }
}

/** Every block that one of the parts comes to, once. */
function blocksOf(parts: readonly Box[], across: number): Set<number> {
  const blocks = new Set<number>();
  for (const { x0, y0, x1, y1 } of parts) {
    for (let by = Math.floor(y0 / BLOCK); by * BLOCK < y1; by++) {
      for (let bx = Math.floor(x0 / BLOCK); bx * BLOCK < x1; bx++) blocks.add(by * across + bx);
    }
  }
  return blocks;
}

function emptyTally({ width, height }: Mask): LevelTally {
  const [across, down] = [Math.ceil(width / BLOCK), Math.ceil(height / BLOCK)];
  const blocks = Array.from({ length: across * down }, () => new Uint32Array(256));
  return { across, down, blocks, counts: new Uint32Array(256) };
}

function recount({ blocks, counts }: LevelTally, block: number, fill: (counts: Uint32Array) => void): void {
  const own = blocks[block];
  for (let i = 0; i < 256; i++) counts[i] -= own[i];
  own.fill(0);
  fill(own);
  for (let i = 0; i < 256; i++) counts[i] += own[i];
}

function countBox({ width, data }: Mask, { x0, y0, x1, y1 }: Box, counts: Uint32Array): void {
  for (let y = y0; y < y1; y++) {
    for (let i = y * width + x0, end = y * width + x1; i < end; i++) counts[data[i]]++;
  }
}

function meet(a: Box, b: Box): Box {
  return {
    x0: Math.max(a.x0, b.x0),
    y0: Math.max(a.y0, b.y0),
    x1: Math.min(a.x1, b.x1),
    y1: Math.min(a.y1, b.y1),
  };
}
