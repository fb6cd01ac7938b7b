import { depthInside } from '../mask/depth.ts';
import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

/** A texel from which the distance to the edge rises by less than this a texel lies on the middle line of its part. */
const MIDDLE_SLOPE = 0.72;
/** So near the edge its steps make slopes uneven: less of a rise is one. */
const RIM = 1.5;
const RIM_SLOPE = 0.4;
/** Texels between two looks whether the result is still wanted. */
const LOOK_EVERY = 1 << 19;
/** Steps of depth by which texels are ordered, a texel. */
const FINENESS = 16;

/**
 * How wide the part is that each kept texel lies in, in texels: twice the distance to the edge on the part's middle line
 * (H. Blum's medial axis, 1967), where going up the distance from the texel comes to. 0 outside.
 *
 * @param most - Parts wider than this are as wide as this.
 */
export function localThickness(mask: Mask, most: number, env: Pick<Work, 'bands' | 'checkpoint'>): Float32Array {
  const { width, height } = mask;
  const depth = depthInside(mask, most / 2 + 1, env);
  const out = new Float32Array(width * height);
  const look = () => env.checkpoint(0.5);
  const order = fromDeepest(depth, Math.ceil((most / 2 + 2) * FINENESS), look);
  for (let k = 0; k < order.length; k++) {
    if (k % LOOK_EVERY === 0) env.checkpoint(0.5 + k / (2 * order.length));
    const i = order[k];
    out[i] = widthAt(depth, width, height, i, out, most);
  }
  return out;
}

/** Texels inside, the deepest first: what a texel takes over is known before it. */
function fromDeepest(depth: Float32Array, bins: number, look: () => void): Int32Array {
  const starts = new Int32Array(bins + 2);
  const binOf = (d: number) => bins - Math.min(bins, (d * FINENESS) | 0);
  for (let i = 0; i < depth.length; i++) {
    if (i % LOOK_EVERY === 0) look();
    if (depth[i] > 0) starts[binOf(depth[i]) + 1]++;
  }
  for (let b = 0; b <= bins; b++) starts[b + 1] += starts[b];
  const order = new Int32Array(starts[bins + 1]);
  for (let i = 0; i < depth.length; i++) {
    if (i % LOOK_EVERY === 0) look();
    if (depth[i] > 0) order[starts[binOf(depth[i])]++] = i;
  }
  return order;
}

/** What the neighbour on the steepest way up has; on the middle line, the width there. */
function widthAt(
  depth: Float32Array,
  width: number,
  height: number,
  i: number,
  out: Float32Array,
  most: number,
): number {
  const own = depth[i];
  const x = i % width;
  const y = (i - x) / width;
  let steepest = 0;
  let from = -1;
  for (let v = y > 0 ? y - 1 : y; v <= y + 1 && v < height; v++) {
    for (let u = x > 0 ? x - 1 : x; u <= x + 1 && u < width; u++) {
      const k = v * width + u;
      const rise = u !== x && v !== y ? (depth[k] - own) * Math.SQRT1_2 : depth[k] - own;
      if (rise > steepest) {
        steepest = rise;
        from = k;
      }
    }
  }
  if (steepest >= (own < RIM ? RIM_SLOPE : MIDDLE_SLOPE) && out[from] > 0) return out[from];
  const crest = own + crestAbove(depth, width, height, x, y);
  return Math.min(most, 2 * crest);
}

/** How far the crest of the distance lies above a sample on the middle line: samples across it are a slope of 1 apart. */
function crestAbove(depth: Float32Array, width: number, height: number, x: number, y: number): number {
  const at = (u: number, v: number) =>
    depth[Math.min(height - 1, Math.max(0, v)) * width + Math.min(width - 1, Math.max(0, u))];
  const [l, r, a, b] = [at(x - 1, y), at(x + 1, y), at(x, y - 1), at(x, y + 1)];
  const beside = Math.min(l, r) < Math.min(a, b) ? Math.max(l, r) : Math.max(a, b);
  return Math.min(0.5, Math.max(0, (beside - at(x, y) + 1) / 2));
}
