import type { Raster } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { kernels, layOut, wordsIn, type Address, type Slot } from '../simd/simd.ts';

/** One value a texel, 0–65535. */
export type Heights = Raster<Uint16Array>;
/** Directions as 16 bits a channel, 0–65535 for −1 … 1: x right, y up (as OpenGL and glTF 2.0 §3.9.3 have it), z out. */
export type Normals = Raster<Uint16Array>;

/** Slope of a direction 89° from straight up: steeper ones are laid back to it, so that z never vanishes. */
const STEEPEST = 57.28996163075943;

/**
 * Normals of a height field: n = (−∂h/∂x, −∂h/∂y, 1) / |…| with y up. The slopes are central differences of fourth
 * order, (8 (h₁ − h₋₁) − (h₂ − h₋₂)) / 12 (B. Fornberg, "Generation of Finite Difference Formulas on Arbitrarily Spaced
 * Grids", 1988): a wave of 16 texels comes out within 0.1°, where second order misses by a degree. Beyond the border the
 * surface goes on as the cubic through the four outermost texels, which makes them one-sided differences of third order.
 *
 * @param rise - Height of 65535 in texels: millimetres of it over millimetres of a texel.
 * @param level - Beyond the border the outermost texels go on, as in version 1 of the step.
 */
export function normalsOf(
  { width, height, data }: Heights,
  rise: number,
  env: Pick<Work, 'bands'>,
  out: Uint16Array,
  level = false,
): Normals {
  const { normalRow, padRow } = kernels();
  const unit = rise / 65535 / 12;
  const wide = Math.ceil(width / 4) * 4 + 8;
  const stride = 4 * wide;
  const slots = layOut({ staging: 2 * width, ring: 5 * stride, beyond: 4 * stride, result: 6 * (width + 3) });
  const staging = wordsIn(slots.staging);
  const ring = signedIn(slots.ring);
  const result = wordsIn(slots.result).subarray(0, 3 * width);
  const pad = (row: number, at: Address, ints: Int32Array) => {
    staging.set(data.subarray(row * width, (row + 1) * width));
    padRow(slots.staging.at, at, width);
    if (!level) extend(ints, 2, width, 1);
  };
  const first = ring.subarray(0, wide);
  const beyond = (row: number) => {
    pad(row, slots.ring.at, first);
    return first;
  };
  if (!level) signedIn(slots.beyond).set(rowsBeyond(wide, height, beyond));
  const held = new Int32Array(5).fill(-1);
  const rowAt = (v: number): Address => {
    if (!level && (v < 0 || v >= height)) return slots.beyond.at + stride * (v < 0 ? 2 + v : 2 + v - height);
    const row = Math.min(height - 1, Math.max(0, v));
    const place = row % 5;
    if (held[place] !== row) pad(row, slots.ring.at + stride * place, ring.subarray(wide * place, wide * (place + 1)));
    held[place] = row;
    return slots.ring.at + stride * place;
  };
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      normalRow(
        ...([rowAt(y - 2), rowAt(y - 1), rowAt(y), rowAt(y + 1), rowAt(y + 2)] as const),
        ...([unit, STEEPEST, slots.result.at, width] as const),
      );
      out.set(result, 3 * y * width);
    }
  });
  return { width, height, channels: 3, data: out };
}

/** Heights on their way: what is extended may lie below 0. */
const signedIn = ({ at, bytes }: Slot) => new Int32Array(kernels().memory.buffer, at, bytes >> 2);

/** Weights of the polynomial through the outermost values: the next one beyond, and the one after that. */
const BEYOND: readonly (readonly [readonly number[], readonly number[]])[] = [
  [[1], [1]],
  [[2, -1], [3, -2]],
  [[3, -3, 1], [6, -8, 3]],
  [[4, -6, 4, -1], [10, -20, 15, -4]],
]; // prettier-ignore

/** Two values before and two after `count` of them, `step` apart, as the cubic through the outermost four goes on. */
function extend(values: Int32Array, from: number, count: number, step: number): void {
  const [next, after] = BEYOND[Math.min(4, count) - 1];
  const last = from + (count - 1) * step;
  for (const [end, way] of [[from, step], [last, -step]] as const) {
    let [one, two] = [0, 0];
    for (let k = 0; k < next.length; k++) {
      one += next[k] * values[end + k * way];
      two += after[k] * values[end + k * way];
    }
    values[end - way] = one;
    values[end - 2 * way] = two;
  }
} // prettier-ignore

/**
 * The two rows above the picture and the two below it, in this order.
 *
 * @param rowOf - A row of the picture with what lies beside it; the memory may be another row's at the next call.
 */
function rowsBeyond(wide: number, height: number, rowOf: (row: number) => Int32Array): Int32Array {
  const known = Math.min(4, height);
  const out = new Int32Array(4 * wide);
  const column = new Int32Array(known + 4);
  for (const below of [false, true]) {
    const inwards = Array.from({ length: known }, (_, k) => rowOf(below ? height - 1 - k : k).slice());
    const [next, after] = below ? [2 * wide, 3 * wide] : [wide, 0];
    for (let i = 0; i < wide; i++) {
      for (let k = 0; k < known; k++) column[2 + k] = inwards[k][i];
      extend(column, 2, known, 1);
      out[next + i] = column[1];
      out[after + i] = column[0];
    }
  }
  return out;
}

/**
 * Writes a direction of any length; what has none, is not a number or leans over by more than 89° is brought back.
 */
export function writeNormal(out: Uint16Array, o: number, x: number, y: number, z: number): void {
  const length = Math.sqrt(x * x + y * y + z * z);
  if (!(length > 1e-9)) {
    out[o] = 32768;
    out[o + 1] = 32768;
    out[o + 2] = 65535;
    return;
  }
  let [nx, ny, nz] = [x / length, y / length, z / length];
  if (nz < LEAST_Z) {
    const flat = Math.sqrt(nx * nx + ny * ny) || 1;
    const lean = Math.sqrt(1 - LEAST_Z * LEAST_Z) / flat;
    [nx, ny, nz] = [nx * lean, ny * lean, LEAST_Z];
  }
  out[o] = nx * 32767.5 + 32768;
  out[o + 1] = ny * 32767.5 + 32768;
  out[o + 2] = nz * 32767.5 + 32768;
}

/** Sine of 1°. */
const LEAST_Z = 0.01745240643728351;
