import type { Mask, Picture } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

const REACH = 4;
const MOST = 40_000;

/**
 * By how many texels the second picture of an opaque subject is shifted against the first: the least squares of the
 * differences over whole shifts, refined by a parabola through the neighbours.
 *
 * @param subject - 255 where neither backdrop shows; only texels with such all around are looked at.
 *
 * @returns null where the subject is too plain, or too small, to tell.
 */
export function measureShift(
  first: Picture,
  second: Picture,
  subject: Mask,
  env: Pick<Work, 'checkpoint'>,
): { x: number; y: number } | null {
  const inside = innerTexels(subject);
  if (inside.length < 100) return null;
  const n = 2 * REACH + 1;
  const cost = new Float64Array(n * n);
  for (let dy = -REACH; dy <= REACH; dy++) {
    env.checkpoint(1);
    for (let dx = -REACH; dx <= REACH; dx++)
      cost[(dy + REACH) * n + dx + REACH] = difference(first, second, inside, dx, dy);
  }
  let best = 0;
  for (let i = 1; i < cost.length; i++) if (cost[i] < cost[best]) best = i;
  const [x, y] = [best % n, Math.floor(best / n)];
  const mean = cost.reduce((a, b) => a + b, 0) / cost.length;
  if (mean < 2 || cost[best] > 0.8 * mean) return null; // shifting changes next to nothing: no texture
  const vertex = (before: number, at: number, after: number) => {
    const bend = before - 2 * at + after;
    return bend > 0 ? Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend))) : 0;
  };
  const within = (v: number) => v > 0 && v < n - 1;
  return {
    x: x - REACH + (within(x) ? vertex(cost[best - 1], cost[best], cost[best + 1]) : 0),
    y: y - REACH + (within(y) ? vertex(cost[best - n], cost[best], cost[best + n]) : 0),
  };
}

function innerTexels({ width, height, data }: Mask): Int32Array {
  const pad = REACH + 1;
  const found: number[] = [];
  const full = (i: number) => data[i] === 255;
  for (let y = pad; y < height - pad; y++) {
    for (let x = pad; x < width - pad; x++) {
      const i = y * width + x;
      if (full(i) && full(i - pad) && full(i + pad) && full(i - pad * width) && full(i + pad * width)) found.push(i);
    }
  }
  const step = Math.max(1, Math.floor(found.length / MOST));
  return Int32Array.from({ length: Math.floor(found.length / step) }, (_, k) => found[k * step]);
}

function difference(first: Picture, second: Picture, inside: Int32Array, dx: number, dy: number): number {
  const shift = dy * first.width + dx;
  let sum = 0;
  for (let k = 0; k < inside.length; k++) {
    const p = 4 * inside[k];
    const q = 4 * (inside[k] + shift);
    for (let c = 0; c < 3; c++) {
      const d = first.data[p + c] - second.data[q + c];
      sum += d * d;
    }
  }
  return sum / inside.length;
}
