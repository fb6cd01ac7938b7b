import { FULL, type Coverage } from './coverage.ts';

/** Rows that a texel is cut into; across, coverage is exact. */
const CUTS = 16;

interface Side {
  x0: number;
  y0: number;
  y1: number;
  /** Across for one down. */
  slope: number;
  winding: 1 | -1;
}

/**
 * Covers what a closed outline holds, by the rule that every side it goes round counts (nonzero winding).
 *
 * @param points - x and y in texels here, one after the other.
 */
export function fillOutline(cover: Coverage, points: ArrayLike<number>): void {
  const sides = sidesOf(points).sort((a, b) => a.y0 - b.y0);
  if (sides.length === 0) return;
  const top = Math.max(0, Math.floor(sides[0].y0));
  const bottom = Math.min(cover.height, Math.ceil(sides.reduce((most, s) => Math.max(most, s.y1), 0)));
  const row = new Float64Array(cover.width + 2);
  const values = new Uint16Array(cover.width);
  let active: Side[] = [];
  let next = 0;
  for (let y = top; y < bottom; y++) {
    while (next < sides.length && sides[next].y0 < y + 1) active.push(sides[next++]);
    active = active.filter((s) => s.y1 > y);
    let [from, to] = [cover.width, 0];
    for (let cut = 0; cut < CUTS; cut++) {
      const at = y + (cut + 0.5) / CUTS;
      const crossings = active
        .filter((s) => s.y0 <= at && at < s.y1)
        .map((s) => ({ x: s.x0 + (at - s.y0) * s.slope, winding: s.winding }))
        .sort((a, b) => a.x - b.x);
      let wound = 0;
      for (const [i, { x, winding }] of crossings.entries()) {
        if (wound !== 0) {
          const [x0, x1] = [Math.max(0, crossings[i - 1].x), Math.min(cover.width, x)];
          if (x0 < x1) {
            addSpan(row, x0, x1);
            from = Math.min(from, Math.floor(x0));
            to = Math.max(to, Math.ceil(x1));
          }
        }
        wound += winding;
      }
    }
    if (from >= to) continue;
    for (let x = from, sum = 0; x < to; x++) {
      sum += row[x];
      values[x - from] = Math.min(FULL, Math.floor((sum / CUTS) * FULL + 0.5));
    }
    row.fill(0, from, to + 2);
    cover.mergeRow(y, from, to, values);
  }
}

/** Adds a span to a row kept as differences from texel to texel: what a texel has is the sum up to it. */
function addSpan(row: Float64Array, x0: number, x1: number): void {
  const [first, last] = [Math.floor(x0), Math.floor(x1)];
  if (first === last) {
    row[first] += x1 - x0;
    row[first + 1] -= x1 - x0;
    return;
  }
  const begin = first + 1 - x0;
  row[first] += begin;
  row[first + 1] += 1 - begin;
  const end = x1 - last;
  row[last] -= 1 - end;
  row[last + 1] -= end;
}

function sidesOf(points: ArrayLike<number>): Side[] {
  const out: Side[] = [];
  const n = points.length >> 1;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [ax, ay, bx, by] = [points[2 * i], points[2 * i + 1], points[2 * j], points[2 * j + 1]];
    if (ay === by) continue;
    const down = ay < by;
    const [x0, y0, x1, y1] = down ? [ax, ay, bx, by] : [bx, by, ax, ay];
    out.push({ x0, y0, y1, slope: (x1 - x0) / (y1 - y0), winding: down ? 1 : -1 });
  }
  return out;
}
