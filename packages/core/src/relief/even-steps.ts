import { blurValues, type Values } from '../mask/blur.ts';
import type { Work } from '../raster/work.ts';
import type { Heights } from './normals.ts';

/** As one step of 8 bits is 257 of 65535: half of it, and what means of rounded values are off themselves. */
const FARTHEST = 0.54 * 257;
/** Texels over which steps are evened, wider ones over narrower: a slope of a step in 24 texels comes out even. */
const WIDTHS = [6, 24];
/** Texels from a border inwards whose line says where the surface is at the border: what stands there is rounded. */
const FITTED = 48;
/** Means so wide are taken of cells of so many texels a side. */
const CELL = 4;

/** Whether 16 bits hold what 8 bits hold: whatever the file says. */
export function hasSteps(data: Uint16Array): boolean {
  for (let i = 0; i < data.length; i++) if (data[i] % 257 !== 0) return false;
  return true;
}

/**
 * Heights of 8 bits as 16: between its steps a smooth surface is put in the place of terraces. No height moves by more
 * than half a step (0.54), which is what rounding to 8 bits may have moved it by: nothing that was there is smoothed away.
 * Each texel takes the widest mean that is no farther off.
 *
 * @param fitted - Whether the surface goes on beyond a border from where its line meets it, not from what stands there.
 * @returns one value a texel, 0–65535.
 */
export function evenSteps(
  { width, height, data }: Heights,
  fitted: boolean,
  env: Pick<Work, 'bands' | 'scale'>,
): Float32Array {
  const cell = Math.max(1, Math.round(CELL * env.scale));
  const small = meansOf(data, width, height, cell);
  const reach = Math.ceil((3 * WIDTHS[WIDTHS.length - 1] * env.scale) / cell);
  const pads = [Math.min(reach, small.width - 1), Math.min(reach, small.height - 1)] as const;
  const around = goneOn(small, ...pads, fitted ? Math.ceil((FITTED * env.scale) / cell) : 1);
  const out = new Float32Array(data);
  for (const wide of WIDTHS) {
    const soft = { ...around, data: blurValues(around, (wide * env.scale) / cell, env) };
    env.bands(height, (y0, y1) => takeWhereNear(soft, pads, cell, data, out, width, y0, y1));
  }
  return out;
}

/** Means of cells; those at the right and the lower border hold fewer texels. */
function meansOf(data: Uint16Array, width: number, height: number, cell: number): Values & { data: Float32Array } {
  const [w, h] = [Math.ceil(width / cell), Math.ceil(height / cell)];
  const sums = new Float32Array(w * h);
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor(y / cell) * w;
    for (let x = 0; x < width; x++, i++) sums[row + Math.floor(x / cell)] += data[i];
  }
  for (let v = 0, o = 0; v < h; v++) {
    const tall = Math.min(cell, height - v * cell);
    for (let u = 0; u < w; u++, o++) sums[o] /= tall * Math.min(cell, width - u * cell);
  }
  return { width: w, height: h, data: sums };
}

/** Rows of the soft surface, read between the middles of its cells, where it is near enough to what was read. */
function takeWhereNear(
  soft: Values,
  [padX, padY]: readonly [number, number],
  cell: number,
  data: Uint16Array,
  out: Float32Array,
  width: number,
  y0: number,
  y1: number,
): void {
  const { width: wide, height: tall, data: values } = soft;
  for (let y = y0; y < y1; y++) {
    const v = Math.min(tall - 1, Math.max(0, (y + 0.5) / cell - 0.5 + padY));
    const top = Math.min(tall - 1, Math.floor(v));
    const fy = v - top;
    const upper = top * wide;
    const lower = Math.min(tall - 1, top + 1) * wide;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const u = Math.min(wide - 1, Math.max(0, (x + 0.5) / cell - 0.5 + padX));
      const left = u | 0;
      const right = left + 1 < wide ? left + 1 : left;
      const fx = u - left;
      const above = values[upper + left] + (values[upper + right] - values[upper + left]) * fx;
      const below = values[lower + left] + (values[lower + right] - values[lower + left]) * fx;
      const surface = above + (below - above) * fy;
      const off = surface > data[i] ? surface - data[i] : data[i] - surface;
      if (off <= FARTHEST) out[i] = surface;
    }
  }
}

/** With its border turned about itself beyond it, so that a slope goes on as a slope. @param line - Values that a border is fitted to. */
function goneOn({ width, height, data }: Values, padX: number, padY: number, line: number): Values {
  const wide = width + 2 * padX;
  const out = new Float32Array(wide * (height + 2 * padY));
  const inside = (at: number, side: number) => (at < 0 ? -at : at >= side ? 2 * side - 2 - at : at);
  const columns = [0, width - 1].map((u) =>
    Float64Array.from({ length: height }, (_, v) => atEnd(data, v * width + u, u ? -1 : 1, Math.min(line, width))),
  );
  const rows = [0, height - 1].map((v) =>
    Float64Array.from({ length: width }, (_, u) =>
      atEnd(data, v * width + u, v ? -width : width, Math.min(line, height)),
    ),
  );
  const corners = columns.map((column) =>
    [0, height - 1].map((v) => atEnd(column, v, v ? -1 : 1, Math.min(line, height))),
  );
  for (let y = -padY; y < height + padY; y++) {
    const v = inside(y, height);
    for (let x = -padX, o = (y + padY) * wide; x < width + padX; x++, o++) {
      const u = inside(x, width);
      const own = data[v * width + u];
      const right = x < 0 ? 0 : 1;
      const below = y < 0 ? 0 : 1;
      if (v === y) out[o] = u === x ? own : 2 * columns[right][v] - own;
      else out[o] = 2 * (u === x ? rows[below][u] : corners[right][below]) - own;
    }
  }
  return { width: wide, height: height + 2 * padY, data: out };
}

/** Where the least-squares line through `count` values, `step` apart, meets the first of them. */
function atEnd(values: ArrayLike<number>, at: number, step: number, count: number): number {
  const middle = (count - 1) / 2;
  let sum = 0;
  let lean = 0;
  for (let k = 0, i = at; k < count; k++, i += step) {
    sum += values[i];
    lean += (k - middle) * values[i];
  }
  return sum / count - (count > 1 ? (12 * middle * lean) / (count * (count * count - 1)) : 0);
}
