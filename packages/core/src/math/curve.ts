/** A point of a curve over 0–1. */
export type CurvePoint = [x: number, y: number];

/**
 * A smooth curve through points that never swings beyond them: cubic Hermite pieces with the tangents of F. Fritsch,
 * J. Butland, "A Method for Constructing Local Monotone Piecewise Cubic Interpolants" (1984). Left of the first point
 * and right of the last it goes on level.
 *
 * @param points - Sorted by x, no two at the same x; none is the straight line from (0, 0) to (1, 1).
 */
export function curveAt(points: readonly CurvePoint[], x: number): number {
  const n = points.length;
  if (n === 0) return x;
  if (x <= points[0][0]) return points[0][1];
  if (x >= points[n - 1][0]) return points[n - 1][1];
  let k = 0;
  while (points[k + 1][0] < x) k++;
  const [[x0, y0], [x1, y1]] = [points[k], points[k + 1]];
  const width = x1 - x0;
  const t = (x - x0) / width;
  const [m0, m1] = [tangent(points, k), tangent(points, k + 1)];
  const s = 1 - t;
  return s * s * (1 + 2 * t) * y0 + t * t * (3 - 2 * t) * y1 + width * t * s * (s * m0 - t * m1);
}

/** Weighted harmonic mean of the slopes on both sides; level where they turn, and at the ends the slope inside. */
function tangent(points: readonly CurvePoint[], k: number): number {
  const slope = (i: number) => (points[i + 1][1] - points[i][1]) / (points[i + 1][0] - points[i][0]);
  if (k === 0) return slope(0);
  if (k === points.length - 1) return slope(k - 1);
  const [a, b] = [slope(k - 1), slope(k)];
  if (a * b <= 0) return 0;
  const [h0, h1] = [points[k][0] - points[k - 1][0], points[k + 1][0] - points[k][0]];
  const [w0, w1] = [2 * h1 + h0, h1 + 2 * h0];
  return (w0 + w1) / (w0 / a + w1 / b);
}
