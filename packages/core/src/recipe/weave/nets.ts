import { HALF_ROUND } from '../profile.ts';
import type { LinePoint } from '../scene.ts';
import type { Loom } from './loom.ts';

type Node = readonly [i: number, j: number];

/** A net of threads between knots, by where its knots lie and which are tied to which. */
interface Mesh {
  /** Size of a step of i and j, pitches. */
  wide: number;
  tall: number;
  /** Steps of i and j after which the pattern repeats. */
  everyI: number;
  everyJ: number;
  isKnot(i: number, j: number): boolean;
  /** Later neighbours of a knot, each thread once. */
  ties(i: number, j: number): Node[];
}

const ROOT_HALF = Math.SQRT1_2;

const DIAMOND: Mesh = {
  wide: ROOT_HALF,
  tall: ROOT_HALF,
  everyI: 2,
  everyJ: 2,
  isKnot: (i, j) => ((i + j) & 1) === 0,
  ties: (i, j) => [
    [i + 1, j + 1],
    [i - 1, j + 1],
  ],
};
const SQUARE: Mesh = {
  wide: 1,
  tall: 1,
  everyI: 1,
  everyJ: 1,
  isKnot: () => true,
  ties: (i, j) => [
    [i + 1, j],
    [i, j + 1],
  ],
};
/** Regular hexagons with a corner up: knots at heights 0, ½, 1½, 2 … of a side; the pitch is from side to side. */
const SIDE = 1 / Math.sqrt(3);
const HEXAGON: Mesh = {
  wide: 0.5,
  tall: SIDE / 2,
  everyI: 2,
  everyJ: 6,
  isKnot(i, j) {
    const row = ((j % 6) + 6) % 6;
    const odd = (i & 1) === 1;
    return (row === 0 && !odd) || (row === 1 && odd) || (row === 3 && odd) || (row === 4 && !odd);
  },
  ties(i, j) {
    const row = ((j % 6) + 6) % 6;
    if (row === 0) return [[i - 1, j + 1], [i + 1, j + 1]]; // prettier-ignore
    if (row === 1) return [[i, j + 2]];
    if (row === 3) return [[i - 1, j + 1], [i + 1, j + 1]]; // prettier-ignore
    return [[i, j + 2]];
  },
};

const THREAD_POINTS = 4;

function net(mesh: Mesh) {
  return (loom: Loom): void => {
    const { pitch, thick, long, torn } = loom.params;
    const p = loom.of(pitch);
    const columns = loom.repeats(1, p * mesh.wide, mesh.everyI);
    const rows = loom.repeats(loom.ratio, p * mesh.tall, mesh.everyJ);
    loom.assertFew(columns.count * rows.count);
    const wrap = (k: number, count: number) => (loom.params.seamless ? ((k % count) + count) % count : k);
    const half = loom.of(thick) / 2;
    // where a net repeats, a knot is off its place by the same on both sides
    const at = ([i, j]: Node) => {
      const [wi, wj] = [wrap(i, columns.count), wrap(j, rows.count)];
      return {
        x: i * columns.pitch + 0.25 * p * loom.uneven(1, wi, wj),
        y: j * rows.pitch + 0.25 * p * loom.uneven(2, wi, wj),
      };
    };
    const edge = loom.params.seamless ? 0 : 1;
    for (let j = -edge; j < rows.count + edge; j++) {
      for (let i = -edge; i < columns.count + edge; i++) {
        if (!mesh.isKnot(i, j)) continue;
        const from = at([i, j]);
        const surface = loom.surface(i * 977 + j, HALF_ROUND, from.y, from.y + rows.pitch);
        for (const [k, to] of mesh.ties(i, j).entries()) {
          if (loom.draw(10 + k, i, j) < torn) continue;
          const end = at(to);
          const w = half * (1 + 0.5 * loom.uneven(5 + k, i, j));
          const points = Array.from({ length: THREAD_POINTS + 1 }, (_, n): LinePoint => {
            const s = n / THREAD_POINTS;
            // a slack thread hangs a little
            const slack = 0.12 * p * loom.params.uneven * 4 * s * (1 - s) * loom.draw(20 + k, i, j);
            return { x: from.x + (end.x - from.x) * s, y: from.y + (end.y - from.y) * s + slack, half: w, lift: 0.3 };
          });
          loom.line(points, surface, k);
        }
        knot(loom, from, loom.of(long) / 2, half, surface);
      }
    }
  };
}

/** Thicker than the thread, a little longer than wide, upright. */
function knot(
  loom: Loom,
  { x, y }: { x: number; y: number },
  reach: number,
  half: number,
  surface: ReturnType<Loom['surface']>,
): void {
  if (reach <= half) return;
  const wide = Math.min(reach, 1.7 * half);
  const points = [-1, -0.7, 0, 0.7, 1].map((s) => ({ x, y: y + s * reach, half: wide * Math.sqrt(1 - 0.75 * s * s), lift: 0.6 })); // prettier-ignore
  loom.line(points, surface, 9);
}

export const nets = { 'diamond net': net(DIAMOND), 'square net': net(SQUARE), 'hexagonal net': net(HEXAGON) } as const;
