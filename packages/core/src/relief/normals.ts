import type { Raster } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';

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
  const unit = rise / 65535 / 12;
  const pad = new Int32Array(width + 4);
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      fillPadded(data, y * width, width, pad);
      const row = (v: number) => Math.min(height - 1, Math.max(0, v)) * width;
      normalRow(pad, data, row(y - 2), row(y - 1), row(y + 1), row(y + 2), unit, out, 3 * y * width);
    }
  });
  return { width, height, channels: 3, data: out };
}

function fillPadded(data: Uint16Array, start: number, width: number, pad: Int32Array): void {
  for (let x = 0; x < width; x++) pad[x + 2] = data[start + x];
  pad[0] = pad[1] = pad[2];
  pad[width + 3] = pad[width + 2] = pad[width + 1];
}

function normalRow(
  pad: Int32Array,
  data: Uint16Array,
  up2: number,
  up1: number,
  down1: number,
  down2: number,
  unit: number,
  out: Uint16Array,
  at: number,
): void {
  const width = pad.length - 4;
  for (let x = 0, o = at; x < width; x++, o += 3) {
    const across = (((pad[x + 3] - pad[x + 1]) << 3) - pad[x + 4] + pad[x]) | 0;
    const down = (((data[down1 + x] - data[up1 + x]) << 3) - data[down2 + x] + data[up2 + x]) | 0;
    if (across === 0 && down === 0) {
      out[o] = 32768;
      out[o + 1] = 32768;
      out[o + 2] = 65535;
      continue;
    }
    let nx = -unit * across;
    let ny = unit * down; // y runs down in the raster, up in the map
    const slope = nx * nx + ny * ny;
    if (slope > STEEPEST * STEEPEST) {
      const back = STEEPEST / Math.sqrt(slope);
      nx *= back;
      ny *= back;
    }
    const scale = 32767.5 / Math.sqrt(nx * nx + ny * ny + 1);
    out[o] = nx * scale + 32768;
    out[o + 1] = ny * scale + 32768;
    out[o + 2] = scale + 32768;
  }
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
