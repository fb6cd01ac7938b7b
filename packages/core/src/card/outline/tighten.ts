import { crosses, type Room } from './fewer-corners.ts';
import { ringArea, type Ring } from './contours.ts';
import type { KeptCells } from './kept-cells.ts';

/** Halvings of the step: from an eighth of the longer side down to a fraction of a texel. */
const ROUNDS = 14;
const FIRST_STEP = 1 / 8;
/** Halvings of how far the other end of an edge follows. */
const HALVINGS = 7;
/** Share of an edge that a corner may slide over at once. */
const MOST_SLIDE = 0.9;
/** Texels² below which a step is not worth it. */
const LEAST_GAIN = 1e-9;
/** Rounds of one step, while they gain. */
const REPEATS = 6;
/** Share of the area that a round has to gain to be followed by another with the same step. */
const WORTH = 2e-4;

/**
 * Moves the corners of rings so that their area is as small as steps can make it, while all that is kept stays inside. A
 * corner slides along its two edges; an edge turns: one end goes out along its neighbour, the other one in as far as
 * it may. (An edge of the least polygon around a shape touches it with a whole side or with its middle: V. Klee and
 * M. Laskowski, "Finding the smallest triangles containing a given convex polygon", 1985; steps find such places.)
 */
export function tighten(rings: readonly Ring[], cells: KeptCells, rim: Rim, room: Room): Ring[] {
  const work = new Tightening(rings, cells, room, rim);
  const sides = Math.max(cells.width, cells.height);
  for (let round = 0, step = sides * FIRST_STEP; round < ROUNDS; round++, step /= 2) {
    work.wake();
    for (let again = 0; again < REPEATS; again++) {
      const gained = work.round(step);
      if (gained <= WORTH * work.area()) break;
    }
  }
  return work.rings;
}

/** Whether all that is kept lies inside rings as they are. */
export function holdsAll(rings: readonly Ring[], cells: KeptCells): boolean {
  const edges = rings.flatMap((ring) => ring.map((p, i) => edgeOf(p, ring[(i + 1) % ring.length])));
  const o = new Float64Array(16);
  for (let cell = 0; cell < cells.taken.length; cell++) {
    if (!cells.taken[cell]) continue;
    cells.cornersOf(cell, o, 0);
    for (const edge of edges) {
      const isCut = sideOf(edge, o, edge.outmost) < -edge.slack && sideOf(edge, o, edge.inmost) > edge.slack;
      if (isCut && !clearBySides(o, 0, edge)) return false;
    }
    const middle = middleOf(o, 0);
    // once around for each outer line, once back for each hole
    if (rings.reduce((around, ring) => around + (isInside(ring, middle) ? Math.sign(ringArea(ring)) : 0), 0) <= 0)
      return false;
  }
  return true;
}

class Tightening {
  readonly rings: Ring[];
  private readonly rim: Rim;
  /** A cell that stood in the way of the last try: it often does in the next one. */
  private refused = -1;
  /** Corners that moved, or beside one that did, since they were last tried. */
  private awake: Uint8Array[] = [];

  constructor(
    rings: readonly Ring[],
    private readonly cells: KeptCells,
    private readonly room: Room,
    rim: Rim,
  ) {
    this.rings = rings.map((ring) => ring.map(([x, y]) => [x, y]));
    this.rim = rim;
  }

  area(): number {
    return this.rings.reduce((sum, ring) => sum + ringArea(ring), 0);
  }

  /** Takes up every corner again. */
  wake(): void {
    this.awake = this.rings.map((ring) => new Uint8Array(ring.length).fill(1));
  }

