/** A closed line. What it holds lies on the side where `(b - a) × (p - a)` is positive; x and y in texels, y down. */
export type Ring = [x: number, y: number][];

/** Cells that are taken or not, row by row. */
export interface Cells {
  readonly columns: number;
  readonly rows: number;
  readonly taken: Uint8Array;
}

/** Cells of `by` × `by` cells each: taken where any of them is. */
export function coarser({ columns, rows, taken }: Cells, by: number): Cells {
  const out = { columns: Math.ceil(columns / by), rows: Math.ceil(rows / by) };
  const cells = new Uint8Array(out.columns * out.rows);
  for (let y = 0; y < rows; y++) {
    const row = Math.floor(y / by) * out.columns;
    for (let x = 0; x < columns; x++) if (taken[y * columns + x]) cells[row + Math.floor(x / by)] = 1;
  }
  return { ...out, taken: cells };
}

/** With every cell that is at most so many cells beside a taken one. */
export function grown({ columns, rows, taken }: Cells, by: number): Cells {
  if (by === 0) return { columns, rows, taken };
  const along = new Uint8Array(taken.length);
  const out = new Uint8Array(taken.length);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      if (!taken[y * columns + x]) continue;
      along.fill(1, y * columns + Math.max(0, x - by), y * columns + Math.min(columns, x + by + 1));
    }
  }
  for (let y = 0; y < rows; y++) {
    for (let near = Math.max(0, y - by); near <= Math.min(rows - 1, y + by); near++) {
      for (let x = 0; x < columns; x++) if (along[near * columns + x]) out[y * columns + x] = 1;
    }
  }
  return { columns, rows, taken: out };
}

/**
 * The border lines of the taken cells, each once round: outer ones have positive area, those of holes negative. Cells that
 * touch at a corner alone are joined by one beside them, so that no line touches itself.
 */
export function contours(cells: Cells): Ring[] {
  const { columns, rows } = cells;
  const taken = withoutPinches(cells);
  const is = (x: number, y: number) => x >= 0 && y >= 0 && x < columns && y < rows && taken[y * columns + x] === 1;
  /** From each crossing of the grid on a border to the next one. */
  const next = new Int32Array((columns + 1) * (rows + 1)).fill(-1);
  const crossing = (x: number, y: number) => y * (columns + 1) + x;
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      if (!is(x, y)) continue;
      if (!is(x, y - 1)) next[crossing(x, y)] = crossing(x + 1, y);
      if (!is(x + 1, y)) next[crossing(x + 1, y)] = crossing(x + 1, y + 1);
      if (!is(x, y + 1)) next[crossing(x + 1, y + 1)] = crossing(x, y + 1);
      if (!is(x - 1, y)) next[crossing(x, y + 1)] = crossing(x, y);
    }
  }
  const rings: Ring[] = [];
  for (let start = 0; start < next.length; start++) {
    if (next[start] < 0) continue;
    const all: Ring = [];
    for (let at = start; next[at] >= 0;) {
      all.push([at % (columns + 1), Math.floor(at / (columns + 1))]);
      const to = next[at];
      next[at] = -1;
      at = to;
    }
    rings.push(all.filter((p, i) => !straight(all[(i + all.length - 1) % all.length], p, all[(i + 1) % all.length])));
  }
  return rings;
}

function withoutPinches({ columns, rows, taken }: Cells): Uint8Array {
  const out = taken.slice();
  for (let again = true; again;) {
    again = false;
    for (let y = 0; y + 1 < rows; y++) {
      for (let i = y * columns; i < (y + 1) * columns - 1; i++) {
        const [a, b, c, d] = [out[i], out[i + 1], out[i + columns], out[i + columns + 1]];
        if (a !== d || b !== c || a === b) continue;
        out[a ? i + 1 : i] = 1;
        again = true;
      }
    }
  }
  return out;
}

const straight = (a: Ring[0], b: Ring[0], c: Ring[0]) => (a[0] === b[0] && b[0] === c[0]) || (a[1] === b[1] && b[1] === c[1]); // prettier-ignore

/** Half the sum of cross products: positive for an outer line, negative for that of a hole. */
export function ringArea(ring: Ring): number {
  let sum = 0;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++)
    sum += ring[j][0] * ring[i][1] - ring[i][0] * ring[j][1];
  return sum / 2;
}
