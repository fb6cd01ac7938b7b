import type { Mask, Raster } from '@lithe-sieve/core';

/** An invented picture with the mask it was drawn from. */
export interface Drawn {
  /** RGB or RGBA. */
  colour: Raster;
  /** Exact coverage of every texel, from the shapes themselves. */
  mask: Mask;
}

export type Colour = readonly [r: number, g: number, b: number];

export function mix(a: Colour, b: Colour, t: number): Colour {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

export function clampByte(v: number): number {
  return v < 0 ? 0 : v > 255 ? 255 : Math.round(v);
}
