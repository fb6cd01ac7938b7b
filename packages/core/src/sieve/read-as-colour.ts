import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { coverageAt, type Histogram } from './histogram.ts';
import type { Clip } from './levels.ts';
import { thresholdByte } from '../math/threshold.ts';

/**
 * Smallest byte of a mask that is kept where it is read as colour: taken for sRGB and made linear first (IEC 61966-2-1).
 *
 * @param cutoff - 0–1. @param opacity - The material's opacity factor, 0–1. @returns 0 (all kept) to 256 (none kept).
 */
export function thresholdByteReadAsColour(cutoff: number, opacity = 1): number {
  if (cutoff <= 0) return 0;
  const byte = LINEAR_OF_BYTE.findIndex((light) => light * opacity >= cutoff);
  return byte < 0 ? 256 : byte;
}

/** Shares of a mask that are kept, 0–1: as it is meant, and where it is read as colour; null where both are the same. */
export function keptReadAsColour(
  counts: Histogram,
  { mode, cutoff, opacity }: Pick<Clip, 'mode' | 'cutoff' | 'opacity'>,
): { meant: number; asColour: number } | null {
  if (mode !== 'mask') return null;
  const meant = coverageAt(counts, thresholdByte(cutoff, opacity));
  const asColour = coverageAt(counts, thresholdByteReadAsColour(cutoff, opacity));
  return meant === asColour ? null : { meant, asColour };
}
