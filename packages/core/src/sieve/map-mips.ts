import { mapKind, type MapKind, type MapName } from '../raster/maps.ts';
import {
  allocate16,
  allocateHeap,
  makeMask,
  makePicture,
  type Allocate,
  type Raster,
  type Samples,
} from '../raster/raster.ts';
import { colourMips, maskMips } from './mips.ts';
import { taps } from './taps.ts';

/**
 * The mip levels of a map, made as its entry in the table of maps says.
 *
 * @returns Levels 1 and on, down to 1 × 1; level 0 is the input.
 */
export function mapMips(name: MapName, raster: Raster<Samples>, allocate: Allocate = allocateHeap): Raster<Samples>[] {
  const { mips } = mapKind(name);
  const { width, height, channels, data } = raster;
  if (data instanceof Uint8Array) {
    if (mips === 'linear light' && channels === 4) return colourMips(makePicture(width, height, data), allocate);
    if (mips === 'values' && channels === 1) return maskMips(makeMask(width, height, data), allocate);
  }
  const levels: Raster<Samples>[] = [];
  const halve = mips === 'one of them' ? picked : halvedFast;
  for (let level = raster; level.width > 1 || level.height > 1; levels.push(level)) {
    level = halve(level, mips, allocate);
  }
  return levels;
}

/** Sides that halve evenly, 16 bits: heights and normals. */
function halvedFast(raster: Raster<Samples>, mips: MapKind['mips'], allocate: Allocate): Raster<Samples> {
  const { channels, data } = raster;
  const [width, height] = [raster.width >> 1, raster.height >> 1];
  const even = raster.width === 2 * width && raster.height === 2 * height && width > 0 && height > 0;
  const normals = mips === 'renormalised normals';
  if (!even || !(data instanceof Uint16Array) || channels !== (normals ? 3 : 1)) return halved(raster, mips, allocate);
  const out = allocate16(width * height * channels, allocate);
  for (let y = 0; y < height; y++) {
    const top = 2 * y * raster.width * channels;
    if (normals) halveNormals(data, top, top + 3 * raster.width, out, 3 * y * width, width);
    else halveValues(data, top, top + raster.width, out, y * width, width);
  }
  return { width, height, channels, data: out };
}

function halveValues(
  data: Uint16Array,
  top: number,
  bottom: number,
  out: Uint16Array,
  at: number,
  width: number,
): void {
  for (let o = at, a = top, b = bottom; o < at + width; o++, a += 2, b += 2) {
    out[o] = (data[a] + data[a + 1] + data[b] + data[b + 1] + 2) >> 2;
  }
}

function halveNormals(
  data: Uint16Array,
  top: number,
  bottom: number,
  out: Uint16Array,
  at: number,
  width: number,
): void {
  for (let o = at, a = top, b = bottom; o < at + 3 * width; o += 3, a += 6, b += 6) {
    // four times as far from the middle: the length is what counts
    const x = data[a] + data[a + 3] + data[b] + data[b + 3] - 131070;
    const y = data[a + 1] + data[a + 4] + data[b + 1] + data[b + 4] - 131070;
    const z = data[a + 2] + data[a + 5] + data[b + 2] + data[b + 5] - 131070;
    const length = Math.sqrt(x * x + y * y + z * z);
    const scale = length > 0.2 ? 32767.5 / length : 0;
    out[o] = x * scale + 32768;
    out[o + 1] = y * scale + 32768;
    out[o + 2] = scale > 0 ? z * scale + 32768 : 65535;
  }
}

/** Any depth and number of channels: values, or directions of length 1 in the first three channels. */
function halved(raster: Raster<Samples>, mips: MapKind['mips'], allocate: Allocate): Raster<Samples> {
  const { channels, data } = raster;
  const width = Math.max(1, raster.width >> 1);
  const height = Math.max(1, raster.height >> 1);
  const out = samplesLike(data, width * height * channels, allocate);
  const full = data instanceof Uint8Array ? 255 : 65535;
  const across = taps(raster.width, width);
  const down = taps(raster.height, height);
  const sums = new Float64Array(channels);
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o += channels) {
      sums.fill(0);
      for (let j = 0; j < 3; j++) {
        const wy = down.weight[3 * y + j];
        if (wy === 0) continue;
        const row = (down.step * y + j) * raster.width;
        for (let i = 0; i < 3; i++) {
          const weight = wy * across.weight[3 * x + i];
          if (weight === 0) continue;
          const from = (row + across.step * x + i) * channels;
          for (let c = 0; c < channels; c++) sums[c] += weight * data[from + c];
        }
      }
      if (mips === 'renormalised normals') renormalise(sums, full);
      for (let c = 0; c < channels; c++) out[o + c] = sums[c] + 0.5;
    }
  }
  return { width, height, channels, data: out };
}

/** The first of each four: ids that are never mixed. */
function picked(raster: Raster<Samples>, _mips: MapKind['mips'], allocate: Allocate): Raster<Samples> {
  const { channels, data } = raster;
  const width = Math.max(1, raster.width >> 1);
  const height = Math.max(1, raster.height >> 1);
  const out = samplesLike(data, width * height * channels, allocate);
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const from = channels * (2 * y * raster.width + 2 * x);
      for (let c = 0; c < channels; c++) out[o++] = data[from + c];
    }
  }
  return { width, height, channels, data: out };
}

/** Samples are directions, 0 … full for −1 … 1 (glTF 2.0 §5.19.5). Opposite ones that cancel out give straight up. */
function renormalise(sums: Float64Array, full: number): void {
  const unit = 2 / full;
  const [x, y, z] = [sums[0] * unit - 1, sums[1] * unit - 1, sums[2] * unit - 1];
  const length = Math.sqrt(x * x + y * y + z * z);
  const [nx, ny, nz] = length > 1e-6 ? [x / length, y / length, z / length] : [0, 0, 1];
  sums[0] = (nx + 1) / unit;
  sums[1] = (ny + 1) / unit;
  sums[2] = (nz + 1) / unit;
}

function samplesLike(data: Samples, length: number, allocate: Allocate): Samples {
  return data instanceof Uint8Array ? allocate(length) : allocate16(length, allocate);
}
