import type { Mask } from '../raster/raster.ts';
import type { Box } from '../raster/box.ts';
import { histogram, type Histogram } from './histogram.ts';

/** What the Sieve needs to know of one mip level: everything that depends on the cutoff follows from these. */
export interface LevelSummary {
  width: number;
  height: number;
  counts: Histogram;
  silhouette: Silhouette;
}

/** Alphas sampled on a grid, to draw the clipped outline small at any cutoff. */
export interface Silhouette {
  width: number;
  height: number;
  /** Samples along each side of a small texel; a texel holds grid² of them, one after the other. */
  grid: number;
  samples: Uint8Array;
}

/** Where the mask keeps: its border ring against its middle. */
export interface MaskSummary {
  levels: LevelSummary[];
  border: Histogram;
  middle: Histogram;
}

const SILHOUETTE_GRID = 3;

/** Longer side that the silhouette of a mip level is drawn at: smaller level by level, but never too small to see. */
export function silhouetteSide(level: number): number {
  return Math.max(15, Math.round(78 * 0.85 ** level));
}

/** @param chain - Level 0 first. */
export function summariseMask(chain: readonly Mask[]): MaskSummary {
  const levels = chain.map((level, i) => ({
    width: level.width,
    height: level.height,
    counts: histogram(level),
    silhouette: sampleSilhouette(level, silhouetteSide(i)),
  }));
  return { levels, ...borderAndMiddle(chain[0]) };
}

/** @param side - Longer side of the silhouette, at most. */
export function sampleSilhouette(mask: Mask, side: number): Silhouette {
  const shrink = Math.min(1, side / Math.max(mask.width, mask.height));
  const width = Math.max(1, Math.round(mask.width * shrink));
  const height = Math.max(1, Math.round(mask.height * shrink));
  const grid = shrink < 1 ? SILHOUETTE_GRID : 1;
  const silhouette = { width, height, grid, samples: new Uint8Array(width * height * grid * grid) };
  resampleSilhouette(silhouette, mask, { x0: 0, y0: 0, x1: mask.width, y1: mask.height });
  return silhouette;
}

/** Samples a part of the mask again. */
export function resampleSilhouette({ width, height, grid, samples }: Silhouette, mask: Mask, part: Box): void {
  const [x0, x1] = [Math.floor((part.x0 * width) / mask.width), Math.ceil((part.x1 * width) / mask.width)];
  const [y0, y1] = [Math.floor((part.y0 * height) / mask.height), Math.ceil((part.y1 * height) / mask.height)];
  for (let y = y0; y < y1; y++) {
    let o = (y * width + x0) * grid * grid;
    for (let x = x0; x < x1; x++) {
      for (let j = 0; j < grid; j++) {
        const row = Math.floor(((y + (j + 0.5) / grid) * mask.height) / height) * mask.width;
        for (let i = 0; i < grid; i++) {
          samples[o++] = mask.data[row + Math.floor(((x + (i + 0.5) / grid) * mask.width) / width)];
        }
      }
    }
  }
}

/** Grey, 0–255, of every small texel: the share of its samples at or above the threshold. */
export function drawSilhouette({ grid, samples }: Silhouette, threshold: number, out: Uint8Array): void {
  const perTexel = grid * grid;
  const unit = 255 / perTexel;
  for (let o = 0, i = 0; i < samples.length; o++) {
    let kept = 0;
    for (const end = i + perTexel; i < end; i++) kept += (threshold - 1 - samples[i]) >>> 31; // no branch to guess wrong
    out[o] = kept * unit + 0.5;
  }
}

/** Width of the ring along the border, and the central half of both sides. */
export function ringOf({ width, height }: Mask): { ring: number; middle: Box } {
  const ring = Math.max(1, Math.floor(Math.min(width, height) / 50));
  return { ring, middle: { x0: width >> 2, x1: width - (width >> 2), y0: height >> 2, y1: height - (height >> 2) } };
}

/** Histograms of a ring of 1/50 of the shorter side, and of the central half of both sides. */
function borderAndMiddle(mask: Mask): { border: Histogram; middle: Histogram } {
  const { width, height, data } = mask;
  const {
    ring,
    middle: { x0, x1, y0, y1 },
  } = ringOf(mask);
  const border = new Uint32Array(256);
  const middle = new Uint32Array(256);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const whole = y < ring || y >= height - ring;
    for (let x = 0; x < width; x++) {
      if (!whole && x === ring) x = Math.max(ring, width - ring);
      if (x < width) border[data[row + x]]++;
    }
    if (y >= y0 && y < y1) for (let x = x0; x < x1; x++) middle[data[row + x]]++;
  }
  return { border, middle };
}
