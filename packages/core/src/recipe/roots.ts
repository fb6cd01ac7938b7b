import { cosine, sine } from '../math/trigonometry.ts';
import { chance } from '../math/chance.ts';

export interface Root {
  x: number;
  y: number;
}

/** Tries around a root before it is given up: k of the paper. */
const TRIES = 30;

/**
 * Roots strewn over a rectangle, no two nearer than `apart`: R. Bridson, "Fast Poisson Disk Sampling in Arbitrary
 * Dimensions" (2007).
 *
 * @param fixed - Roots that are there already; none comes nearer to them either.
 * @param most - Roots that are wanted; fewer where no more fit.
 */
export function strewn(
  width: number,
  height: number,
  apart: number,
  seed: number,
  most: number,
  fixed: readonly Root[] = [],
): Root[] {
  const cell = apart / Math.SQRT2;
  const columns = Math.max(1, Math.ceil(width / cell));
  const rows = Math.max(1, Math.ceil(height / cell));
  const grid = new Map<number, Root[]>();
  const cellOf = (v: number, count: number) => Math.min(count - 1, Math.max(0, Math.floor(v / cell)));
  const place = (p: Root) => {
    const key = cellOf(p.y, rows) * columns + cellOf(p.x, columns);
    grid.set(key, [...(grid.get(key) ?? []), p]);
  };
  const isFree = (p: Root) => {
    const [cx, cy] = [cellOf(p.x, columns), cellOf(p.y, rows)];
    for (let y = Math.max(0, cy - 2); y <= Math.min(rows - 1, cy + 2); y++) {
      for (let x = Math.max(0, cx - 2); x <= Math.min(columns - 1, cx + 2); x++) {
        for (const q of grid.get(y * columns + x) ?? []) {
          if ((p.x - q.x) * (p.x - q.x) + (p.y - q.y) * (p.y - q.y) < apart * apart) return false;
        }
      }
    }
    return true;
  };
  let drawn = 0;
  const next = () => chance(seed, drawn++);
  fixed.forEach(place);
  const roots: Root[] = [];
  const active: Root[] = [...fixed];
  const take = (p: Root) => {
    place(p);
    roots.push(p);
    active.push(p);
  };
  for (let k = 0; k < TRIES && roots.length === 0 && most > 0; k++) {
    const first = { x: next() * width, y: next() * height };
    if (isFree(first)) take(first);
  }
  while (active.length > 0 && roots.length < most) {
    const at = Math.floor(next() * active.length);
    const from = active[at];
    let found = false;
    for (let k = 0; k < TRIES && !found; k++) {
      const angle = 360 * next();
      const far = apart * (1 + next());
      const p = { x: from.x + far * cosine(angle), y: from.y + far * sine(angle) };
      if (p.x < 0 || p.y < 0 || p.x >= width || p.y >= height || !isFree(p)) continue;
      take(p);
      found = true;
    }
    if (!found) active.splice(at, 1);
  }
  return roots;
}

/** Spacing at which about so many roots fill a rectangle: such samples cover about 0.7 of the closest packing's density. */
export function spacingFor(count: number, width: number, height: number): number {
  return Math.sqrt((0.7 * width * height) / Math.max(1, count));
}
