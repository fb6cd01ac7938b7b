import { ringArea, type Ring } from './contours.ts';

/** Width and height within which corners lie; null: anywhere. */
export type Room = { readonly width: number; readonly height: number } | null;

/**
 * Takes corners out, always the way that adds least area, until at most so many are left in all rings: a corner that
 * points inwards is skipped, or an edge between two that point outwards goes and its neighbours are drawn on until they
 * meet. What the rings hold stays held, and they meet nowhere (P. Sander et al., "Silhouette Clipping", 2000: progressive
 * hulls). A hole may go whole. Rings that no way leads on from keep more corners.
 */
export function fewerCorners(rings: readonly Ring[], most: number, room: Room): Ring[] {
  return new Corners(rings, room).upTo(most);
}

/** A hole of more corners loses corners before it goes whole. */
const SMALL_HOLE = 8;

interface Change {
  area: number;
  /** Corner that goes. */
  gone: number;
  /** Corner that moves to `to` in its place, for an edge. */
  moves: number;
  to: [x: number, y: number] | null;
}

class Corners {
  private readonly x: number[] = [];
  private readonly y: number[] = [];
  private readonly before: number[] = [];
  private readonly after: number[] = [];
  private readonly ring: number[] = [];
  private readonly there: boolean[] = [];
  private readonly changes: (Change | null)[] = [];
  private readonly sizes: number[];
  private readonly holes: number[];
  private count = 0;

  constructor(
    rings: readonly Ring[],
    private readonly room: Room,
  ) {
    this.sizes = rings.map((r) => r.length);
    this.holes = rings.flatMap((ring, r) => (ringArea(ring) < 0 ? [r] : []));
    rings.forEach((ring, r) => {
      const first = this.x.length;
      ring.forEach(([x, y], i) => {
        this.x.push(x);
        this.y.push(y);
        this.ring.push(r);
        this.there.push(true);
        this.before.push(first + ((i + ring.length - 1) % ring.length));
        this.after.push(first + ((i + 1) % ring.length));
      });
    });
    this.count = this.x.length;
    for (let i = 0; i < this.x.length; i++) this.changes.push(this.changeAt(i));
  }

  upTo(most: number): Ring[] {
    let tried = false;
    while (this.count > most) {
      const best = this.least();
      if (best < 0) {
        if (tried || !this.dropHole()) {
          if (tried) break;
          tried = true; // what stood in the way may be gone
          for (let i = 0; i < this.x.length; i++) if (this.there[i]) this.changes[i] = this.changeAt(i);
        }
        continue;
      }
      const change = this.changes[best]!;
      const hole = this.cheapestHole();
      if (hole && hole.area < change.area) {
        this.drop(hole.ring);
      } else if (this.isClear(change)) {
        this.apply(change);
        tried = false;
      } else this.changes[best] = null;
    }
    return this.rings();
  }

  private least(): number {
    let [best, area] = [-1, Infinity];
    for (let i = 0; i < this.changes.length; i++) {
      const change = this.changes[i];
      if (change && this.there[i] && change.area < area) [best, area] = [i, change.area];
    }
    return best;
  }

  /** The better way to do without corner b, or without the edge from b on. */
  private changeAt(b: number): Change | null {
    if (this.sizes[this.ring[b]] <= 3) return null;
    const [a, c] = [this.before[b], this.after[b]];
    const skipped = -this.turn(a, b, c) / 2;
    const skip: Change | null = skipped >= 0 ? { area: skipped, gone: b, moves: b, to: null } : null;
    const d = this.after[c];
    const to = skip ? null : this.meeting(a, b, c, d);
    if (!to) return skip;
    const area =
      Math.abs((this.x[c] - this.x[b]) * (to[1] - this.y[b]) - (this.y[c] - this.y[b]) * (to[0] - this.x[b])) / 2;
    return { area, gone: c, moves: b, to };
  }

  /** Where a → b and d → c meet, drawn on. */
  private meeting(a: number, b: number, c: number, d: number): [number, number] | null {
    const { x, y, room } = this;
    const [ux, uy, vx, vy] = [x[b] - x[a], y[b] - y[a], x[c] - x[d], y[c] - y[d]];
    const cross = ux * vy - uy * vx;
    if (Math.abs(cross) <= 1e-9 * Math.hypot(ux, uy) * Math.hypot(vx, vy)) return null;
    const t = ((x[d] - x[a]) * vy - (y[d] - y[a]) * vx) / cross;
    const s = ((x[d] - x[a]) * uy - (y[d] - y[a]) * ux) / cross;
    if (t < 1 || s < 1) return null;
    const to: [number, number] = [x[a] + t * ux, y[a] + t * uy];
    if (room && (to[0] < 0 || to[1] < 0 || to[0] > room.width || to[1] > room.height)) return null;
    return to;
  }

