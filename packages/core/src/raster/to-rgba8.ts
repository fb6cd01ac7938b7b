import {
  allocateHeap,
  makePicture,
  toEightBits,
  type Allocate,
  type Picture,
  type Raster,
  type Samples,
} from './raster.ts';

/**
 * Any raster as 8-bit RGBA: grey is spread, a missing alpha is 255, 16 bits are rounded to the nearest of 8
 * (v · 255 / 65535). Returns the input itself where it is 8-bit RGBA already.
 */
export function toRgba8(raster: Raster<Samples>, allocate: Allocate = allocateHeap): Picture {
  const { width, height, channels, data } = raster;
  if (channels === 4 && data instanceof Uint8Array) return makePicture(width, height, data);
  const narrow = toEightBits(data);
  const out = allocate(width * height * 4);
  if (channels === 4) out.set(narrow);
  else if (channels === 3) spreadRgb(narrow, out);
  else spreadGrey(narrow, out, channels);
  return makePicture(width, height, out);
}

function spreadRgb(data: Uint8Array, out: Uint8Array): void {
  for (let i = 0, o = 0; o < out.length; i += 3, o += 4) {
    out[o] = data[i];
    out[o + 1] = data[i + 1];
    out[o + 2] = data[i + 2];
    out[o + 3] = 255;
  }
}

function spreadGrey(data: Uint8Array, out: Uint8Array, channels: number): void {
  for (let i = 0, o = 0; o < out.length; i += channels, o += 4) {
    const grey = data[i];
    out[o] = grey;
    out[o + 1] = grey;
    out[o + 2] = grey;
    out[o + 3] = channels === 2 ? data[i + 1] : 255;
  }
}
