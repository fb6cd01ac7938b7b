import { byteOfLinear16Table, LINEAR16_OF_BYTE } from '../colour/srgb.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import { allocate16, asWords, makeMask, type Mask, type Raster, type Samples } from '../raster/raster.ts';
import type { Work } from '../raster/work.ts';
import type { MipFilter } from '../sieve/mip-filters.ts';
import { writeNormal } from '../relief/normals.ts';
import { kernelOf, PHASES, type Kernel } from './kernel.ts';
import { scaleBoth } from './scale.ts';

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

/**
 * A map in its new place. What lies beyond the picture: nothing is kept there, all else goes on. Where it gets smaller it is
 * scaled first, one axis after the other, and then turned: a filter of 6 × 6 texels instead of one as wide as the step.
 *
 * @param kept - The mask as it will be, where it is known: colour that is wholly dropped is not filtered, since it is
 *   never seen by itself.
 */
export function resampleMap(
  name: MapName,
  raster: Raster<Samples>,
  placing: Placing,
  filter: MipFilter,
  env: Pick<Work, 'allocate' | 'bands'>,
  kept?: Mask,
): Raster<Samples> {
  const moved = wholeShift(placing);
  if (moved) return shifted(name, raster, placing, moved, env);
  const { mips, channels } = mapKind(name);
  const { width, height } = placing;
  const make = (count: number) =>
    raster.data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const done = (out: Samples) =>
    name === 'mask'
      ? makeMask(width, height, out as Uint8Array)
      : { width, height, channels: raster.channels, data: out };
  const upright = placing.xy === 0 && placing.yx === 0;
  if (upright && mips !== 'one of them' && mips !== 'renormalised normals') {
    const out = make(channels * width * height);
    const { xx, x0, yy, y0 } = placing;
    const along = [
      { length: width, scale: xx, offset: x0 },
      { length: height, scale: yy, offset: y0 },
    ] as const;
    scaleBoth(raster, along, filter, name === 'mask', env, out);
    return done(out);
  }
  const scale = Math.sqrt(Math.abs(placing.xx * placing.yy - placing.xy * placing.yx));
  const small = scale > 1 && mips !== 'one of them' ? shrunk(name, raster, scale, filter, env) : { raster, by: 1 };
  const way = scaledPlacing(placing, 1 / small.by);
  const out = make(channels * width * height);
  const job = {
    raster: small.raster,
    placing: way,
    kernel: kernelOf(filter, Math.max(1, scale / small.by)),
    out,
    outside: name === 'mask',
  };
  env.bands(height, (y0, y1) => {
    for (let y = y0; y < y1; y++) {
      if (mips === 'one of them') nearestRow(job, y);
      else if (mips === 'linear light') colourRow(job, y, kept?.data);
      else if (channels === 1) valueRow(job, y);
      else normalRow(job, y);
    }
  });
  return done(out);
}

/** The picture made smaller so that a texel of it is one of the result. */
function shrunk(
  name: MapName,
  raster: Raster<Samples>,
  scale: number,
  filter: MipFilter,
  env: Pick<Work, 'allocate' | 'bands'>,
): { raster: Raster<Samples>; by: number } {
  const { width, height, channels, data } = raster;
  const [w, h] = [Math.ceil(width / scale), Math.ceil(height / scale)];
  const count = channels * w * h;
  const out = data instanceof Uint8Array ? env.allocate(count) : allocate16(count, env.allocate);
  const along = [
    { length: w, scale, offset: 0 },
    { length: h, scale, offset: 0 },
  ] as const;
  scaleBoth(raster, along, filter, name === 'mask', env, out);
  return { raster: { width: w, height: h, channels, data: out }, by: scale };
}

function scaledPlacing(p: Placing, by: number): Placing {
  return { ...p, xx: p.xx * by, xy: p.xy * by, x0: p.x0 * by, yx: p.yx * by, yy: p.yy * by, y0: p.y0 * by };
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
    const fx = Math.floor(x);
    const fy = Math.floor(y);
    const left = fx + first;
    const top = fy + first;
    if (outside && (left >= width || top >= height || left + taps <= 0 || top + taps <= 0)) {
      out[o] = 0;
      continue;
    }
    const wx = Math.round((x - fx) * PHASES) * taps;
    const wy = Math.round((y - fy) * PHASES) * taps;
    const inside = left >= 0 && top >= 0 && left + taps <= width && top + taps <= height;
    let sum = 0;
    for (let j = 0; j < taps; j++) {
      const row = top + j;
      if (outside && (row < 0 || row >= height)) continue;
      const base = (inside ? row : clampTo(row, height - 1)) * width;
      let line = 0;
      if (inside) for (let i = 0; i < taps; i++) line += weights[wx + i] * data[base + left + i];
      else {
        for (let i = 0; i < taps; i++) {
          const column = left + i;
          if (column >= 0 && column < width) line += weights[wx + i] * data[base + column];
          else if (!outside) line += weights[wx + i] * data[base + clampTo(column, width - 1)];
        }
      }
      sum += weights[wy + j] * line;
    }
    out[o] = sum <= 0 ? 0 : sum >= full ? full : sum + 0.5;
  }
}

