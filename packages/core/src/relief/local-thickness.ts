import { depthInside } from '../mask/depth.ts';
import { findNearest } from '../mask/nearest.ts';
import { makeMask, type Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/** Below this slope of the distance a texel lies on the middle line of its part: elsewhere the slope is 1. */
const RIDGE_SLOPE = 0.85;
/** So near the edge its steps make slopes uneven, and a middle line must be plainer. */
const ROUGH_RIM = 3;
const RIM_SLOPE = 0.55;

/** Marks a texel of the middle line; above it, in steps, how far the crest of the distance lies above its sample. */
const MIDDLE = 155;
const CREST = 100;

/**
 * How wide the part is that each kept texel lies in, in texels: twice the distance to the edge at the nearest point of
 * the part's middle line, which is where the distance stops rising (H. Blum's medial axis, 1967). 0 outside.
 *
 * @param most - Parts wider than this are as wide as this.
 */
export function localThickness(mask: Mask, most: number, env: Pick<Work, 'bands' | 'allocate'>): Float32Array {
  const { width, height } = mask;
  const depth = depthInside(mask, most / 2 + 1, env);
  const middle = env.allocate(width * height);
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) markMiddle(depth, width, height, y, middle);
  });
  const out = new Float32Array(width * height);
  const own = (from: number, to: number) => {
    for (let i = from; i < to; i++) out[i] = Math.min(most, 2 * depth[i] + Math.max(0, middle[i] - MIDDLE) / CREST);
  };
  findNearest(makeMask(width, height, middle), { threshold: MIDDLE }, env, {
    own,
    none: own,
    found(from, to, found) {
      const wide = Math.min(most, 2 * (depth[found] + (middle[found] - MIDDLE) / (2 * CREST)));
      for (let i = from; i < to; i++) out[i] = depth[i] > 0 ? Math.max(wide, Math.min(most, 2 * depth[i])) : 0;
    },
  });
  return out;
}

/** Twice the slope; beside the outside, where depth does not go on falling, that of the other side. */
function across(before: number, own: number, after: number): number {
  if (before === 0) return after === 0 ? 0 : 2 * (after - own);
  return after === 0 ? 2 * (own - before) : after - before;
}

function markMiddle(depth: Float32Array, width: number, height: number, y: number, middle: Uint8Array): void {
  const row = y * width;
  const up = y > 0 ? row - width : row;
  const down = y + 1 < height ? row + width : row;
  const least = RIDGE_SLOPE * RIDGE_SLOPE * 4;
  const leastAtRim = RIM_SLOPE * RIM_SLOPE * 4;
  for (let x = 0; x < width; x++) {
    if (depth[row + x] <= 0) continue;
    const own = depth[row + x];
    const gx = across(depth[row + (x > 0 ? x - 1 : x)], own, depth[row + (x + 1 < width ? x + 1 : x)]);
    const gy = across(depth[up + x], own, depth[down + x]);
    if (gx * gx + gy * gy >= (own < ROUGH_RIM ? leastAtRim : least)) continue;
    const [l, r] = [depth[row + (x > 0 ? x - 1 : x)], depth[row + (x + 1 < width ? x + 1 : x)]];
    const [a, b] = [depth[up + x], depth[down + x]];
    // across the part depth falls off faster; the crest lies between its two highest samples, which are a slope of 1 apart
    const beside = Math.min(l, r) < Math.min(a, b) ? Math.max(l, r) : Math.max(a, b);
    const crest = Math.min(0.5, Math.max(0, (beside - own + 1) / 2));
    middle[row + x] = MIDDLE + Math.round(2 * CREST * crest);
  }
}