  /** One step for every corner that may still move, and its edge. @returns the area that it gained. */
  round(step: number): number {
    let gained = 0;
    this.rings.forEach((ring, r) => {
      const n = ring.length;
      const awake = this.awake[r];
      const box = boxOf(ring);
      if (step > Math.max(box[2] - box[0], box[3] - box[1]) / 2) return;
      for (let i = 0; i < n; i++) {
        if (!awake[i]) continue;
        const [a, c] = [(i + n - 1) % n, (i + 1) % n];
        const gain =
          this.slide(ring, i, a, step) +
          this.slide(ring, i, c, step) +
          this.pivot(ring, i, c, step) +
          this.pivot(ring, c, i, step);
        awake[i] = 0;
        if (gain === 0) continue;
        gained += gain;
        for (const k of [a + n - 1, a, i, c, c + 1]) awake[k % n] = 1;
      }
    });
    return gained;
  }

  /** Moves a corner towards, or away from, its neighbour by at most a step. */
  private slide(ring: Ring, i: number, towards: number, step: number): number {
    const at = ring[i];
    const [dx, dy] = [ring[towards][0] - at[0], ring[towards][1] - at[1]];
    const length = Math.hypot(dx, dy);
    if (length === 0) return 0;
    const to = (by: number): Ring => [[at[0] + (dx / length) * by, at[1] + (dy / length) * by]];
    return this.take(ring, [i], to(Math.min(step, MOST_SLIDE * length))) || this.take(ring, [i], to(-step));
  }

  /**
   * Turns the edge between `out` and `within`: `out` goes outwards by a step, along its other edge drawn on, and `within`
   * slides back along its own other edge as far as all stays held.
   */
  private pivot(ring: Ring, out: number, within: number, step: number): number {
    const n = ring.length;
    const forward = (out + 1) % n === within;
    const behind = ring[(out + (forward ? n - 1 : 1)) % n];
    const beyond = ring[(within + (forward ? 1 : n - 1)) % n];
    const [from, back] = [ring[out], ring[within]];
    const away = Math.hypot(from[0] - behind[0], from[1] - behind[1]);
    const room = Math.hypot(beyond[0] - back[0], beyond[1] - back[1]);
    if (away === 0 || room === 0) return 0;
    for (const share of [step / away, -step / away]) {
      if (share <= -MOST_SLIDE) continue;
      const moved: Ring[0] = [from[0] + (from[0] - behind[0]) * share, from[1] + (from[1] - behind[1]) * share];
      const backTo = (s: number): Ring[0] => [back[0] + (beyond[0] - back[0]) * s, back[1] + (beyond[1] - back[1]) * s];
      const gains = (s: number) => this.gainOf(ring, [out, within], [moved, backTo(s)]);
      // what is gained grows evenly with how far the other end comes in
      const [none, whole] = [gains(0), gains(1)];
      if (whole <= none) continue;
      let least = -none / (whole - none);
      let most = Math.min(MOST_SLIDE, Math.max(0, least) + (4 * step) / room);
      if (least >= most || !this.allows(ring, [out, within], [moved, backTo(least)])) continue;
      for (let k = 0; k < HALVINGS; k++) {
        const s = k === 0 ? most : (least + most) / 2;
        if (this.allows(ring, [out, within], [moved, backTo(s)])) least = s;
        else most = s;
      }
      return this.take(ring, [out, within], [moved, backTo(least)]);
    }
    return 0;
  }

  /** Puts corners there if that is less area and holds all. @returns the area that it gained. */
  private take(ring: Ring, which: readonly number[], to: Ring): number {
    const gain = this.gainOf(ring, which, to);
    if (gain <= LEAST_GAIN || !this.allows(ring, which, to)) return 0;
    which.forEach((i, k) => (ring[i] = to[k]));
    return gain;
  }

  /** Area that is saved with corners there. */
  private gainOf(ring: Ring, which: readonly number[], to: Ring): number {
    const n = ring.length;
    const place = (i: number): Ring[0] => {
      const k = which.indexOf(i);
      return k < 0 ? ring[i] : to[k];
    };
    let gain = 0;
    for (const i of edgesAt(which, n)) {
      const j = (i + 1) % n;
      const [a, b] = [place(i), place(j)];
      gain += ring[i][0] * ring[j][1] - ring[j][0] * ring[i][1] - (a[0] * b[1] - b[0] * a[1]);
    }
    return gain / 2;
  }

