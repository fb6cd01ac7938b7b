import { magnified } from '../sieve/distance-field.ts';
import { filteredMaskMips } from '../sieve/filtered-mips.ts';
import { maskMips } from '../sieve/mips.ts';
import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { makeMask, toEightBits, type Mask, type Raster, type Samples } from '../raster/raster.ts';
import type { Received } from './receiver.ts';

/** Levels of the field magnified to those of the whole: a sampler reads the one that is nearest in size. */
export function fieldLevels(field: Mask, whole: Mask): Mask[] {
  const own = [field, ...maskMips(field)];
  const out = [whole];
  for (let [w, h] = [whole.width, whole.height]; w > 1 || h > 1;) {
    [w, h] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
    const level = own.find(({ width, height }) => width <= w && height <= h) ?? own[own.length - 1];
    out.push(magnified(level, w, h));
  }
  return out;
}

/** Levels 1 and on. */
export function levelsBy(mask: Mask, makes: Received['makes']): Mask[] {
  return makes.filter === 'box' ? maskMips(mask) : filteredMaskMips(mask, makes);
}

export const hasAlpha = ({ channels }: Raster<Samples>) => channels === 4 || channels === 2;

export function alphaOf(raster: Raster<Samples>): Mask {
  return hasAlpha(raster) ? channelOf(raster, raster.channels - 1) : whole(raster);
}

export function whole({ width, height }: Raster<Samples>): Mask {
  return makeMask(width, height, new Uint8Array(width * height).fill(255));
}

export function channelOf({ width, height, channels, data }: Raster<Samples>, channel: number): Mask {
  if (channels === 1 && data instanceof Uint8Array) return makeMask(width, height, data);
  const out = data instanceof Uint8Array ? new Uint8Array(width * height) : new Uint16Array(width * height);
  for (let i = 0, j = channel; i < out.length; i++, j += channels) out[i] = data[j];
  return makeMask(width, height, toEightBits(out));
}

export const madeLinear = ({ width, height, data }: Mask) =>
  makeMask(
    width,
    height,
    data.map((v) => LINEAR_OF_BYTE[v] * 255 + 0.5),
  );
export const turnedOver = ({ width, height, data }: Mask) =>
  makeMask(
    width,
    height,
    data.map((v) => 255 - v),
  );
export const oneBit = ({ width, height, data }: Mask) =>
  makeMask(
    width,
    height,
    data.map((v) => (v >= 128 ? 255 : 0)),
  );
