import { angleOf, cosine, sine } from '../math/trigonometry.ts';
import type { Corner } from './hull.ts';

/** How a subject lies in a rectangle. */
export interface Laid {
  /** By which it is turned, clockwise on the page, degrees; −90 … 90. */
  angle: number;
  /** Sides of its box after that, in texels. */
  width: number;
  height: number;
  /** Middle of that box, in texels of the picture as it was. */
  middle: Corner;
}

/** The box of a hull that is turned by an angle, clockwise on the page. */
export function boxTurned(hull: readonly Corner[], angle: number): Laid {
  const [c, s] = [cosine(angle), sine(angle)];
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const [x, y] of hull) {
    const u = c * x - s * y;
    const v = s * x + c * y;
    if (u < left) left = u;
    if (u > right) right = u;
    if (v < top) top = v;
    if (v > bottom) bottom = v;
  }
  const [u, v] = [(left + right) / 2, (top + bottom) / 2];
  return { angle, width: right - left, height: bottom - top, middle: [c * u + s * v, c * v - s * u] };
}

/**
 * The angle at which a subject is largest in a rectangle of a shape, exact: between two angles at which an edge of the
 * hull lies along a side, both sides of the box are arcs of sines, which bulge upwards, so that the larger of the two is
 * least at such an angle or where both are equal (rotating calipers: G. Toussaint, "Solving geometric problems with the
 * rotating calipers", 1983).
 *
 * @param ratio - Width over height of the rectangle.
 */
export function largestIn(hull: readonly Corner[], ratio: number): Laid {
  let best = boxTurned(hull, 0);
  const sizeOf = ({ width, height }: Laid) => Math.max(width / ratio, height);
  const consider = (angle: number) => {
    const laid = boxTurned(hull, angle);
    if (sizeOf(laid) < sizeOf(best) - 1e-9) best = laid;
  };
  const events = eventsOf(hull);
  for (const [i, angle] of events.entries()) {
    for (const quarter of [0, -90]) {
      consider(angle + quarter);
      const next = events[i + 1] ?? 90 + events[0];
      const crossing = crossingIn(hull, angle + quarter, next + quarter, ratio);
      if (crossing !== null) consider(crossing);
    }
  }
  return best;
}

/** Angles in [0, 90) at which an edge of the hull lies along a side of the box. */
function eventsOf(hull: readonly Corner[]): number[] {
  const angles = hull.map((p, i) => {
    const q = hull[(i + 1) % hull.length];
    return (360 - angleOf(q[1] - p[1], q[0] - p[0])) % 90;
  });
  return [...new Set(angles)].sort((a, b) => a - b);
}

/** Where between two events width / ratio and height are equal; there the same corners touch the box all along. */
function crossingIn(hull: readonly Corner[], from: number, to: number, ratio: number): number | null {
  const middle = (from + to) / 2;
  const [c, s] = [cosine(middle), sine(middle)];
  const across = spanOf(hull, ([x, y]) => c * x - s * y);
  const down = spanOf(hull, ([x, y]) => s * x + c * y);
  // width = across · (c, −s), height = down · (s, c): (across.x / r − down.y) c = (across.y / r + down.x) s
  const p = across[0] / ratio - down[1];
  const q = across[1] / ratio + down[0];
  if (p === 0 && q === 0) return null;
  const base = angleOf(p, q); // tan = p / q, up to half a turn
  for (const angle of [base - 360, base - 180, base, base + 180]) if (angle > from && angle < to) return angle;
  return null;
}

/** From the corner that is least in a direction to the one that is most. */
function spanOf(hull: readonly Corner[], along: (p: Corner) => number): Corner {
  let [least, most] = [hull[0], hull[0]];
  for (const p of hull) {
    if (along(p) < along(least)) least = p;
    if (along(p) > along(most)) most = p;
  }
  return [most[0] - least[0], most[1] - least[1]];
}
