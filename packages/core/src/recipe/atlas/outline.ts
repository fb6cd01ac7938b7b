import { depthInside } from '../../mask/depth.ts';
import { cosine, sine } from '../../math/trigonometry.ts';
import { makeMask, type Picture } from '../../raster/raster.ts';
import { PART_THERE } from '../part-of.ts';

/** Longer side of the cells that a silhouette is kept at. */
const MOST_CELLS = 160;
/** Empty cells around it, as a share of its longer side. */
const AROUND = 0.2;

/** The silhouette of a part, as the distance to it from all around. Lengths in heights of the part. */
export interface Outline {
  /** Width over height. */
  readonly ratio: number;
  /** Covered area, in squares of its height. */
  readonly area: number;
  /** Distance to the silhouette at the middle of each cell, 0 inside. */
  readonly far: Float32Array;
  readonly columns: number;
  readonly rows: number;
  /** Cells to a height, and empty ones before its left and upper border. */
  readonly cells: number;
  readonly around: number;
}

/** @param picture - Its alpha says where there is anything; a cell that holds any of it belongs to the silhouette. */
export function outlineOf(picture: Picture): Outline {
  const { width, height, data } = picture;
  const scale = Math.min(1, MOST_CELLS / Math.max(width, height));
  const across = Math.max(1, Math.ceil(width * scale));
  const down = Math.max(1, Math.ceil(height * scale));
  const around = 1 + Math.ceil(AROUND * Math.max(across, down));
  const [columns, rows] = [across + 2 * around, down + 2 * around];
  const there = new Uint8Array(columns * rows).fill(255);
  let covered = 0;
  for (let y = 0, i = 3; y < height; y++) {
    const row = (around + Math.floor((y * down) / height)) * columns + around;
    for (let x = 0; x < width; x++, i += 4) {
      if (data[i] < PART_THERE) continue;
      there[row + Math.floor((x * across) / width)] = 0;
      covered += data[i];
    }
  }
  const bands = (all: number, work: (y0: number, y1: number) => void) => work(0, all);
  const far = depthInside(makeMask(columns, rows, there), columns + rows, { bands });
  return {
    ratio: width / height,
    area: covered / 255 / (height * height),
    far: far.map((v) => v / down),
    columns,
    rows,
    cells: down,
    around,
  };
}

/** Runs of cells in each row that a silhouette takes up: `from` and `to` (excluded) after each other. */
export interface Footprint {
  width: number;
  height: number;
  /** Where the runs of each row begin in `runs`, and after the last. */
  starts: Int32Array;
  runs: Int32Array;
  /** Middle of the part from the footprint's upper left corner, cells. */
  middleX: number;
  middleY: number;
}

/** Half a cell's diagonal: what the middle of a cell is too far away from, the whole cell is. */
const CELL = Math.SQRT1_2;

/**
 * The cells of a grid that no other part may take: those of which any place lies nearer than `reach` to the silhouette.
 *
 * @param tall - Height of the part, cells of the grid.
 * @param turn - Degrees, clockwise.
 * @param reach - Cells.
 */
export function footprintOf(outline: Outline, tall: number, turn: number, reach: number): Footprint {
  const [cos, sin] = [cosine(turn), sine(turn)];
  // distances too are known for the middles of cells
  const near = (reach + CELL) / tall + CELL / outline.cells;
  const out = reach + 2 * CELL;
  const wide = tall * outline.ratio;
  const halfX = (Math.abs(cos) * wide + Math.abs(sin) * tall) / 2 + out + 1;
  const halfY = (Math.abs(sin) * wide + Math.abs(cos) * tall) / 2 + out + 1;
  const [columns, rows] = [Math.ceil(2 * halfX), Math.ceil(2 * halfY)];
  const found: number[][] = [];
  let [left, right, top, bottom] = [columns, 0, -1, 0];
  for (let y = 0; y < rows; y++) {
    const runs: number[] = [];
    const dy = y + 0.5 - halfY;
    let inside = false;
    for (let x = 0; x <= columns; x++) {
      const dx = x + 0.5 - halfX;
      const taken =
        x < columns && distanceAt(outline, (dx * cos + dy * sin) / tall, (dy * cos - dx * sin) / tall) < near;
      if (taken === inside) continue;
      runs.push(x);
      inside = taken;
    }
    found.push(runs);
    if (runs.length === 0) continue;
    if (top < 0) top = y;
    bottom = y + 1;
    left = Math.min(left, runs[0]);
    right = Math.max(right, runs[runs.length - 1]);
  }
  if (top < 0)
    return { width: 0, height: 0, starts: new Int32Array(1), runs: new Int32Array(0), middleX: 0, middleY: 0 };
  const kept = found.slice(top, bottom);
  const starts = new Int32Array(kept.length + 1);
  kept.forEach((runs, i) => (starts[i + 1] = starts[i] + runs.length));
  const runs = Int32Array.from(kept.flat(), (x) => x - left);
  return { width: right - left, height: bottom - top, starts, runs, middleX: halfX - left, middleY: halfY - top };
}

/** Distance to a silhouette from a place measured from the part's middle; beyond what is kept, at most the true one. */
function distanceAt({ ratio, far, columns, rows, cells, around }: Outline, x: number, y: number): number {
  const column = Math.floor((x + ratio / 2) * cells + around);
  const row = Math.floor((y + 0.5) * cells + around);
  if (column >= 0 && column < columns && row >= 0 && row < rows) return far[row * columns + column];
  const outX = Math.max(0, Math.abs(x) - ratio / 2);
  const outY = Math.max(0, Math.abs(y) - 0.5);
  return Math.sqrt(outX * outX + outY * outY);
}
