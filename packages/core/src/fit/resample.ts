import { byteOfLinear16Table, LINEAR16_OF_BYTE } from '../colour/srgb.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import { allocate16, makeMask, type Raster, type Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import { filterWeight, type MipFilter } from '../sieve/mip-filters.ts';
import { writeNormal } from '../relief/normals.ts';

/**
 * Where the texels of a result lie in the picture before: x = xx · u + xy · v + x0, y = yx · u + yy · v + y0, both
 * measured from the corners of their rasters, so that the centre of the first texel is 0.5.
 */
export interface Placing {
  width: number;
  height: number;
  xx: number;
  xy: number;
  x0: number;
  yx: number;
  yy: number;
  y0: number;
}

/** Fractions of a texel that weights are kept for. */
const PHASES = 128;

interface Kernel {
  taps: number;
  /** Of every phase, normalised. */
  weights: Float32Array;
  /** First tap of phase 0, relative to the whole part of a place. */
  first: number;
}

/** @param scale - Texels before to one after: above 1 the filter is as many times wider. */
function kernelOf(filter: MipFilter, scale: number): Kernel {
  const wide = Math.max(1, scale);
  const support = SUPPORT[filter] * wide;
  const taps = Math.max(1, Math.ceil(2 * support));
  const first = -Math.ceil(support) + 1;
  const weights = new Float32Array((PHASES + 1) * taps);
  for (let phase = 0; phase <= PHASES; phase++) {
    let sum = 0;
    for (let k = 0; k < taps; k++) {
      const w = filterWeight(filter, (first + k - phase / PHASES) / wide);
      weights[phase * taps + k] = w;
      sum += w;
    }
    // a box that lies just between two texels: the nearer one
    if (sum === 0) weights[phase * taps + Math.min(taps - 1, Math.max(0, Math.round(phase / PHASES) - first))] = 1;
    else for (let k = 0; k < taps; k++) weights[phase * taps + k] /= sum;
  }
  return { taps, weights, first };
}

/** Half widths in texels of the result. */
const SUPPORT: Record<MipFilter, number> = { box: 0.5, triangle: 1, Kaiser: 3, Lanczos: 3 };

/** What lies beyond the picture: nothing is kept there, all else goes on. */
export function resampleMap(
  name: MapName,
  raster: Raster<Samples>,
  placing: Placing,
  filter: MipFilter,
  env: Pick<Work, 'allocate' | 'bands'>,
): Raster<Samples> {
  const moved = wholeShift(placing);
  if (moved) return shifted(name, raster, placing, moved, env);
  const { mips, channels } = mapKind(name);
  const { width, height } = placing;
  const scale = Math.sqrt(Math.abs(placing.xx * placing.yy - placing.xy * placing.yx));
  const out =
    raster.data instanceof Uint8Array
      ? env.allocate(channels * width * height)
      : allocate16(channels * width * height, env.allocate);
  const job = { raster, placing, kernel: kernelOf(filter, scale), out, outside: name === 'mask' };
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      if (mips === 'one of them') nearestRow(job, y);
      else if (mips === 'linear light') colourRow(job, y);
      else if (channels === 1) valueRow(job, y);
      else normalRow(job, y);
    }
  });
  return name === 'mask'
    ? makeMask(width, height, out as Uint8Array)
    : { width, height, channels: raster.channels, data: out };
}

/** Whole texels that all is shifted by; null where it is turned, scaled or shifted by a fraction. */
function wholeShift({ xx, xy, yx, yy, x0, y0 }: Placing): { x: number; y: number } | null {
  const plain = xx === 1 && yy === 1 && xy === 0 && yx === 0 && Number.isInteger(x0) && Number.isInteger(y0);
  return plain ? { x: x0, y: y0 } : null;
}

function shifted(
  name: MapName,
  { width, height, channels, data }: Raster<Samples>,
  to: Placing,
  { x, y }: { x: number; y: number },
  env: Pick<Work, 'allocate' | 'bands'>,
): Raster<Samples> {
  const count = channels * to.width * to.height;
  const out = data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const clamp = (v: number, most: number) => (v < 0 ? 0 : v > most ? most : v);
  env.bands(to.height, (y0, y1) => {
    for (let v = y0; v < y1; v++) {
      const row = clamp(v + y, height - 1) * width;
      const away = v + y < 0 || v + y >= height;
      for (let u = 0, o = channels * v * to.width; u < to.width; u++) {
        const outside = away || u + x < 0 || u + x >= width;
        const i = channels * (row + clamp(u + x, width - 1));
        for (let c = 0; c < channels; c++) out[o++] = outside && name === 'mask' ? 0 : data[i + c];
      }
    }
  });
  return name === 'mask'
    ? makeMask(to.width, to.height, out as Uint8Array)
    : { width: to.width, height: to.height, channels, data: out };
}

interface Job {
  raster: Raster<Samples>;
  placing: Placing;
  kernel: Kernel;
  out: Samples;
  /** Whether what lies beyond the picture is 0. */
  outside: boolean;
}

