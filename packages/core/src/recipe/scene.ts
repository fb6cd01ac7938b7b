import { cosine, sine } from '../math/trigonometry.ts';
import type { Profile } from './profile.ts';
import type { Stamp } from './stamp.ts';
import { DoubleList } from './double-list.ts';
import type { WorkMeter } from './work-meter.ts';

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
  /** A picture along it: `along` is then what its light is multiplied by. */
  readonly stamp?: Stamp | undefined;
}

/** A place of a line: where it is, half its width, and its height over the card, 0–1. */
export interface LinePoint {
  x: number;
  y: number;
  half: number;
  lift: number;
}

/** A piece of a line whose pieces lie at different depths: their shares of a texel are added as if they were one. */
export interface LinePart {
  /** The same for all its pieces, from 0. */
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
  /** The line that a piece belongs to; −1: it is no piece. */
  group: number;
}

/** Numbers of a quad in {@link Scene.numbers}: its middle line, half widths, place along the whole, heights. */
export const FRAME = 12;

/**
 * Shapes in widths of the card, x to the right and y down from its top left corner. A line is an owner of quads, a plate
 * of one polygon; owners with a higher `z` lie in front, of equal ones the later.
 */
export class Scene {
  private readonly cornerList = new DoubleList();
  private readonly numberList = new DoubleList();
  /** Where the corners of each shape begin. */
  readonly starts: number[] = [];
  readonly owners: Owner[] = [];

  /** @param meter - Counts what is added and refuses what is too much. */
  constructor(private readonly meter: WorkMeter) {}

  /** x, y of all corners so far. */
  get corners(): Float64Array {
    return this.cornerList.values;
  }

  /** x, y, ux, uy, nx, ny, half at 0, half at 1, place at 0, place at 1, lift at 0, lift at 1. */
  get numbers(): Float64Array {
    return this.numberList.values;
  }

  /**
   * A line with a width of its own at each place. At least two points; others are left out.
   *
   * @param part - Where the line is a part of a longer one.
   */
  line(points: readonly LinePoint[], surface: Surface, z: number, part: LinePart = WHOLE): void {
    const n = points.length;
    if (n < 2) return;
    const first = this.starts.length;
    // directions and lengths of the stretches between the points; without a length it goes on as the one before
    const ways = new Float64Array(2 * n);
    const lengths = new Float64Array(n);
    for (let i = 0; i + 1 < n; i++) {
      const dx = points[i + 1].x - points[i].x;
      const dy = points[i + 1].y - points[i].y;
      const long = Math.sqrt(dx * dx + dy * dy);
      lengths[i + 1] = lengths[i] + long;
      ways[2 * i] = long > 0 ? dx / long : i > 0 ? ways[2 * i - 2] : 0;
      ways[2 * i + 1] = long > 0 ? dy / long : i > 0 ? ways[2 * i - 1] : 0;
    }
    const whole = lengths[n - 1];
    if (!(whole > 0)) return;
    const { cornerList: corners, numberList: numbers } = this;
    let side = sideAt(ways, n, 0);
    for (let i = 0; i + 1 < n; i++) {
      const p = points[i];
      const q = points[i + 1];
      const long = lengths[i + 1] - lengths[i];
      const next = sideAt(ways, n, i + 1);
      if (long > 0) {
        this.starts.push(corners.length / 2);
        const ax = side.x * p.half;
        const ay = side.y * p.half;
        const bx = next.x * q.half;
        const by = next.y * q.half;
        corners.push(p.x - ax, p.y - ay, p.x + ax, p.y + ay, q.x + bx, q.y + by, q.x - bx, q.y - by);
        const ux = ways[2 * i];
        const uy = ways[2 * i + 1];
        const from = part.from + ((part.to - part.from) * lengths[i]) / whole;
        const to = part.from + ((part.to - part.from) * lengths[i + 1]) / whole;
        // the right of the line is where (ux, uy) turned by a quarter points to: (−uy, ux), y down
        numbers.push(p.x, p.y, ux / long, uy / long, -uy, ux, p.half, q.half, from, to, p.lift, q.lift);
      }
      side = next;
    }
    this.own(first, surface, z, part.group);
  }

  /** A flat polygon, its corners in order; not crossing itself. `null` cuts a hole into all that lies behind it. */
  plate(corners: readonly (readonly [x: number, y: number])[], surface: Surface | null, z: number): void {
    const first = this.starts.length;
    this.starts.push(this.cornerList.length / 2);
    for (const [x, y] of corners) this.cornerList.push(x, y);
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const [x, y] of corners) {
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
    }
    const [long, half] = [bottom - top, (right - left) / 2];
    this.numberList.push((left + right) / 2, top, 0, 1 / long, -1, 0, half, half, 0, 1, 0, 0);
    this.own(first, surface, z);
  }

  /** A disc as a polygon of the same area, of more corners the larger it is. */
  disc(x: number, y: number, radius: number, surface: Surface | null, z: number): void {
    const unit = radius < 0.01 ? UNIT_24 : radius < 0.05 ? UNIT_48 : UNIT_120;
    this.plate(
      unit.map(([cos, sin]) => [x + radius * cos, y + radius * sin] as const),
      surface,
      z,
    );
  }

  private own(first: number, surface: Surface | null, z: number, group = -1): void {
    const end = this.starts.length;
    if (end === first) return;
    const { starts, cornerList } = this;
    for (let i = first; i < end; i++)
      this.meter.count(cornerList.room, starts[i], i + 1 < end ? starts[i + 1] : cornerList.length / 2);
    this.owners.push({ first, end, z, surface, group });
  }
}

/** To the right of a line at one of its points, square to the mean of both directions there. */
function sideAt(ways: Float64Array, n: number, i: number): { x: number; y: number } {
  const before = i > 0 ? i - 1 : 0;
  const after = i + 1 < n ? i : n - 2;
  const x = ways[2 * before] + ways[2 * after];
  const y = ways[2 * before + 1] + ways[2 * after + 1];
  const long = Math.sqrt(x * x + y * y);
  if (long > 1e-12) return { x: -y / long, y: x / long };
  return { x: -ways[2 * after + 1], y: ways[2 * after] }; // it turns right back
}

/** Corners of a regular polygon as large as the disc of radius 1: its own radius is √(2π / (n sin(2π / n))). */
function polygon(n: number): readonly (readonly [number, number])[] {
  const out = Math.sqrt((2 * 3.141592653589793) / (n * sine(360 / n)));
  return Array.from({ length: n }, (_, k) => [out * cosine((360 * k) / n), out * sine((360 * k) / n)] as const);
}
const UNIT_24 = polygon(24);
const UNIT_48 = polygon(48);
const UNIT_120 = polygon(120);