  private allows(ring: Ring, which: readonly number[], to: Ring): boolean {
    const { room } = this;
    if (room && to.some(([x, y]) => x < 0 || y < 0 || x > room.width || y > room.height)) return false;
    const old = which.map((i) => ring[i]);
    const n = ring.length;
    const edges = edgesAt(which, n);
    // between the corners as they were, once along, and as they will be, back
    const between = [
      ring[edges[0]],
      ...edges.map((i) => ring[(i + 1) % n]),
      ...(which[0] === edges[1] ? to.toReversed() : to),
    ];
    const box = boxOf(between);
    which.forEach((i, k) => (ring[i] = to[k]));
    const held = this.isSimple(ring, edges, box) && this.holds(ring, edges, between, box);
    which.forEach((i, k) => (ring[i] = old[k]));
    return held;
  }

  /** Whether edges that moved cross no other. */
  private isSimple(ring: Ring, edges: readonly number[], [left, top, right, bottom]: Box): boolean {
    const n = ring.length;
    for (const other of this.rings) {
      for (let j = 0; j < other.length; j++) {
        const [p, q] = [other[j], other[(j + 1) % other.length]];
        if ((p[0] < left && q[0] < left) || (p[0] > right && q[0] > right)) continue;
        if ((p[1] < top && q[1] < top) || (p[1] > bottom && q[1] > bottom)) continue;
        if (p[0] === q[0] && p[1] === q[1]) return false;
        for (const i of edges) if (crosses(ring[i], ring[(i + 1) % n], p, q)) return false;
      }
    }
    return true;
  }

  /** Whether what lies in a box is cut by no edge that moved, and lies inside. */
  private holds(ring: Ring, edges: readonly number[], between: Ring, box: Box): boolean {
    const { cells, rim } = this;
    const moved = edges.map((i) => edgeOf(ring[i], ring[(i + 1) % ring.length]));
    if (this.refused >= 0 && !this.isHeld(this.refused, moved, between)) return false;
    const lastRow = Math.min(cells.rows - 1, Math.floor(box[3] / cells.size));
    const [from, to] = [Math.floor(box[0] / cells.size), Math.floor(box[2] / cells.size)];
    for (let row = Math.max(0, Math.floor(box[1] / cells.size)); row <= lastRow; row++) {
      for (let k = rim.starts[row]; k < rim.starts[row + 1]; k++) {
        if (rim.columns[k] < from) continue;
        if (rim.columns[k] > to) break;
        if (this.isHeld(k, moved, between)) continue;
        this.refused = k;
        return false;
      }
    }
    return true;
  }

  /** Whether no edge that moved cuts a cell of the rim, or ran over it. */
  private isHeld(k: number, moved: readonly Edge[], between: Ring): boolean {
    const { points } = this.rim;
    const at = 16 * k;
    let beyond = false;
    for (let e = 0; e < moved.length; e++) {
      const edge = moved[e];
      if (sideOf(edge, points, at + edge.outmost) >= -edge.slack) continue;
      beyond = true;
      if (sideOf(edge, points, at + edge.inmost) <= edge.slack) continue;
      if (!clearBySides(points, at, edge)) return false;
    }
    if (!beyond) return true; // inside of all that moved
    return !isInside(between, middleOf(points, at));
  }
}

/** Edges, by their first corner, of one corner, or of two that follow each other. */
function edgesAt(which: readonly number[], n: number): number[] {
  const [i, j] = which;
  const before = (i + n - 1) % n;
  if (j === undefined) return [before, i];
  return j === (i + 1) % n ? [before, i, j] : [(j + n - 1) % n, j, i];
}