const clampTo = (v: number, most: number): number => (v < 0 ? 0 : v > most ? most : v);

function nearestRow({ raster: { width, height, channels, data }, placing: p, out }: Job, v: number): void {
  for (let u = 0, o = channels * v * p.width; u < p.width; u++) {
    const x = clampTo(Math.floor(p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0), width - 1);
    const y = clampTo(Math.floor(p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0), height - 1);
    for (let c = 0; c < channels; c++) out[o++] = data[channels * (y * width + x) + c];
  }
}

function valueRow({ raster, placing: p, kernel, out, outside }: Job, v: number): void {
  const { width, height, data } = raster;
  const { taps, weights, first } = kernel;
  const full = data instanceof Uint8Array ? 255 : 65535;
  for (let u = 0, o = v * p.width; u < p.width; u++, o++) {
    const x = p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0 - 0.5;
    const y = p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0 - 0.5;
    const [fx, fy] = [Math.floor(x), Math.floor(y)];
    const wx = Math.round((x - fx) * PHASES) * taps;
    const wy = Math.round((y - fy) * PHASES) * taps;
    let sum = 0;
    for (let j = 0; j < taps; j++) {
      const row = fy + first + j;
      if (outside && (row < 0 || row >= height)) continue;
      const base = clampTo(row, height - 1) * width;
      let line = 0;
      for (let i = 0; i < taps; i++) {
        const column = fx + first + i;
        if (column >= 0 && column < width) line += weights[wx + i] * data[base + column];
        else if (!outside) line += weights[wx + i] * data[base + clampTo(column, width - 1)];
      }
      sum += weights[wy + j] * line;
    }
    out[o] = sum <= 0 ? 0 : sum >= full ? full : sum + 0.5;
  }
}

/** Colour in linear light; alpha as a value. */
function colourRow({ raster, placing: p, kernel, out }: Job, v: number): void {
  const { width, height } = raster;
  const data = raster.data as Uint8Array;
  const { taps, weights, first } = kernel;
  const linear = LINEAR16_OF_BYTE;
  const encode = byteOfLinear16Table();
  const byte = (sum: number) => encode[sum <= 0 ? 0 : sum >= 65535 ? 65535 : (sum + 0.5) | 0];
  for (let u = 0, o = 4 * v * p.width; u < p.width; u++, o += 4) {
    const x = p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0 - 0.5;
    const y = p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0 - 0.5;
    const fx = Math.floor(x);
    const fy = Math.floor(y);
    const wx = Math.round((x - fx) * PHASES) * taps;
    const wy = Math.round((y - fy) * PHASES) * taps;
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    for (let j = 0; j < taps; j++) {
      const row = clampTo(fy + first + j, height - 1) * width;
      const down = weights[wy + j];
      for (let i = 0; i < taps; i++) {
        const k = 4 * (row + clampTo(fx + first + i, width - 1));
        const w = down * weights[wx + i];
        r += w * linear[data[k]];
        g += w * linear[data[k + 1]];
        b += w * linear[data[k + 2]];
        a += w * data[k + 3];
      }
    }
    out[o] = byte(r);
    out[o + 1] = byte(g);
    out[o + 2] = byte(b);
    out[o + 3] = a <= 0 ? 0 : a >= 255 ? 255 : a + 0.5;
  }
}

/** Directions turn with the picture: where it is turned clockwise, they are too. */
function normalRow({ raster, placing: p, kernel, out }: Job, v: number): void {
  const { width, height, data } = raster;
  const { taps, weights, first } = kernel;
  const full = data instanceof Uint8Array ? 255 : 65535;
  const scale = Math.sqrt(Math.abs(p.xx * p.yy - p.xy * p.yx)) || 1;
  const sums = [0, 0, 0];
  for (let u = 0, o = 3 * v * p.width; u < p.width; u++, o += 3) {
    const x = p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0 - 0.5;
    const y = p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0 - 0.5;
    const fx = Math.floor(x);
    const fy = Math.floor(y);
    const wx = Math.round((x - fx) * PHASES) * taps;
    const wy = Math.round((y - fy) * PHASES) * taps;
    sums.fill(0);
    for (let j = 0; j < taps; j++) {
      const row = clampTo(fy + first + j, height - 1) * width;
      for (let i = 0; i < taps; i++) {
        const k = 3 * (row + clampTo(fx + first + i, width - 1));
        const w = weights[wy + j] * weights[wx + i];
        for (let c = 0; c < 3; c++) sums[c] += w * data[k + c];
      }
    }
    const [nx, ny, nz] = sums.map((s) => (2 * s) / full - 1);
    // a step to the right in the result is (xx, yx) in the picture, one down (xy, yy); y of a direction points up
    const right = (nx * p.xx - ny * p.yx) / scale;
    const down = (nx * p.xy - ny * p.yy) / scale;
    writeNormal(out as Uint16Array, o, right, -down, nz);
  }
}
