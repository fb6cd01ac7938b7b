import { FLAT, HALF_ROUND } from '../profile.ts';
import type { LinePoint } from '../scene.ts';
import type { Loom } from './loom.ts';

/** Bent rods round upright posts, each in front of every second one. */
function wattle(loom: Loom): void {
  const { pitch, thick, long } = loom.params;
  const posts = loom.repeats(1, loom.of(pitch), 2);
  const rows = loom.repeats(loom.ratio, loom.of(thick), 2);
  loom.assertFew(posts.count * rows.count);
  const post = loom.of(long) / 2;
  for (let i = 0; i < posts.count; i++) {
    const x = (i + 0.5 + 0.15 * loom.uneven(1, i)) * posts.pitch;
    const top = loom.params.seamless ? 0 : -0.02 + 0.05 * loom.draw(2, i);
    const points = [top, (top + loom.ratio) / 2, loom.ratio].map((y, k): LinePoint => {
      return { x: x + 0.1 * posts.pitch * loom.uneven(3, i, loom.params.seamless && k === 2 ? 0 : k), y, half: post, lift: 0.3 };
    }); // prettier-ignore
    loom.line(points, loom.surface(9000 + i, HALF_ROUND, 0, loom.ratio), 1);
  }
  const margin = loom.params.seamless ? 0 : posts.pitch * 0.35;
  for (let j = 0; j < rows.count; j++) {
    const y = (j + 0.5) * rows.pitch;
    if (!loom.params.seamless && y < 0.06) continue; // posts stand out above
    if (loom.draw(4, j) < loom.params.torn) continue;
    const half = (rows.pitch / 2) * (1.08 - 0.35 * loom.params.uneven * loom.draw(5, j));
    const surface = loom.surface(j, HALF_ROUND, y, y);
    const group = loom.nextGroup();
    const [start, end] = [margin * loom.draw(6, j), 1 - margin * loom.draw(7, j)];
    const yAt = (x: number, k: number) => y + 0.5 * rows.pitch * loom.uneven(8, j, k) * (loom.params.seamless && x >= 1 ? 0 : 1); // prettier-ignore
    for (let i = 0; i < posts.count; i++) {
      const front = ((i + j) & 1) === 0;
      const [from, to] = [Math.max(start, i * posts.pitch), Math.min(end, (i + 1) * posts.pitch)];
      if (from >= to) continue;
      const last = loom.params.seamless ? (i + 1) % posts.count : i + 1;
      const points = [0, 0.25, 0.5, 0.75, 1].map((s): LinePoint => {
        const bulge = 4 * s * (1 - s);
        const x = from + (to - from) * s;
        const at = yAt(0, i) + (yAt(0, last) - yAt(0, i)) * s;
        return { x, y: at, half: half * (0.9 + 0.1 * bulge), lift: front ? 0.35 + 0.35 * bulge : 0.35 - 0.3 * bulge };
      });
      loom.line(points, surface, front ? 2 : 0, { group, from: i / posts.count, to: (i + 1) / posts.count });
    }
  }
}

/** Boards side by side with a gap between them. */
function boards(upright: boolean) {
  return (loom: Loom): void => {
    const { pitch, thick, torn } = loom.params;
    const [length, far] = upright ? [1, loom.ratio] : [loom.ratio, 1];
    const row = loom.repeats(length, loom.of(pitch));
    loom.assertFew(row.count);
    for (let i = 0; i < row.count; i++) {
      const middle = (i + 0.5 + 0.1 * loom.uneven(1, i)) * row.pitch;
      const half = (Math.min(loom.of(thick), row.pitch) / 2) * (1 - 0.12 * loom.params.uneven * loom.draw(2, i));
      const ragged = loom.params.seamless ? 0 : 0.06 * loom.params.uneven;
      const broken = loom.draw(5, i) < torn ? 0.2 + 0.6 * loom.draw(6, i) : 0;
      const from = broken * far + ragged * loom.draw(3, i) * far;
      const skew = loom.params.seamless ? 0 : 0.2 * row.pitch * loom.uneven(7, i);
      const lift = 0.3 + 0.2 * loom.draw(4, i);
      const ends: LinePoint[] = upright
        ? [{ x: middle, y: from, half, lift }, { x: middle + skew, y: far, half, lift }]
        : [{ x: from, y: middle, half, lift }, { x: far, y: middle + skew, half, lift }]; // prettier-ignore
      loom.line(ends, loom.surface(i, FLAT, upright ? from : middle, upright ? far : middle, 0.3), i & 1);
    }
  };
}

export const rods = { wattle, planks: boards(true), slats: boards(false) } as const;
