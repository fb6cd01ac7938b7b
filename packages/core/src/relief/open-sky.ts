import { HALF } from '../mask/edge-distance.ts';
import type { Mask } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { bytesIn, floatsIn, kernels, layOut, wholesIn, wordsIn, type Address } from '../simd/simd.ts';
import type { Heights } from './normals.ts';
import { fillInnerPlaces, fillPlaces, INNER_PLACE, PLACE, SIGHT, waysOf, type Sight, type Way } from './sky-ways.ts';

/** Rows or columns that are looked at texel by texel; farther on, cells of 2 × 2 are. Odd, so that none is left out. */
const NEAR = 7;
/** Bytes of a line of cells: see packages/core/wasm/horizons.ts. */
const LINE = 8 * 32;
/** Bytes of what is known of a line. */
const STATE = 8;
/** Rows of texels that are kept: those of a pair of rows, what is near it, and one below for the cells. */
const RING = 16;
/** Rows of cells between two looks whether the result is still wanted. */
const LOOK_ROWS = 8;
/** Texels of air beside each row. */
const BESIDE = 12;

/**
 * How much of the sky each texel of a height field sees, weighted by the cosine around the card's own normal: 1 less the
 * mean over directions of sin² of the horizon's elevation. What the mask drops is air, and so is all beyond the border.
 *
 * Along each of 24 directions, none of which runs with the rows or the columns, the horizon is the steepest rise to the
 * bilinear surface: where the line crosses the next 7 rows or columns, at some places between the nearest of them, and
 * beyond them to the silhouette of cells of 2 × 2 texels: an upper hull that moves on with its line (V. Timonen,
 * J. Westerholm, "Scalable Height Field Self-Shadowing", 2010), seen from the texel's own height. Within 0.01 of brute
 * force on average, 0.05 at worst.
 *
 * @param rise - Height of 65535 in texels.
 * @param reach - Texels at which what rises no longer darkens; it fades towards there by 1 − (d / reach)². Infinity: all.
 * @param env - its `checkpoint` gets the share done.
 * @param sight - How finely it is looked at.
 * @returns Open sky, 0–65535, one a texel.
 */
export function openSky(
  heights: Heights,
  mask: Mask,
  rise: number,
  reach: number,
  env: Pick<Work, 'checkpoint'>,
  sight = SIGHT,
): Uint16Array {
  const out = new Uint16Array(heights.width * heights.height);
  for (const up of [false, true]) {
    const sweep = new Sweep(heights, mask, rise / 65535, reach, up, sight);
    sweep.run((row, hidden) => subtract(out, row * heights.width, hidden, up), env);
  }
  return out;
}

/** Hidden shares gather downwards; upwards what they leave open is written. */
function subtract(out: Uint16Array, start: number, hidden: Float32Array, last: boolean): void {
  for (let x = 0, i = start; x < hidden.length; x++, i++) {
    const sum = out[i] + hidden[x] * 65535;
    out[i] = last ? Math.max(0, 65535.5 - sum) : sum + 0.5;
  }
}

/** All directions that look at rows already passed, row by row from one end. */
class Sweep {
  private readonly width: number;
  private readonly height: number;
  /** Cells of a row and in a column. */
  private readonly cells: number;
  private readonly rows: number;
  private readonly ways: readonly Way[];
  private readonly slots;
  private readonly fade: number;
  /** Bytes of a row of texels with the air beside it, and of a row of cells. */
  private readonly pitch: number;
  private readonly cellPitch: number;

