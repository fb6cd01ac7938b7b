import { makeMask, type Mask } from '../raster/raster.ts';
import { thresholdByte } from '../math/threshold.ts';
import type { StepKind } from './step.ts';

export interface HardenParams {
  /** Width of the edge after it, in texels. */
  width: number;
  /** Alpha, 0–1, at which the outline lies. */
  cutoff: number;
}

/**
 * Makes the edge steeper around an outline that stays where it is: alpha goes away from the cutoff in proportion to how
 * far off the outline is, which is by first order what alpha is off divided by its slope. No texel changes side, and none
 * becomes softer than it was.
 */
export const harden: StepKind<HardenParams> = {
  stretch: 'mask',
  purpose: 'edge',
  label: 'Harden edge',
  hint: 'Narrows a soft edge around the cutoff; what is kept there stays the same.',
  defaults: { width: 1.5, cutoff: 0.5 },
  ranges: {
    width: { min: 0.5, max: 64, step: 0.25, unit: 'texels', logarithmic: true },
    cutoff: { min: 0.01, max: 1 },
  },
  pullsMask: false,
  apply({ mask }, { width, cutoff }, env) {
    const out = env.allocate(mask.data.length);
    const threshold = thresholdByte(cutoff);
    env.bands(mask.height, (y0, y1) => steepen(mask, threshold - 0.5, Math.max(0.5, width * env.scale), out, y0, y1));
    return { mask: makeMask(mask.width, mask.height, out) };
  },
};

/** @param at - Alpha of the outline, between two bytes. @param texels - Width of the edge. */
function steepen(
  { width, height, data }: Mask,
  at: number,
  texels: number,
  out: Uint8Array,
  y0: number,
  y1: number,
): void {
  for (let y = y0; y < y1; y++) {
    const up = y > 0 ? -width : 0;
    const down = y + 1 < height ? width : 0;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const own = data[i];
      out[i] = own;
      if (own === 0 || own === 255) continue;
      const [left, right] = [x > 0 ? -1 : 0, x + 1 < width ? 1 : 0];
      const gx = gradient(data, i, left, right, up, down);
      const gy = gradient(data, i, up, down, left, right);
      const slope = Math.sqrt(gx * gx + gy * gy);
      const v = at + (own - at) * Math.max(1, 255 / (slope * texels));
      out[i] = v <= 0 ? 0 : v >= 255 ? 255 : v + 0.5;
    }
  }
}

/** Bytes per texel from `before` to `after` (I. Sobel's weights, 1 2 1 across). */
function gradient(data: Uint8Array, i: number, before: number, after: number, one: number, other: number): number {
  const end = data[i + after + one] + 2 * data[i + after] + data[i + after + other];
  const start = data[i + before + one] + 2 * data[i + before] + data[i + before + other];
  return (end - start) / 8;
}