type Box = readonly [left: number, top: number, right: number, bottom: number];

/** A segment, and which corners of an octagon lie furthest out of it and furthest in, as places in its sixteen numbers. */
interface Edge {
  px: number;
  py: number;
  qx: number;
  qy: number;
  slack: number;
  outmost: number;
  inmost: number;
}

/** Slack of rounding, texels. */
const ROUNDING = 1e-7;

function edgeOf([px, py]: Ring[0], [qx, qy]: Ring[0]): Edge {
  const [dx, dy] = [qx - px, qy - py];
  const [outmost, inmost] = [furthest(dy, -dx), furthest(-dy, dx)];
  return { px, py, qx, qy, slack: ROUNDING * (Math.abs(dx) + Math.abs(dy)), outmost, inmost };
}

/** The corner of an octagon that lies furthest in a direction: which of two, on the side that the direction leaves by. */
function furthest(x: number, y: number): number {
  const upright = Math.abs(y) > Math.abs(x);
  if (x < 0 && y < 0) return upright ? 2 : 0;
  if (x >= 0 && y < 0) return upright ? 4 : 6;
  if (x >= 0) return upright ? 10 : 8;
  return upright ? 12 : 14;
}

function sideOf({ px, py, qx, qy }: Edge, points: Float64Array, at: number): number {
  return (qx - px) * (points[at + 1] - py) - (qy - py) * (points[at] - px);
}

/** Whether a segment stays clear of an octagon, which lies on both sides of its line, by one of the octagon's own sides. */
function clearBySides(o: Float64Array, at: number, { px, py, qx, qy }: Edge): boolean {
  return (
    apart(px, qx, o[at], o[at + 6]) ||
    apart(py, qy, o[at + 3], o[at + 11]) ||
    apart(px + py, qx + qy, o[at] + o[at + 1], o[at + 8] + o[at + 9]) ||
    apart(px - py, qx - qy, o[at + 14] - o[at + 15], o[at + 6] - o[at + 7])
  );
}

const apart = (p: number, q: number, least: number, most: number) =>
  (p <= least && q <= least) || (p >= most && q >= most);

function middleOf(o: Float64Array, at: number): Ring[0] {
  return [(o[at] + o[at + 8]) / 2, (o[at + 3] + o[at + 11]) / 2];
}

/** Cells that something free lies near, row by row: what lies deeper is held where these are. */
export interface Rim {
  /** Where the cells of each row begin, and after the last. */
  starts: Int32Array;
  columns: Int32Array;
  /** The octagon of each, sixteen numbers. */
  points: Float64Array;
}

/** Cells by which a free one counts as near. */
const NEAR = 2;

export function rimOf(cells: KeptCells): Rim {
  const { columns, rows, taken } = cells;
  const starts = new Int32Array(rows + 1);
  const found: number[] = [];
  const nearFree = (x: number, y: number): boolean => {
    for (let ny = y - NEAR; ny <= y + NEAR; ny++) {
      for (let nx = x - NEAR; nx <= x + NEAR; nx++) {
        if (nx < 0 || ny < 0 || nx >= columns || ny >= rows || !taken[ny * columns + nx]) return true;
      }
    }
    return false;
  };
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) if (taken[y * columns + x] && nearFree(x, y)) found.push(y * columns + x);
    starts[y + 1] = found.length;
  }
  const points = new Float64Array(16 * found.length);
  found.forEach((cell, k) => cells.cornersOf(cell, points, 16 * k));
  return { starts, columns: Int32Array.from(found, (cell) => cell % columns), points };
}

/** Even-odd along a line to the right. */
function isInside(ring: Ring, [x, y]: Ring[0]): boolean {
  let inside = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [xi, yi] = ring[i];
    const [xj, yj] = ring[j];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

function boxOf(points: Ring): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x);
    bottom = Math.max(bottom, y);
  }
  return [left, top, right, bottom];
}
