import type { Box } from '../../raster/box.ts';
import type { Mask } from '../../raster/raster.ts';
import { LOOK_EVERY, LOOK_ROWS, type KeptAreas } from './kept-areas.ts';

/** A connected piece of the lines of a silhouette that a level does not show, with what lies around it. */
export interface LostPart {
  /** In texels of level 0. */
  area: number;
  /** In texels of the raster. */
  box: Box;
  texels: number[];
  /** At how many places it goes on in what the level shows. */
  ends: number;
}

const LINE = 1;
const LOST = 2;
/** Steps from a line to the sides of what is thin. */
const REACH = 6;
/** A texel of a front takes as long as several of a raster. */
const LOOK_FRONT = LOOK_EVERY / 8;

/**
 * @param lines - Of these areas; see `linesOf`.
 * @param level - Of the size of the raster or less. @param look - Called all along; cancels by throwing.
 */
export function lostParts(
  { width, height, areas }: KeptAreas,
  lines: Uint8Array,
  level: Mask,
  threshold: number,
  look: () => void,
): LostPart[] {
  const row = width + 2;
  const around = [-row - 1, -row, -row + 1, -1, 1, row - 1, row, row + 1];
  const shows = lookUp(level, threshold, width, height);
  const state = lostLines(lines, width, height, shows, Math.floor(width / level.width / 4), look);
  const owner = new Int32Array(state.length); // one more than the place of the part; 0: none
  const parts: LostPart[] = [];
  let front: number[] = [];
  for (let i = row + 1; i < state.length - row - 1; i++) {
    if (i % LOOK_EVERY === 0) look();
    if (state[i] !== LOST || owner[i] > 0) continue;
    const run = [i];
    const edge = new Set<number>();
    owner[i] = parts.length + 1;
    for (const at of run) {
      for (const way of around) {
        const next = at + way;
        if (state[next] === LINE) edge.add(next);
        if (state[next] !== LOST || owner[next] > 0) continue;
        owner[next] = parts.length + 1;
        run.push(next);
      }
    }
    parts.push({ area: 0, box: { x0: width, y0: height, x1: 0, y1: 0 }, texels: [], ends: groups(edge, around) });
    for (const at of run) front.push(at);
  }
  // what is kept around a lost line and does not show is lost with it
  for (let step = 0; front.length > 0; step++) {
    const next: number[] = [];
    for (let n = 0; n < front.length; n++) {
      if (n % LOOK_FRONT === 0) look();
      const from = front[n];
      take(parts[owner[from] - 1], (from % row) - 1, ((from / row) | 0) - 1);
      for (const way of step < REACH ? around : []) {
        const to = from + way;
        const [x, y] = [(to % row) - 1, ((to / row) | 0) - 1];
        if (owner[to] > 0 || x < 0 || y < 0 || x >= width || y >= height) continue;
        if (areas[y * width + x] === 0 || shows(x, y)) continue;
        owner[to] = owner[from];
        next.push(to);
      }
    }
    front = next;
  }
  return parts;

  function take(part: LostPart, x: number, y: number): void {
    const { box } = part;
    part.area += areas[y * width + x];
    part.texels.push(y * width + x);
    box.x0 = Math.min(box.x0, x);
    box.y0 = Math.min(box.y0, y);
    box.x1 = Math.max(box.x1, x + 1);
    box.y1 = Math.max(box.y1, y + 1);
  }
}

/** The lines, those of which neither their own texel of the level is kept nor one within `beside` texels lost. */
function lostLines(
  lines: Uint8Array,
  width: number,
  height: number,
  shows: Shows,
  beside: number,
  look: () => void,
): Uint8Array {
  const state = lines.slice();
  for (let y = 0; y < height; y++) {
    if (y % LOOK_ROWS === 0) look();
    const [up, down] = [Math.max(0, y - beside), Math.min(height - 1, y + beside)];
    for (let x = 0, i = (y + 1) * (width + 2) + 1; x < width; x++, i++) {
      if (state[i] !== LINE || shows(x, y)) continue;
      const [left, right] = [Math.max(0, x - beside), Math.min(width - 1, x + beside)];
      if (shows(left, up) || shows(right, up) || shows(left, down) || shows(right, down)) continue;
      state[i] = LOST;
    }
  }
  return state;
}

/** How many groups of touching texels there are. */
function groups(texels: ReadonlySet<number>, around: readonly number[]): number {
  let count = 0;
  const left = new Set(texels);
  for (const first of texels) {
    if (!left.delete(first)) continue;
    count++;
    const todo = [first];
    for (const at of todo) for (const way of around) if (left.delete(at + way)) todo.push(at + way);
  }
  return count;
}

type Shows = (x: number, y: number) => boolean;

/** Whether the texel of the level under a texel of the raster is kept. */
function lookUp({ width, height, data }: Mask, threshold: number, wide: number, tall: number): Shows {
  const across = Int32Array.from({ length: wide }, (_, x) => Math.floor(((x + 0.5) * width) / wide));
  const down = Int32Array.from({ length: tall }, (_, y) => Math.floor(((y + 0.5) * height) / tall) * width);
  return (x, y) => data[down[y] + across[x]] >= threshold;
}
