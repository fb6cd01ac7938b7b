import { byteOfLinear16Table, LINEAR16_OF_BYTE } from '../colour/srgb.ts';
import {
  allocateHeap,
  asWords,
  makeMask,
  makePicture,
  type Allocate,
  type Mask,
  type Picture,
} from '../raster/raster.ts';
import type { Box } from '../raster/box.ts';
import { taps } from './taps.ts';

/**
 * Mip chains as a renderer makes them on its own: each level is the plain average of the texels it covers, sizes
 * halved and rounded down to 1 (OpenGL ES 3.0 §3.8.10). Alpha is averaged as it is, colour in linear light, and the
 * two do not weigh each other: what a receiver's filter does to colour under dropped texels shows here, which is
 * what the step *bleed* is for.
 *
 * @returns Levels 1 and on; level 0 is the input.
 */
export function maskMips(mask: Mask, allocate: Allocate = allocateHeap): Mask[] {
  const levels: Mask[] = [];
  for (let m = mask; m.width > 1 || m.height > 1;) {
    m = halveMask(m, allocate);
    levels.push(m);
  }
  return levels;
}

export function colourMips(picture: Picture, allocate: Allocate = allocateHeap): Picture[] {
  const levels: Picture[] = [];
  for (let p = picture; p.width > 1 || p.height > 1;) {
    p = halvePicture(p, allocate);
    levels.push(p);
  }
  return levels;
}

export function halveMask(mask: Mask, allocate: Allocate = allocateHeap): Mask {
  const width = Math.max(1, mask.width >> 1);
  const height = Math.max(1, mask.height >> 1);
  const out = allocate(width * height);
  if (mask.width === 2 * width && mask.height === 2 * height) halveEvenMask(mask.data, width, height, out);
  else averageOdd(mask, width, height, out, sameByte, roundedByte);
  return makeMask(width, height, out);
}

function halveEvenMask(data: Uint8Array, width: number, height: number, out: Uint8Array): void {
  if (width % 2 === 0) {
    halveMaskWords(asWords(data), width >> 1, height, new Uint16Array(out.buffer, out.byteOffset, out.length >> 1));
    return;
  }
  for (let y = 0, o = 0; y < height; y++) {
    let top = y * 4 * width;
    let bottom = top + 2 * width;
    for (const end = o + width; o < end; o++, top += 2, bottom += 2) {
      out[o] = (data[top] + data[top + 1] + data[bottom] + data[bottom + 1] + 2) >> 2;
    }
  }
}

/**
 * Halves a part of a mask into the level below it, which is there already.
 *
 * @returns the part of that level that may have changed.
 */
export function halveInto(mask: Mask, out: Mask, { x0, y0, x1, y1 }: Box): Box {
  const part = {
    x0: Math.max(0, (x0 - 2) >> 1),
    y0: Math.max(0, (y0 - 2) >> 1),
    x1: Math.min(out.width, (x1 >> 1) + 1),
    y1: Math.min(out.height, (y1 >> 1) + 1),
  };
  if (mask.width !== 2 * out.width || mask.height !== 2 * out.height) {
    averageOdd(mask, out.width, out.height, out.data, sameByte, roundedByte, part);
    return part;
  }
  for (let y = part.y0; y < part.y1; y++) {
    let top = 2 * y * mask.width + 2 * part.x0;
    for (let o = y * out.width + part.x0, end = y * out.width + part.x1; o < end; o++, top += 2) {
      const bottom = top + mask.width;
      out.data[o] = (mask.data[top] + mask.data[top + 1] + mask.data[bottom] + mask.data[bottom + 1] + 2) >> 2;
    }
  }
  return part;
}

const sameByte = (byte: number) => byte;
const roundedByte = (value: number) => Math.floor(value + 0.5);

