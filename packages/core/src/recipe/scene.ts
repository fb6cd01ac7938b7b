import { cosine, sine } from '../math/trigonometry.ts';
import type { Profile } from './profile.ts';

/** What a line or a plate is made of. */
export interface Surface {
  /** Linear R, G, B from where it begins to where it ends, 0–1: STEPS + 1 triples. */
  readonly along: Float32Array;
  readonly profile: Profile;
  /** How much light shines through, 0–1. */
  readonly translucency: number;
  /** Height that its profile adds, as a share of the whole depth. */
  readonly relief: number;
  /** A grey of its own, 0–255. */
  readonly id: number;
}

/** A place of a line: where it is, half its width, and its height over the card, 0–1. */
export interface LinePoint {
  x: number;
  y: number;
  half: number;
  lift?: number;
}

/** A piece of a line whose pieces lie at different depths: their shares of a texel are added as if they were one. */
export interface LinePart {
  /** Of all its pieces the same, from 0. */
  group: number;
  /** Where it begins and ends on the whole line, 0–1. */
  from: number;
  to: number;
}

const WHOLE: LinePart = { group: -1, from: 0, to: 1 };

interface Owner {
  /** Its shapes, the last one excluded. */
  first: number;
  end: number;
  z: number;
  /** None: a hole. */
  surface: Surface | null;
  /** Of a piece of a line; −1: it is no piece. */
  group: number;
}

/** Numbers of a quad in {@link Scene.numbers}: its middle line, half widths, place along the whole, heights. */
export const FRAME = 12;

/**
 * Shapes in widths of the card, x to the right and y down from its top left corner. A line is an owner of quads, a plate
 * of one polygon; owners with a higher `z` lie in front, of equal ones the later.
 */
export class Scene {
  /** x, y of all corners. */
  readonly corners: number[] = [];
  /** Where the corners of each shape begin. */
  readonly starts: number[] = [];
  /** x, y, ux, uy, nx, ny, half at 0, half at 1, place at 0, place at 1, lift at 0, lift at 1. */
  readonly numbers: number[] = [];
  readonly owners: Owner[] = [];

  /**
   * A line with a width of its own at each place. At least two points; others are left out.
   *
   * @param part - Where the line is a part of a longer one.
   */
  line(points: readonly LinePoint[], surface: Surface, z: number, part: LinePart = WHOLE): void {
    if (points.length < 2) return;
    const first = this.starts.length;
    const lengths = [0];
    for (let i = 1; i < points.length; i++) lengths.push(lengths[i - 1] + distance(points[i - 1], points[i]));
    const whole = lengths[lengths.length - 1];
    if (!(whole > 0)) return;
    const sides = points.map((p, i) => sideAt(points, i, p.half));
    for (let i = 0; i + 1 < points.length; i++) {
      const [p, q] = [points[i], points[i + 1]];
      const long = lengths[i + 1] - lengths[i];
      if (long === 0) continue;
      const [a, b] = [sides[i], sides[i + 1]];
      this.starts.push(this.corners.length / 2);
      this.corners.push(p.x - a.x, p.y - a.y, p.x + a.x, p.y + a.y, q.x + b.x, q.y + b.y, q.x - b.x, q.y - b.y);
      const [ux, uy] = [(q.x - p.x) / long, (q.y - p.y) / long];
      const lifts = [p.lift ?? 0, q.lift ?? 0];
      // the right of the line is where (ux, uy) turned by a quarter points to: (−uy, ux), y down
      this.numbers.push(p.x, p.y, ux / long, uy / long, -uy, ux, p.half, q.half);
      const placeOf = (at: number) => part.from + ((part.to - part.from) * at) / whole;
      this.numbers.push(placeOf(lengths[i]), placeOf(lengths[i + 1]), ...lifts);
    }
    this.own(first, surface, z, part.group);
  }

  /** A flat polygon, its corners in order; not crossing itself. `null` cuts a hole into all that lies behind it. */
  plate(corners: readonly (readonly [x: number, y: number])[], surface: Surface | null, z: number): void {
    const first = this.starts.length;
    this.starts.push(this.corners.length / 2);
    for (const [x, y] of corners) this.corners.push(x, y);
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const [x, y] of corners) {
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
    }
    const [long, half] = [bottom - top, (right - left) / 2];
    this.numbers.push((left + right) / 2, top, 0, 1 / long, -1, 0, half, half, 0, 1, 0, 0);
    this.own(first, surface, z);
  }

  /** A disc as a polygon of the same area. */
  disc(x: number, y: number, radius: number, surface: Surface | null, z: number): void {
    const out = radius * DISC_48;
    const corners = UNIT_48.map(([c, s]) => [x + out * c, y + out * s] as const);
    this.plate(corners, surface, z);
  }

  private own(first: number, surface: Surface | null, z: number, group = -1): void {
    const end = this.starts.length;
    if (end === first) return;
    this.owners.push({ first, end, z, surface, group });
  }
}

function distance(p: LinePoint, q: LinePoint): number {
  return Math.sqrt((q.x - p.x) * (q.x - p.x) + (q.y - p.y) * (q.y - p.y));
}

/** From the middle of a line to its right edge, square to the mean of both directions. */
function sideAt(points: readonly LinePoint[], i: number, half: number): { x: number; y: number } {
  const unit = (p: LinePoint, q: LinePoint) => {
    const long = distance(p, q);
    return long > 0 ? [(q.x - p.x) / long, (q.y - p.y) / long] : [0, 0];
  };
  const before = i > 0 ? unit(points[i - 1], points[i]) : [0, 0];
  const after = i + 1 < points.length ? unit(points[i], points[i + 1]) : [0, 0];
  const [x, y] = [before[0] + after[0], before[1] + after[1]];
  const long = Math.sqrt(x * x + y * y);
  return long > 1e-12 ? { x: (-y / long) * half, y: (x / long) * half } : { x: -after[1] * half, y: after[0] * half };
}

const UNIT_48 = Array.from({ length: 48 }, (_, k) => [cosine(7.5 * k), sine(7.5 * k)] as const);
/** Radius of the polygon over that of the disc: √(2π / (n sin(2π / n))). */
const DISC_48 = Math.sqrt((2 * 3.141592653589793) / (48 * sine(7.5)));