  private turn(a: number, b: number, c: number): number {
    const { x, y } = this;
    return (x[b] - x[a]) * (y[c] - y[b]) - (y[b] - y[a]) * (x[c] - x[b]);
  }

  /** Whether the triangle that is added meets nothing of any ring. */
  private isClear({ gone, moves, to }: Change): boolean {
    const { x, y } = this;
    if (!to) {
      // a line could only come in and go out through the new edge, so it is enough that no corner lies in the triangle
      const [a, c] = [this.before[gone], this.after[gone]];
      return this.noneIn([x[a], y[a]], [x[c], y[c]], [x[gone], y[gone]], [a, gone, c]);
    }
    const ends = [this.before[moves], moves, gone, this.after[gone]];
    if (!this.noneIn([x[moves], y[moves]], to, [x[gone], y[gone]], ends)) return false;
    for (let i = 0; i < x.length; i++) {
      const j = this.after[i];
      if (!this.there[i] || ends.includes(i) || ends.includes(j)) continue;
      const [p, q]: Ring = [[x[i], y[i]], [x[j], y[j]]]; // prettier-ignore
      if (crosses(p, q, [x[moves], y[moves]], to) || crosses(p, q, to, [x[gone], y[gone]])) return false;
    }
    return true;
  }

  private noneIn(a: Ring[0], b: Ring[0], c: Ring[0], but: readonly number[]): boolean {
    const { x, y } = this;
    const left = Math.min(a[0], b[0], c[0]);
    const right = Math.max(a[0], b[0], c[0]);
    const top = Math.min(a[1], b[1], c[1]);
    const bottom = Math.max(a[1], b[1], c[1]);
    for (let i = 0; i < x.length; i++) {
      if (x[i] < left || x[i] > right || y[i] < top || y[i] > bottom || !this.there[i] || but.includes(i)) continue;
      const p: Ring[0] = [x[i], y[i]];
      const [ab, bc, ca] = [side(a, b, p), side(b, c, p), side(c, a, p)];
      if ((ab >= 0 && bc >= 0 && ca >= 0) || (ab <= 0 && bc <= 0 && ca <= 0)) return false;
    }
    return true;
  }

  private apply({ gone, moves, to }: Change): void {
    if (to) [this.x[moves], this.y[moves]] = to;
    const [a, c] = [this.before[gone], this.after[gone]];
    this.after[a] = c;
    this.before[c] = a;
    this.there[gone] = false;
    this.changes[gone] = null;
    this.sizes[this.ring[gone]]--;
    this.count--;
    for (let i = a, k = 0; k < 4; k++, i = this.after[i]) this.changes[i] = this.changeAt(i);
    for (let i = this.before[a], k = 0; k < 2; k++, i = this.before[i]) this.changes[i] = this.changeAt(i);
  }

  /** The hole whose area costs least for each of its corners. */
  private cheapestHole(): { ring: number; area: number } | null {
    let best: { ring: number; area: number } | null = null;
    const rings = this.holes.length > 0 ? this.all() : [];
    for (const ring of this.holes) {
      if (this.sizes[ring] === 0 || this.sizes[ring] > SMALL_HOLE) continue;
      const area = -ringArea(rings[ring]) / this.sizes[ring];
      if (!best || area < best.area) best = { ring, area };
    }
    return best;
  }

  private dropHole(): boolean {
    const hole = this.cheapestHole();
    if (hole) this.drop(hole.ring);
    return hole !== null;
  }

  private drop(ring: number): void {
    for (let i = 0; i < this.x.length; i++) {
      if (this.ring[i] !== ring || !this.there[i]) continue;
      this.there[i] = false;
      this.changes[i] = null;
      this.count--;
    }
    this.sizes[ring] = 0;
  }

  private all(): Ring[] {
    const rings: Ring[] = this.sizes.map(() => []);
    const begun = new Set<number>();
    for (let i = 0; i < this.x.length; i++) {
      if (!this.there[i] || begun.has(this.ring[i])) continue;
      begun.add(this.ring[i]);
      const ring = rings[this.ring[i]];
      let at = i;
      do {
        ring.push([this.x[at], this.y[at]]);
        at = this.after[at];
      } while (at !== i);
    }
    return rings;
  }

  private rings(): Ring[] {
    return this.all().filter((ring) => ring.length > 0);
  }
}

const side = (a: Ring[0], b: Ring[0], p: Ring[0]) => (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);

/** Whether two segments have more than an end in common. */
export function crosses(a: Ring[0], b: Ring[0], c: Ring[0], d: Ring[0]): boolean {
  const [ac, ad, ca, cb] = [side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)];
  return ((ac > 0 && ad < 0) || (ac < 0 && ad > 0)) && ((ca > 0 && cb < 0) || (ca < 0 && cb > 0));
}
