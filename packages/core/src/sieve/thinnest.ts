import { makeMask, type Mask } from '../raster/raster.ts';

/** Longer side that parts are looked at, in texels, at the most. */
const SIDE = 1024;
/** Share of the kept area from which a part is one, and not a speck. */
const PART = 0.002;
/** Lower alphas are haze: what hangs on by these alone is not connected. */
const LEAST = 8;

/**
 * The highest alpha byte at which every part of a mask is still connected to what it belongs to: above it the thinnest
 * connection between two parts breaks. Null where there is nothing that could break.
 *
 * Texels are joined from the highest alpha down (union and find, as for a component tree; eight neighbours); wherever two
 * parts meet that are both large enough, that alpha is what holds them together, and the least of these is wanted.
 * A large mask is looked at small, each texel the highest of those that it covers, so that no thread is lost.
 */
export function thinnestConnection(mask: Mask): number | null {
  const { width, height, data } = smallByHighest(mask);
  const order = byAlphaFromHighest(data);
  const parent = new Int32Array(data.length).fill(-1);
  const area = new Int32Array(data.length);
  const least = Math.max(4, Math.round(PART * data.reduce((sum, v) => sum + (v >= 128 ? 1 : 0), 0)));
  let thinnest: number | null = null;
  for (const at of order) {
    const alpha = data[at];
    if (alpha < LEAST) break;
    parent[at] = at;
    area[at] = 1;
    const x = at % width;
    const y = (at - x) / width;
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const next = v * width + u;
        if (next === at || parent[next] < 0) continue;
        const [a, b] = [rootOf(parent, at), rootOf(parent, next)];
        if (a === b) continue;
        if (area[a] >= least && area[b] >= least) thinnest = alpha;
        const [small, large] = area[a] < area[b] ? [a, b] : [b, a];
        parent[small] = large;
        area[large] += area[small];
      }
    }
  }
  return thinnest;
}

function smallByHighest(mask: Mask): Mask {
  const by = Math.ceil(Math.max(mask.width, mask.height) / SIDE);
  if (by === 1) return mask;
  const [width, height] = [Math.ceil(mask.width / by), Math.ceil(mask.height / by)];
  const out = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < mask.height; y++) {
    const row = Math.floor(y / by) * width;
    for (let x = 0; x < mask.width; x++, i++) {
      const o = row + Math.floor(x / by);
      if (mask.data[i] > out[o]) out[o] = mask.data[i];
    }
  }
  return makeMask(width, height, out);
}

/** Places of texels by counting sort. */
function byAlphaFromHighest(data: Uint8Array): Int32Array {
  const starts = new Int32Array(257);
  for (const v of data) starts[255 - v + 1]++;
  for (let v = 0; v < 256; v++) starts[v + 1] += starts[v];
  const order = new Int32Array(data.length);
  for (let i = 0; i < data.length; i++) order[starts[255 - data[i]]++] = i;
  return order;
}

function rootOf(parent: Int32Array, at: number): number {
  let root = at;
  while (parent[root] !== root) root = parent[root];
  while (parent[at] !== root) [at, parent[at]] = [parent[at], root];
  return root;
}
