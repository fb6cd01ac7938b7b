import type { Raster } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { kernels, layOut, wordsIn } from '../simd/simd.ts';

/** One value a texel, 0–65535. */
export type Heights = Raster<Uint16Array>;
/** Directions as 16 bits a channel, 0–65535 for −1 … 1: x right, y up (as OpenGL and glTF 2.0 §3.9.3 have it), z out. */
export type Normals = Raster<Uint16Array>;

/** Slope of a direction 89° from straight up: steeper ones are laid back to it, so that z never vanishes. */
const STEEPEST = 57.28996163075943;

/**
 * Normals of a height field: n = (−∂h/∂x, −∂h/∂y, 1) / |…| with y up. The slopes are central differences of fourth
 * order, (8 (h₁ − h₋₁) − (h₂ − h₋₂)) / 12 (B. Fornberg, "Generation of Finite Difference Formulas on Arbitrarily Spaced
 * Grids", 1988): a wave of 16 texels comes out within 0.1°, where second order misses by a degree. At the border the
 * outermost texels go on.
 *
 * @param rise - Height of 65535 in texels: millimetres of it over millimetres of a texel.
 */
export function normalsOf(
  { width, height, data }: Heights,
  rise: number,
  env: Pick<Work, 'bands'>,
  out: Uint16Array,
): Normals {
  const { normalRow, padRow } = kernels();
  const unit = rise / 65535 / 12;
  const stride = 4 * (Math.ceil(width / 4) * 4 + 8);
  const slots = layOut({ staging: 2 * width, ring: 5 * stride, result: 6 * (width + 3) });
  const staging = wordsIn(slots.staging);
  const result = wordsIn(slots.result).subarray(0, 3 * width);
  const held = new Int32Array(5).fill(-1);
  const rowAt = (v: number): number => {
    const row = Math.min(height - 1, Math.max(0, v));
    const at = slots.ring.at + stride * (row % 5);
    if (held[row % 5] !== row) {
      staging.set(data.subarray(row * width, (row + 1) * width));
      padRow(slots.staging.at, at, width);
      held[row % 5] = row;
    }
    return at;
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
