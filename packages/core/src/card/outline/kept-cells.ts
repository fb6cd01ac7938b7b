import type { Corner } from '../../fit/hull.ts';
import type { Mask } from '../../raster/raster.ts';

/** Cells along the longer side of a mask; smaller masks have a cell for each texel. */
const CELLS = 256;
/** Numbers of an octagon: least and most of x, y, x + y and x - y. */
const SIDES = 8;

/**
 * What an outline has to hold, cell by cell: around the kept texels of each cell the octagon of upright, level and
 * diagonal sides. It holds their convex hull, is bounded by eight numbers, and of one texel it is the square itself.
 */
export class KeptCells {
  readonly columns: number;
  readonly rows: number;
  /** Texels a cell. */
  readonly size: number;
  /** 1 where a cell holds anything. */
  readonly taken: Uint8Array;
  private readonly octagons: Float64Array;

  constructor(
    readonly width: number,
    readonly height: number,
    cells = CELLS,
  ) {
    this.size = Math.max(1, Math.ceil(Math.max(width, height) / cells));
    this.columns = Math.ceil(width / this.size);
    this.rows = Math.ceil(height / this.size);
    this.taken = new Uint8Array(this.columns * this.rows);
    this.octagons = new Float64Array(SIDES * this.taken.length);
    for (let i = 0; i < this.octagons.length; i++) this.octagons[i] = i % 2 === 0 ? Infinity : -Infinity;
  }

  /**
   * Adds the kept texels of a level of the mask, in texels of level 0.
   *
   * @param threshold - Alpha byte from which a texel is kept.
   * @param around - Texels of that level by which each reaches over its square: a half where a filter blends neighbours.
   */
  add(level: Mask, threshold: number, around: number): void {
    const { width, height, data } = level;
    const [sx, sy] = [this.width / width, this.height / height];
    const wide = Math.max(1, Math.round(this.size / sx));
    for (let y = 0; y < height; y++) {
      const row = y * width;
      const [top, bottom] = [(y - around) * sy, (y + 1 + around) * sy];
      for (let from = 0; from < width; from += wide) {
        const end = Math.min(width, from + wide);
        let first = from;
        while (first < end && data[row + first] < threshold) first++;
        if (first === end) continue;
        let last = end - 1;
        while (data[row + last] < threshold) last--;
        this.addBox((first - around) * sx, top, (last + 1 + around) * sx, bottom);
      }
    }
  }

  /** Whether the cell around a place holds anything. */
  isTakenAt(x: number, y: number): boolean {
    const [column, row] = [Math.floor(x / this.size), Math.floor(y / this.size)];
    return (
      column >= 0 &&
      row >= 0 &&
      column < this.columns &&
      row < this.rows &&
      this.taken[row * this.columns + column] === 1
    );
  }

  /** Adds a box, cut at the borders of the picture, to every cell that it meets. */
  addBox(left: number, top: number, right: number, bottom: number): void {
    const { size, columns, octagons, taken } = this;
    const [x0, y0] = [Math.max(0, left), Math.max(0, top)];
    const [x1, y1] = [Math.min(this.width, right), Math.min(this.height, bottom)];
    const lastRow = Math.min(this.rows - 1, Math.ceil(y1 / size) - 1);
    const lastColumn = Math.min(columns - 1, Math.ceil(x1 / size) - 1);
    for (let row = Math.floor(y0 / size); row <= lastRow; row++) {
      const [t, b] = [Math.max(y0, row * size), Math.min(y1, (row + 1) * size)];
      for (let column = Math.floor(x0 / size); column <= lastColumn; column++) {
        const [l, r] = [Math.max(x0, column * size), Math.min(x1, (column + 1) * size)];
        const cell = row * columns + column;
        const at = SIDES * cell;
        taken[cell] = 1;
        if (l < octagons[at]) octagons[at] = l;
        if (r > octagons[at + 1]) octagons[at + 1] = r;
        if (t < octagons[at + 2]) octagons[at + 2] = t;
        if (b > octagons[at + 3]) octagons[at + 3] = b;
        if (l + t < octagons[at + 4]) octagons[at + 4] = l + t;
        if (r + b > octagons[at + 5]) octagons[at + 5] = r + b;
        if (l - b < octagons[at + 6]) octagons[at + 6] = l - b;
        if (r - t > octagons[at + 7]) octagons[at + 7] = r - t;
      }
    }
  }

  /**
   * The eight corners of a cell's octagon, x and y after each other from `from` on: from its upper left ones once round,
   * two at each corner of the box.
   */
  cornersOf(cell: number, out: Float64Array, from: number): void {
    const o = this.octagons;
    const at = SIDES * cell;
    const [x0, x1, y0, y1] = [o[at], o[at + 1], o[at + 2], o[at + 3]];
    const [s0, s1, d0, d1] = [o[at + 4], o[at + 5], o[at + 6], o[at + 7]];
    out[from] = x0;
    out[from + 1] = s0 - x0;
    out[from + 2] = s0 - y0;
    out[from + 3] = y0;
    out[from + 4] = d1 + y0;
    out[from + 5] = y0;
    out[from + 6] = x1;
    out[from + 7] = x1 - d1;
    out[from + 8] = x1;
    out[from + 9] = s1 - x1;
    out[from + 10] = s1 - y1;
    out[from + 11] = y1;
    out[from + 12] = d0 + y1;
    out[from + 13] = y1;
    out[from + 14] = x0;
    out[from + 15] = x0 - d0;
  }

  /** The corners of all octagons. */
  allCorners(): Corner[] {
    const out: Corner[] = [];
    const corners = new Float64Array(2 * SIDES);
    for (let cell = 0; cell < this.taken.length; cell++) {
      if (!this.taken[cell]) continue;
      this.cornersOf(cell, corners, 0);
      for (let i = 0; i < corners.length; i += 2) out.push([corners[i], corners[i + 1]]);
    }
    return out;
  }
}
