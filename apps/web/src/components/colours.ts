import type { Rgb } from '@lithe-sieve/core';

export function hexOf(colour: Rgb): string {
  return `#${colour.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
}

/** @param hex - `#rrggbb`, the mark may be left out; null where it is something else. */
export function rgbOf(hex: string): Rgb | null {
  const match = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(hex.trim());
  return match && ([1, 2, 3].map((i) => Number.parseInt(match[i], 16)) as Rgb);
}