  constructor(
    private readonly heights: Heights,
    private readonly mask: Mask,
    private readonly unit: number,
    reach: number,
    private readonly up: boolean,
    private readonly sight: Sight,
  ) {
    const { width, height } = heights;
    [this.width, this.height] = [width, height];
    [this.cells, this.rows] = [Math.ceil(width / 2), Math.ceil(height / 2)];
    this.fade = reach === Infinity ? 0 : 1 / (reach * reach);
    this.pitch = 4 * (8 * Math.ceil(width / 8) + 2 * BESIDE);
    this.cellPitch = 4 * (this.cells + 2);
    this.ways = waysOf(sight, this.cells);
    const lines = this.ways.reduce((sum, { ring }) => sum + ring, 0);
    const each = 4 * this.cells * this.ways.length;
    this.slots = layOut({
      ...{ words: 2 * width, alpha: width, ring: RING * this.pitch, rows: 4 * (NEAR + 2), cells: 16 * this.cellPitch },
      ...{
        table: this.ways.length * NEAR * PLACE,
        inner: this.ways.length * sight.inside.length * INNER_PLACE,
        slopes: 2 * this.pitch,
        near: 2 * this.pitch,
        hidden: 2 * this.pitch,
      },
      ...{
        places: 16 * this.ways.length,
        slot: each,
        along: each,
        aside: each,
        states: lines * STATE,
        lines: lines * LINE,
      },
    });
    floatsIn(this.slots.ring).fill(NaN);
    floatsIn(this.slots.cells).fill(NaN);
    this.fillTables();
    this.fillLines();
  }

  /** @param take - Gets each row of the picture with what the passed directions hide there. */
  run(take: (row: number, hidden: Float32Array) => void, env: Pick<Work, 'checkpoint'>): void {
    const { slots, width, height, pitch } = this;
    const hidden = [0, 1].map((k) => floatsIn(slots.hidden).subarray((k * pitch) / 4, (k * pitch) / 4 + width));
    this.read(0);
    for (let r = 0; r < this.rows; r++) {
      if (r % LOOK_ROWS === 0) env.checkpoint(((this.up ? 1 : 0) + r / this.rows) / 2);
      this.read(r + 1);
      floatsIn(slots.hidden).fill(0);
      let first = 0;
      for (const [k, { ring }] of this.ways.entries()) {
        for (const n of [2 * r, 2 * r + 1]) this.lookNear(n, k);
        this.lookFar(r, k, first);
        first += ring;
      }
      for (const [k, row] of hidden.entries()) if (2 * r + k < height) take(this.rowOf(2 * r + k), row);
    }
  }

  /** Row of the picture that is the nth on the way. */
  private rowOf(n: number): number {
    return this.up ? this.height - 1 - n : n;
  }

  private rowAt(n: number): Address {
    return this.slots.ring.at + (((n % RING) + RING) % RING) * this.pitch + 4 * BESIDE;
  }

  private cellsAt(r: number): Address {
    return this.slots.cells.at + (((r % 4) + 4) % 4) * 4 * this.cellPitch + 4;
  }

  /** Brings a pair of rows and its cells into the kernels' memory; what lies beyond the picture is air. */
  private read(r: number): void {
    const { slots, width } = this;
    const { groundRow, cellRow } = kernels();
    for (const n of [2 * r, 2 * r + 1]) {
      const at = this.rowAt(n);
      if (n >= this.height) {
        floatsIn({ at, bytes: 4 * width }).fill(NaN);
        continue;
      }
      const start = this.rowOf(n) * width;
      wordsIn(slots.words).set(this.heights.data.subarray(start, start + width));
      bytesIn(slots.alpha).set(this.mask.data.subarray(start, start + width));
      groundRow(slots.words.at, slots.alpha.at, HALF, this.unit, at, width);
    }
    cellRow(this.rowAt(2 * r), this.rowAt(2 * r + 1), this.cellsAt(r), this.cellPitch, this.cells);
  }

  private fillTables(): void {
    const { table, inner } = this.slots;
    const { inside } = this.sight;
    for (const [k, way] of this.ways.entries()) {
      const near = { at: table.at + k * NEAR * PLACE, bytes: NEAR * PLACE };
      fillPlaces(way, NEAR, wholesIn(near), floatsIn(near));
      const within = { at: inner.at + k * inside.length * INNER_PLACE, bytes: inside.length * INNER_PLACE };
      fillInnerPlaces(way, inside, wholesIn(within), floatsIn(within));
    }
  }