/** Colour in linear light; alpha, which the mask has taken the place of, from the nearest texel. */
function colourRow({ raster, placing: p, kernel, out }: Job, v: number, kept?: Uint8Array): void {
  const { width, height } = raster;
  const words = asWords(raster.data as Uint8Array);
  const to = asWords(out as Uint8Array);
  const { taps, weights, first } = kernel;
  const linear = LINEAR16_OF_BYTE;
  const encode = byteOfLinear16Table();
  for (let u = 0, o = v * p.width; u < p.width; u++, o++) {
    const x = p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0 - 0.5;
    const y = p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0 - 0.5;
    const fx = Math.floor(x);
    const fy = Math.floor(y);
    const nearest =
      words[clampTo(y - fy < 0.5 ? fy : fy + 1, height - 1) * width + clampTo(x - fx < 0.5 ? fx : fx + 1, width - 1)];
    if (kept && kept[o] === 0) {
      to[o] = nearest;
      continue;
    }
    const wx = Math.round((x - fx) * PHASES) * taps;
    const wy = Math.round((y - fy) * PHASES) * taps;
    const inside = fx + first >= 0 && fy + first >= 0 && fx + first + taps <= width && fy + first + taps <= height;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let j = 0; j < taps; j++) {
      const down = weights[wy + j];
      if (down === 0) continue;
      const row = (inside ? fy + first + j : clampTo(fy + first + j, height - 1)) * width;
      for (let i = 0; i < taps; i++) {
        const word = words[row + (inside ? fx + first + i : clampTo(fx + first + i, width - 1))];
        const w = down * weights[wx + i];
        r += w * linear[word & 255];
        g += w * linear[(word >>> 8) & 255];
        b += w * linear[(word >>> 16) & 255];
      }
    }
    const red = encode[r <= 0 ? 0 : r >= 65535 ? 65535 : (r + 0.5) | 0];
    const green = encode[g <= 0 ? 0 : g >= 65535 ? 65535 : (g + 0.5) | 0];
    const blue = encode[b <= 0 ? 0 : b >= 65535 ? 65535 : (b + 0.5) | 0];
    to[o] = (nearest & 0xff000000) | (blue << 16) | (green << 8) | red;
  }
}

/** Directions turn with the picture: where it is turned clockwise, they are too. */
function normalRow({ raster, placing: p, kernel, out }: Job, v: number): void {
  const { width, height, data } = raster;
  const { taps, weights, first } = kernel;
  const full = data instanceof Uint8Array ? 255 : 65535;
  const scale = Math.sqrt(Math.abs(p.xx * p.yy - p.xy * p.yx)) || 1;
  for (let u = 0, o = 3 * v * p.width; u < p.width; u++, o += 3) {
    const x = p.xx * (u + 0.5) + p.xy * (v + 0.5) + p.x0 - 0.5;
    const y = p.yx * (u + 0.5) + p.yy * (v + 0.5) + p.y0 - 0.5;
    const fx = Math.floor(x);
    const fy = Math.floor(y);
    const wx = Math.round((x - fx) * PHASES) * taps;
    const wy = Math.round((y - fy) * PHASES) * taps;
    let sx = 0;
    let sy = 0;
    let sz = 0;
    for (let j = 0; j < taps; j++) {
      const row = clampTo(fy + first + j, height - 1) * width;
      for (let i = 0; i < taps; i++) {
        const k = 3 * (row + clampTo(fx + first + i, width - 1));
        const w = weights[wy + j] * weights[wx + i];
        sx += w * data[k];
        sy += w * data[k + 1];
        sz += w * data[k + 2];
      }
    }
    const nx = (2 * sx) / full - 1;
    const ny = (2 * sy) / full - 1;
    const nz = (2 * sz) / full - 1;
    // a step to the right in the result is (xx, yx) in the picture, one down (xy, yy); y of a direction points up
    const right = (nx * p.xx - ny * p.yx) / scale;
    const down = (nx * p.xy - ny * p.yy) / scale;
    writeNormal(out as Uint16Array, o, right, -down, nz);
  }
}
