import { byteOfLinear16Table, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { allocateHeap, makeMask, makePicture, type Allocate, type Mask, type Picture } from '../raster/raster.ts';
import { filterTaps, type FilterTaps, type MipFilter, type Wrap } from './mip-filters.ts';

export interface FilterOptions {
  filter: MipFilter;
  /** How the left and right side go on, and top and bottom. */
  wrapAcross?: Wrap;
  wrapDown?: Wrap;
  allocate?: Allocate;
}

/** Levels 1 and on of a mask by any filter, each from the one before; alphas as values. */
export function filteredMaskMips(mask: Mask, options: FilterOptions): Mask[] {
  const levels: Mask[] = [];
  for (let m = mask; m.width > 1 || m.height > 1; levels.push(m)) m = filteredMask(m, options);
  return levels;
}

export function filteredMask(mask: Mask, options: FilterOptions): Mask {
  const { width, height } = mask;
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = (options.allocate ?? allocateHeap)(w * h);
  const { across, down } = tapsOf(options, mask, w, h);
  const row = new Float64Array(width);
  for (let y = 0; y < h; y++) {
    row.fill(0);
    for (let k = y * down.count, end = k + down.count; k < end; k++) {
      const weight = down.weight[k];
      if (weight !== 0) addBytes(mask.data, down.index[k] * width, width, weight, row);
    }
    for (let x = 0; x < w; x++) out[y * w + x] = byteOf(weighed(row, across, x, 1, 0));
  }
  return makeMask(w, h, out);
}

/**
 * Levels 1 and on of a picture: colour in linear light and weighted by alpha, so that dropped texels tint nothing; where
 * no texel has any alpha, colour is averaged as it is. Each level is made from the one before.
 */
export function filteredColourMips(picture: Picture, options: FilterOptions): Picture[] {
  const levels: Picture[] = [];
  for (let p = picture; p.width > 1 || p.height > 1; levels.push(p)) p = filteredPicture(p, options);
  return levels;
}

/** Red, green and blue weighted by alpha, alpha, and the three without weight. */
const LANES = 7;

export function filteredPicture(picture: Picture, options: FilterOptions): Picture {
  const { width, height, data } = picture;
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const out = (options.allocate ?? allocateHeap)(w * h * 4);
  const encode = byteOfLinear16Table();
  const { across, down } = tapsOf(options, picture, w, h);
  const row = new Float64Array(LANES * width);
  for (let y = 0; y < h; y++) {
    row.fill(0);
    for (let k = y * down.count, end = k + down.count; k < end; k++) {
      const weight = down.weight[k];
      if (weight !== 0) addColours(data, down.index[k] * width * 4, width, weight, row);
    }
    for (let x = 0, o = y * w * 4; x < w; x++, o += 4) {
      const alpha = weighed(row, across, x, LANES, 3);
      const visible = alpha > 0.5 / 255;
      for (let c = 0; c < 3; c++) {
        const light = visible ? weighed(row, across, x, LANES, c) / alpha : weighed(row, across, x, LANES, 4 + c);
        out[o + c] = encode[Math.floor(Math.max(0, Math.min(1, light)) * 65535 + 0.5)];
      }
      out[o + 3] = byteOf(alpha * 255);
    }
  }
  return makePicture(w, h, out);
}

function tapsOf(
  { filter, wrapAcross = 'clamp', wrapDown = 'clamp' }: FilterOptions,
  { width, height }: { width: number; height: number },
  w: number,
  h: number,
): { across: FilterTaps; down: FilterTaps } {
  return { across: filterTaps(filter, width, w, wrapAcross), down: filterTaps(filter, height, h, wrapDown) };
}

function addBytes(data: Uint8Array, from: number, count: number, weight: number, row: Float64Array): void {
  for (let x = 0; x < count; x++) row[x] += weight * data[from + x];
}

function addColours(data: Uint8Array, from: number, count: number, weight: number, row: Float64Array): void {
  for (let x = 0, i = from, o = 0; x < count; x++, i += 4, o += LANES) {
    const alpha = (weight * data[i + 3]) / 255;
    for (let c = 0; c < 3; c++) {
      const light = LINEAR_OF_BYTE[data[i + c]];
      row[o + c] += alpha * light;
      row[o + 4 + c] += weight * light;
    }
    row[o + 3] += alpha;
  }
}

function weighed(
  row: Float64Array,
  { count, index, weight }: FilterTaps,
  x: number,
  lanes: number,
  lane: number,
): number {
  let sum = 0;
  for (let k = x * count, end = k + count; k < end; k++) sum += weight[k] * row[index[k] * lanes + lane];
  return sum;
}

/** Filters with negative lobes go past the ends. */
function byteOf(value: number): number {
  return Math.max(0, Math.min(255, Math.floor(value + 0.5)));
}
