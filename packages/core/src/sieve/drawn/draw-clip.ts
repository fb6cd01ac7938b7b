import { bayerMatrix } from '../../math/bayer.ts';
import { allocateHeap, makeMask, type Allocate, type Mask } from '../../raster/raster.ts';
import { thresholdByte } from '../../math/threshold.ts';
import { hashedThresholds } from './hashed.ts';

/** How a renderer decides which pixels of a masked surface show. */
export const CLIP_DRAWINGS = ['hard', 'hashed', 'ordered', 'coverage'] as const;
export const SAMPLE_COUNTS = [2, 4, 8] as const;

export interface ClipDrawing {
  by: (typeof CLIP_DRAWINGS)[number];
  /** Samples of a pixel, where alpha becomes coverage. */
  samples: (typeof SAMPLE_COUNTS)[number];
}

export const CLIP_DRAWING_DEFAULTS = { by: 'hard', samples: 4 } as const satisfies ClipDrawing;

/** Side of the matrix of the ordered dither, pixels. */
export const DITHER_SIDE = 8;

/**
 * What a renderer draws of a level, seen straight on at one texel to a pixel: how much of each pixel is covered, 0–255.
 *
 * - hard: covered where alpha · factor ≥ cutoff (glTF 2.0 §3.9.4);
 * - hashed: where it is at least a threshold as good as random, see `hashedThresholds`; the cutoff plays no part;
 * - ordered: where it is at least Bayer's threshold of the pixel; nor here;
 * - coverage: as many samples of n as alpha says, once its edge is sharpened to a pixel around the cutoff by how much it
 *   changes from pixel to pixel (common practice: (alpha − cutoff) / fwidth + 1/2), so that n + 1 coverages come out.
 */
export function drawClip(
  mask: Mask,
  { cutoff, opacity }: { cutoff: number; opacity: number },
  { by, samples }: ClipDrawing,
  allocate: Allocate = allocateHeap,
): Mask {
  const { width, height, data } = mask;
  const out = allocate(data.length);
  switch (by) {
    case 'hard': {
      const threshold = thresholdByte(cutoff, opacity);
      for (let i = 0; i < data.length; i++) out[i] = data[i] >= threshold ? 255 : 0;
      break;
    }
    case 'hashed':
      drawHashed(mask, opacity, out);
      break;
    case 'ordered':
      drawOrdered(mask, opacity, out);
      break;
    case 'coverage':
      drawCoverage(mask, cutoff, opacity, samples, out);
  }
  return makeMask(width, height, out);
}

/** The longer side of the surface is its unit. */
function drawHashed({ width, height, data }: Mask, opacity: number, out: Uint8Array): void {
  const pixel = 1 / Math.max(width, height);
  const thresholdAt = hashedThresholds(pixel);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const alpha = (data[i] / 255) * opacity;
      // most are all or nothing, and need no hash
      const kept = alpha >= 1 || (alpha > 0 && alpha >= thresholdAt((x + 0.5) * pixel, (y + 0.5) * pixel));
      out[i] = kept ? 255 : 0;
    }
  }
}

function drawOrdered({ width, height, data }: Mask, opacity: number, out: Uint8Array): void {
  const thresholds = bayerMatrix(DITHER_SIDE).map((rank) => (rank + 0.5) / (DITHER_SIDE * DITHER_SIDE));
  for (let y = 0, i = 0; y < height; y++) {
    const row = (y % DITHER_SIDE) * DITHER_SIDE;
    for (let x = 0; x < width; x++, i++) {
      out[i] = (data[i] / 255) * opacity >= thresholds[row + (x % DITHER_SIDE)] ? 255 : 0;
    }
  }
}

/** What alpha changes from pixel to pixel is found as graphics cards do: within groups of 2 × 2 (Vulkan 1.3 §16.5.8). */
function drawCoverage(
  { width, height, data }: Mask,
  cutoff: number,
  opacity: number,
  samples: number,
  out: Uint8Array,
) {
  for (let y = 0, i = 0; y < height; y++) {
    const beside = (y ^ 1) < height ? ((y ^ 1) - y) * width : 0;
    for (let x = 0; x < width; x++, i++) {
      const own = data[i];
      const across = (x ^ 1) < width ? Math.abs(data[i + (x ^ 1) - x] - own) : 0;
      const change = ((across + Math.abs(data[i + beside] - own)) / 255) * opacity;
      const cover = sharpened((own / 255) * opacity, cutoff, change);
      out[i] = Math.floor((255 * Math.floor(cover * samples + 0.5)) / samples + 0.5);
    }
  }
}

/** Where alpha does not change at all the clip is hard. */
function sharpened(alpha: number, cutoff: number, change: number): number {
  if (change < FLAT || cutoff <= 0) return alpha >= cutoff ? 1 : 0;
  return Math.min(1, Math.max(0, (alpha - cutoff) / change + 0.5));
}

/** A quarter of a step of a byte. */
const FLAT = 0.001;