  /** Where each cell lies on its line, and its four texels beside its middle. */
  private fillLines(): void {
    const { slots, cells } = this;
    for (const [k, { steep, way, lean, length, ring }] of this.ways.entries()) {
      const slot = wholesIn(slots.slot).subarray(k * cells, (k + 1) * cells);
      const along = floatsIn(slots.along).subarray(k * cells, (k + 1) * cells);
      const aside = floatsIn(slots.aside).subarray(k * cells, (k + 1) * cells);
      for (let n = 0; n < cells; n++) {
        const x = way > 0 ? n : cells - 1 - n;
        const shift = Math.round(lean * n);
        slot[x] = steep ? n : (ring - (shift % ring)) % ring;
        along[x] = steep ? 0 : 2 * n * length;
        aside[x] = steep ? 0 : lean * n - shift;
      }
      for (let lane = 0; lane < 4; lane++) {
        const dx = way * ((lane & 1) - 0.5);
        const dy = (lane >> 1) - 0.5;
        floatsIn(slots.places)[4 * k + lane] = (steep ? lean * dx + dy : dx + lean * dy) / length;
      }
    }
  }

  private lookNear(n: number, k: number): void {
    const { slots, pitch } = this;
    const rows = wholesIn(slots.rows);
    for (let back = 0; back < rows.length; back++) rows[back] = this.rowAt(n - back);
    const second = (n & 1) * pitch;
    const { inside } = this.sight;
    const found = [slots.slopes.at + second, slots.near.at + second, 8 * Math.ceil(this.width / 8)] as const;
    const { nearRow, withinRow } = kernels();
    nearRow(slots.table.at + k * NEAR * PLACE, NEAR, slots.rows.at, this.rowAt(n), ...found);
    if (inside.length === 0) return;
    const inner = slots.inner.at + k * inside.length * INNER_PLACE;
    withinRow(inner, inside.length, slots.rows.at, this.rowAt(n), ...found);
  }

  private lookFar(r: number, k: number, first: number): void {
    const { slots, cells, pitch } = this;
    const { steep, way, lean, length, ring } = this.ways[k];
    // a steep line runs from row to row of a cell, others from column to column
    const halves = steep ? 0 : 2 * this.cellPitch;
    const own = this.cellsAt(r) + halves;
    const [ahead, behind] = steep
      ? [own + 4 * way, own - 4 * way]
      : [this.cellsAt(r + 1) + halves, this.cellsAt(r - 1) + halves];
    const half = (steep ? length : way * length) / 2;
    const shift = Math.round(lean * r);
    const states = slots.states.at + first * STATE;
    const lines = slots.lines.at + first * LINE;
    const turn = steep ? (ring - (shift % ring)) % ring : r % ring;
    // a line begins at each row, or at those where all have moved on by a cell; it takes the memory of one that has left
    if (!steep || shift !== Math.round(lean * (r - 1))) wholesIn({ at: states + turn * STATE, bytes: 4 })[0] = 0;
    const at = 4 * cells * k;
    kernels().farRow(
      ...([
        this.rowAt(2 * r),
        pitch,
        slots.slopes.at,
        slots.near.at,
        own,
        this.cellPitch,
        half,
        ahead,
        behind,
        lines,
        states,
        ring,
        turn,
      ] as const),
      ...([steep ? 2 * r * length : 0, steep ? lean * r - shift : 0] as const),
      ...([slots.slot.at + at, slots.along.at + at, slots.aside.at + at, slots.places.at + 16 * k] as const),
      ...([(2 * lean) / length, NEAR * length, this.fade, 1 / this.sight.directions, slots.hidden.at] as const),
      ...([way > 0 ? 0 : cells - 1, way, cells] as const),
    );
  }
}
