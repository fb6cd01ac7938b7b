import type { Mask, Picture } from '@lithe-sieve/core';
import type { Thumb } from '../workers/types';

/** What is dropped stays to be seen, so faintly: it is what an eye compares with. */
const FAINT = 0.14;
/** Of the card that a picture lies on, either theme. */
const CARD = 128;
const HALF = 128;
/** What only this mask keeps, and what only the other one does. */
const [MORE, LESS] = [
  [42, 150, 214],
  [226, 88, 62],
] as const;
const TINT = 0.75;

/**
 * A picture with what a mask drops faded; where it differs from another mask, that is tinted.
 *
 * @param other - All of one size.
 */
export function cutOut({ width, height, data }: Picture, mask: Mask, other: Mask | null = null): Thumb {
  const rgba = new Uint8ClampedArray(4 * width * height);
  for (let i = 0, o = 0; o < rgba.length; i++, o += 4) {
    const share = FAINT + ((1 - FAINT) * mask.data[i]) / 255;
    const isKept = mask.data[i] >= HALF;
    const differs = other !== null && isKept !== other.data[i] >= HALF;
    const tint = isKept ? MORE : LESS;
    for (let c = 0; c < 3; c++) {
      const shown = CARD + share * (data[o + c] - CARD);
      rgba[o + c] = differs ? shown + TINT * (tint[c] - shown) : shown;
    }
    rgba[o + 3] = 255;
  }
  return { width, height, rgba };
}

/** Share of texels that two masks of one size keep otherwise. */
export function differenceOf(a: Mask, b: Mask): number {
  let count = 0;
  for (let i = 0; i < a.data.length; i++) count += Number(a.data[i] >= HALF !== b.data[i] >= HALF);
  return count / Math.max(1, a.data.length);
}
