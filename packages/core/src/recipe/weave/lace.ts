import { cosine, sine } from '../../math/trigonometry.ts';
import { HALF_ROUND } from '../profile.ts';
import type { LinePoint } from '../scene.ts';
import type { Loom } from './loom.ts';

const RING_POINTS = 36;
const PETALS = 8;
const PETAL_POINTS = 14;

/** Rosettes in staggered rows: a ring of petals around an eye, tied to their six neighbours by bars. */
function lace(loom: Loom): void {
  const { pitch, thick, long, torn } = loom.params;
  const p = loom.of(pitch);
  const across = loom.repeats(1, p);
  const down = loom.repeats(loom.ratio, (p * Math.sqrt(3)) / 2, 2);
  loom.assertFew(across.count * down.count * (PETALS + 3));
  const half = loom.of(thick) / 2;
  const outer = 0.36 * Math.min(across.pitch, down.pitch * 1.15);
  const eye = Math.min(0.8 * outer, loom.of(long) / 2);
  const more = loom.params.seamless ? 0 : 1;
  // where it repeats, a rosette is off its place by the same on both sides
  const wrap = (k: number, count: number) => (loom.params.seamless ? ((k % count) + count) % count : k);
  const at = (i: number, j: number) => {
    const [wi, wj] = [wrap(i, across.count), wrap(j, down.count)];
    return {
      x: (i + 0.5 + (j & 1) / 2) * across.pitch + 0.08 * p * loom.uneven(1, wi, wj),
      y: (j + 0.5) * down.pitch + 0.08 * p * loom.uneven(2, wi, wj),
    };
  };
  for (let j = -more; j < down.count + more; j++) {
    for (let i = -more; i < across.count + more; i++) {
      const { x, y } = at(i, j);
      const surface = loom.surface(i * 977 + j, HALF_ROUND, y, y);
      const line = (points: LinePoint[], z: number) => loom.line(points, surface, z);
      const below = (j & 1) === 0 ? i : i + 1;
      for (const [k, to] of [at(i + 1, j), at(below, j + 1), at(below - 1, j + 1)].entries()) {
        if (loom.draw(20 + k, i, j) < torn) continue;
        const inset = eye / Math.max(eye, Math.sqrt((to.x - x) ** 2 + (to.y - y) ** 2)); // from eye to eye
        const along = (share: number) => ({ x: x + (to.x - x) * share, y: y + (to.y - y) * share });
        line(
          [inset, 1 - inset].map((share) => ({ ...along(share), half: 0.8 * half, lift: 0.2 })),
          0,
        );
      }
      line(ring(x, y, eye, half), 2);
      for (let k = 0; k < PETALS; k++) {
        if (loom.draw(30 + k, i, j) < torn) continue;
        line(petal(x, y, eye, outer, (360 * k) / PETALS, half), 1);
      }
    }
  }
}

/** A place so far from a middle, degrees clockwise from straight up. */
function around(x: number, y: number, radius: number, angle: number): { x: number; y: number } {
  return { x: x + radius * sine(angle), y: y - radius * cosine(angle) };
}

function ring(x: number, y: number, radius: number, half: number): LinePoint[] {
  return Array.from({ length: RING_POINTS + 1 }, (_, k) => {
    const at = around(x, y, radius, (360 * k) / RING_POINTS);
    return { x: at.x, y: at.y, half: 1.3 * half, lift: 0.5 };
  });
}

/** A loop from the eye to the outer rim and back. */
function petal(x: number, y: number, eye: number, outer: number, angle: number, half: number): LinePoint[] {
  return Array.from({ length: PETAL_POINTS + 1 }, (_, k) => {
    const turn = (360 * k) / PETAL_POINTS;
    const out = eye + ((outer - eye) * (1 - cosine(turn))) / 2;
    const aside = (180 / PETALS) * 0.8 * sine(turn);
    const at = around(x, y, out, angle + aside);
    return { x: at.x, y: at.y, half, lift: 0.35 };
  });
}

export const laces = { lace } as const;
