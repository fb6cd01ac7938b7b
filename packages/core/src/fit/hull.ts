import type { Mask } from '../raster/raster.ts';

/** A point, x and y in texels from the top left corner. */
export type Corner = readonly [x: number, y: number];

/**
 * Convex hull of the kept texels, their corners included, counterclockwise on a page whose y runs down: monotone chains,
 * A. M. Andrew, "Another efficient algorithm for convex hulls in two dimensions" (1979). Empty where nothing is kept.
 *
 * @param threshold - Alpha byte from which a texel counts.
 */
export function keptHull({ width, height, data }: Mask, threshold: number): Corner[] {
  const points: Corner[] = [];
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width;
    let from = y * width;
    while (from < end && data[from] < threshold) from++;
    if (from === end) continue;
    let to = end;
    while (data[to - 1] < threshold) to--;
    const [first, last] = [from - y * width, to - y * width];
    points.push([first, y], [first, y + 1], [last, y], [last, y + 1]);
  }
  return convexHull(points);
}

/** Monotone chains, as above. @param points - Sorted by this. */
export function convexHull(points: Corner[]): Corner[] {
  points.sort((p, q) => p[0] - q[0] || p[1] - q[1]);
  if (points.length < 3) return points;
  return [...chain(points), ...chain(points.reverse())];
}

function chain(points: readonly Corner[]): Corner[] {
  const out: Corner[] = [];
  for (const p of points) {
    while (out.length > 1 && turn(out[out.length - 2], out[out.length - 1], p) <= 0) out.pop();
    out.push(p);
  }
  out.pop(); // it begins the other chain
  return out;
}

function turn(a: Corner, b: Corner, c: Corner): number {
  return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
}
