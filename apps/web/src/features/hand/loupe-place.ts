import type { Mask } from '@lithe-sieve/core';
import type { Point } from '../../drawing/poses';

/** Points looked at along each side of a place. */
const LOOKS = 8;
/** How much less of the subject another place must hide to be gone to: a loupe that jumps is worse. */
const WORTH_MOVING = 0.15;

/** The share of a square of the view under which texels are kept, 0–1. */
export function hiddenShare(
  { x, y }: Point,
  side: number,
  { width, height, data }: Mask,
  /** In shares of the picture. */
  placeAt: (x: number, y: number) => Point,
  threshold: number,
): number {
  let kept = 0;
  for (let j = 0; j < LOOKS; j++) {
    for (let i = 0; i < LOOKS; i++) {
      const { x: u, y: v } = placeAt(x + ((i + 0.5) * side) / LOOKS, y + ((j + 0.5) * side) / LOOKS);
      const [tx, ty] = [Math.floor(u * width), Math.floor(v * height)];
      if (tx >= 0 && ty >= 0 && tx < width && ty < height && data[ty * width + tx] >= threshold) kept++;
    }
  }
  return kept / LOOKS ** 2;
}

/**
 * The place that hides least of the subject, the one that was taken before where it is about as good.
 *
 * @param hides - How much each hides; Infinity where it can not be.
 * @returns its index.
 */
export function leastHiding(hides: readonly number[], before: number): number {
  const best = hides.reduce((least, share, i) => (share < hides[least] ? i : least), 0);
  return before in hides && hides[before] - hides[best] < WORTH_MOVING ? before : best;
}
