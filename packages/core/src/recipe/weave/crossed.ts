import { FLAT, HALF_ROUND } from '../profile.ts';
import type { LinePoint } from '../scene.ts';
import type { Loom } from './loom.ts';
import { ClothWear } from './wear.ts';

/** Whether the upright thread i passes over the level thread j. */
type Order = (i: number, j: number) => boolean;

const PLAIN: Order = (i, j) => ((i + j) & 1) === 0;
/** Over two, under two, one further on in each row. */
const TWILL: Order = (i, j) => ((i + j) & 3) < 2;

/** Threads in two directions that pass over and under each other at right angles. */
function cloth(order: Order, every: number) {
  return (loom: Loom): void => {
    const { pitch, thick, torn } = loom.params;
    const across = loom.repeats(1, loom.of(pitch), every);
    const down = loom.repeats(loom.ratio, loom.of(pitch), every);
    loom.assertFew(across.count * down.count);
    const half = loom.of(thick) / 2;
    const wear = new ClothWear(loom);
    const wrap = (k: number, count: number) => ((k % count) + count) % count;
    thread(loom, wear, across, down, half, torn, (i, j) => order(wrap(i, 4), wrap(j, 4)), true);
    thread(loom, wear, down, across, half, torn, (j, i) => !order(wrap(i, 4), wrap(j, 4)), false);
  };
}

interface Repeats {
  count: number;
  pitch: number;
}

/** All threads of one direction, in pieces from half way between two crossings to half way between the next. */
function thread(
  loom: Loom,
  wear: ClothWear,
  own: Repeats,
  crossing: Repeats,
  half: number,
  torn: number,
  isOver: Order,
  upright: boolean,
): void {
  const what = upright ? 50 : 60;
  for (let i = 0; i < own.count; i++) {
    const middle = (i + 0.5) * own.pitch + 0.3 * own.pitch * loom.uneven(what, i);
    const w = half * (1 + 0.4 * loom.uneven(what + 1, i));
    const end = crossing.count * crossing.pitch;
    const surface = loom.surface(what * 1000 + i, HALF_ROUND, upright ? 0 : middle, upright ? end : middle);
    const group = loom.nextGroup();
    // a torn thread ends somewhere, in its lower or right part
    const until = loom.draw(what + 2, i) < torn ? (0.15 + 0.85 * loom.draw(what + 3, i)) * crossing.count : Infinity;
    for (let j = 0; j < crossing.count && j < until; j++) {
      const along = (j + 0.5) * crossing.pitch;
      if (wear.takes(upright ? middle : along, upright ? along : middle, what * 4096 + i, upright)) continue;
      const over = isOver(i, j);
      const points = [0, 0.25, 0.5, 0.75, 1].map((s): LinePoint => {
        const at = (j + s) * crossing.pitch;
        const lift = over ? 0.35 + 0.35 * 4 * s * (1 - s) : 0.35 - 0.35 * 4 * s * (1 - s);
        return upright ? { x: middle, y: at, half: w, lift } : { x: at, y: middle, half: w, lift };
      });
      loom.line(points, surface, over ? 2 : 1, { group, from: j / crossing.count, to: (j + 1) / crossing.count });
    }
  }
}

/** Zigzag wires that hook into each other: each is a flat coil, of which one diagonal lies in front of the other. */
function chainWire(loom: Loom): void {
  const { pitch, thick } = loom.params;
  const p = loom.of(pitch) * Math.SQRT2;
  const across = loom.repeats(1, p, 2);
  const down = loom.repeats(loom.ratio, p);
  loom.assertFew(across.count * down.count);
  const half = loom.of(thick) / 2;
  const more = loom.params.seamless ? 0 : 1;
  for (let i = -more; i < across.count + more; i++) {
    const middle = (i + 0.5) * across.pitch;
    const surface = loom.surface(i, HALF_ROUND, 0, loom.ratio);
    const group = loom.nextGroup();
    const turn = (j: number): LinePoint => {
      const own = loom.params.seamless ? ((j % (2 * down.count)) + 2 * down.count) % (2 * down.count) : j;
      const side = ((i + j) & 1) === 0 ? -1 : 1;
      return {
        // hooked into the next wire by its own thickness
        x: middle + side * (across.pitch / 2 + half) + 0.15 * p * loom.uneven(70, i, own),
        y: (j * down.pitch) / 2 + 0.1 * p * loom.uneven(71, i, own),
        half,
        lift: 0.3,
      };
    };
    for (let j = -2 * more; j < 2 * (down.count + more); j++) {
      const [a, b] = [turn(j), turn(j + 1)];
      const front = (j & 1) === 0;
      const place = (k: number) => Math.min(1, Math.max(0, k / (2 * down.count)));
      const [from, to] = [place(j), place(j + 1)];
      loom.line([a, b].map((q) => ({ ...q, lift: front ? 0.5 : 0.1 })), surface, front ? 2 : 1, { group, from, to }); // prettier-ignore
    }
  }
}

const commonDivisor = (a: number, b: number): number => (b === 0 ? a : commonDivisor(b, a % b));

/** Laths in two diagonal layers. */
function lattice(loom: Loom): void {
  const { pitch, thick, torn } = loom.params;
  const across = loom.repeats(1, loom.of(pitch) * Math.SQRT2);
  // where it repeats, a lath comes back after as many of its own steps down as across
  const rows = loom.repeats(loom.ratio, loom.of(pitch) * Math.SQRT2).count;
  const rise = loom.params.seamless ? loom.ratio / rows / across.pitch : 1;
  // a lath that leaves below comes in above as the one `rows` further on: those are alike
  const alike = loom.params.seamless && loom.version >= 2 ? commonDivisor(across.count, rows) : across.count;
  const steps = Math.ceil(loom.ratio / (across.pitch * rise));
  loom.assertFew(across.count + steps);
  for (const [layer, way] of [1, -1].entries()) {
    for (let i = -steps; i < across.count + steps; i++) {
      const own = loom.params.seamless ? ((i % alike) + alike) % alike : i;
      if (loom.draw(80 + layer, own) < torn) continue;
      const x = (i + 0.5 + 0.2 * loom.uneven(82 + layer, own)) * across.pitch;
      const half = (loom.of(thick) / 2) * (1 + 0.3 * loom.uneven(84 + layer, own));
      const end = x + (way * loom.ratio) / rise;
      const surface = loom.surface(layer * 500 + own, FLAT, 0, loom.ratio, 0.2);
      lath(loom, x, end, half, surface, layer);
    }
  }
}

/** From the upper border to the lower one and a little beyond both. */
function lath(
  loom: Loom,
  x: number,
  end: number,
  half: number,
  surface: ReturnType<Loom['surface']>,
  layer: number,
): void {
  const beyond = 0.1;
  const dx = (end - x) * beyond;
  const from = { x: x - dx, y: -beyond * loom.ratio, half, lift: 0.2 + 0.4 * layer };
  const to = { ...from, x: end + dx, y: (1 + beyond) * loom.ratio };
  loom.scene.line(
    [from, to].map((p) => ({ ...p, ...loom.hung(p.x, p.y) })),
    surface,
    1 + layer,
  );
}

export const crossed = {
  'wire cloth': cloth(PLAIN, 2),
  'twill cloth': cloth(TWILL, 4),
  'chain wire': chainWire,
  lattice,
} as const;