/** Two texels a turn: the four bytes of two words are summed in pairs of 16-bit lanes. @param pairs - Of a row out. */
function halveMaskWords(words: Uint32Array, pairs: number, height: number, out: Uint16Array): void {
  for (let y = 0, o = 0; y < height; y++) {
    let top = 2 * y * pairs;
    let bottom = top + pairs;
    for (const end = o + pairs; o < end; o++, top++, bottom++) {
      const p = words[top];
      const q = words[bottom];
      const sums = (p & 0xff00ff) + ((p >>> 8) & 0xff00ff) + (q & 0xff00ff) + ((q >>> 8) & 0xff00ff) + 0x20002;
      out[o] = ((sums >>> 2) & 255) | ((sums >>> 10) & 0xff00);
    }
  }
}

export function halvePicture(picture: Picture, allocate: Allocate = allocateHeap): Picture {
  const width = Math.max(1, picture.width >> 1);
  const height = Math.max(1, picture.height >> 1);
  const out = allocate(width * height * 4);
  if (picture.width === 2 * width && picture.height === 2 * height) {
    halveEvenPicture(asWords(picture.data), width, height, asWords(out));
  } else {
    const encode = byteOfLinear16Table();
    averageOdd(
      picture,
      width,
      height,
      out,
      (byte, channel) => (channel < 3 ? LINEAR16_OF_BYTE[byte] : byte),
      (value, channel) => (channel < 3 ? encode[Math.floor(value + 0.5)] : Math.floor(value + 0.5)),
    );
  }
  return makePicture(width, height, out);
}

function halveEvenPicture(words: Uint32Array, width: number, height: number, out: Uint32Array): void {
  const linear = LINEAR16_OF_BYTE;
  const encode = byteOfLinear16Table();
  for (let y = 0, o = 0; y < height; y++) {
    let top = y * 4 * width;
    let bottom = top + 2 * width;
    for (const end = o + width; o < end; o++, top += 2, bottom += 2) {
      const p = words[top];
      const q = words[top + 1];
      const r = words[bottom];
      const s = words[bottom + 1];
      if (p === q && p === r && p === s) {
        out[o] = p;
        continue;
      }
      const red = linear[p & 255] + linear[q & 255] + linear[r & 255] + linear[s & 255];
      const green =
        linear[(p >>> 8) & 255] + linear[(q >>> 8) & 255] + linear[(r >>> 8) & 255] + linear[(s >>> 8) & 255];
      const blue =
        linear[(p >>> 16) & 255] + linear[(q >>> 16) & 255] + linear[(r >>> 16) & 255] + linear[(s >>> 16) & 255];
      const alpha = ((p >>> 24) + (q >>> 24) + (r >>> 24) + (s >>> 24) + 2) >> 2;
      out[o] =
        encode[(red + 2) >> 2] | (encode[(green + 2) >> 2] << 8) | (encode[(blue + 2) >> 2] << 16) | (alpha << 24);
    }
  }
}

/**
 * Any size: an odd side n spreads over (n − 1) / 2 texels of three taps each, weighted so that every input counts the
 * same (S. Guthe, P. Heckbert, "Non-Power-of-Two Mipmapping", 2005 (mem)).
 */
function averageOdd(
  raster: Mask | Picture,
  width: number,
  height: number,
  out: Uint8Array,
  decode: (byte: number, channel: number) => number,
  encode: (value: number, channel: number) => number,
  part: Box = { x0: 0, y0: 0, x1: width, y1: height },
): void {
  const { channels, data } = raster;
  const across = taps(raster.width, width);
  const down = taps(raster.height, height);
  const tables = Array.from({ length: channels }, (_, c) =>
    Float64Array.from({ length: 256 }, (_v, b) => decode(b, c)),
  );
  for (let c = 0; c < channels; c++) {
    const table = tables[c];
    for (let y = part.y0; y < part.y1; y++) {
      for (let x = part.x0; x < part.x1; x++) {
        let sum = 0;
        for (let j = 0; j < 3; j++) {
          const wy = down.weight[3 * y + j];
          if (wy === 0) continue;
          const base = (down.step * y + j) * raster.width;
          for (let i = 0; i < 3; i++) {
            const wx = across.weight[3 * x + i];
            if (wx !== 0) sum += wx * wy * table[data[(base + across.step * x + i) * channels + c]];
          }
        }
        out[(y * width + x) * channels + c] = encode(sum, c);
      }
    }
  }
}
