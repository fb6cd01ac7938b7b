import { SieveError } from '../errors.ts';
import { assertPictureSize } from '../limits.ts';
import { allocateHeap, type Allocate } from '../raster/raster.ts';
import { SAVE_AGAIN } from './byte-reader.ts';
import type { DeclaredSize, DecodedPicture } from './picture.ts';
import { divideByAlpha, firstChannels } from './straight.ts';

/** Fields of the 18-byte header, TGA 2.0 specification, fields 1–5. */
interface Header {
  idLength: number;
  mapType: number;
  type: number;
  mapFirst: number;
  mapLength: number;
  mapBits: number;
  width: number;
  height: number;
  bits: number;
  alphaBits: number;
  rightToLeft: boolean;
  topDown: boolean;
}

/** TGA has no signature: a header whose fields agree with each other is taken for one. */
export function isTga(bytes: Uint8Array): boolean {
  if (bytes.length < 18) return false;
  const h = readHeader(bytes);
  const mapped = h.type === 1 || h.type === 9;
  const sane = h.mapType <= 1 && (bytes[17] & 0xc0) === 0 && h.width > 0 && h.height > 0;
  if (mapped) return sane && h.mapType === 1 && h.bits === 8 && [15, 16, 24, 32].includes(h.mapBits);
  if (h.type === 2 || h.type === 10) return sane && [15, 16, 24, 32].includes(h.bits);
  return sane && (h.type === 3 || h.type === 11) && (h.bits === 8 || h.bits === 16);
}

/**
 * Reads TGA 2.0: true colour (15, 16, 24, 32 bits), grey (8; 16 as grey + alpha) and colour-mapped, raw or
 * run-length encoded, any corner as origin. Alpha is taken as straight, as the attribute bits of the descriptor say
 * (field 5.6); a 32-bit file that declares no attribute bits but holds some is read with them, and says so.
 *
 * @throws {@link SieveError} `truncated`, `corrupt`, `too-large`.
 */
export function readTga(bytes: Uint8Array, allocate: Allocate = allocateHeap): DecodedPicture {
  const header = readHeader(bytes);
  assertPictureSize(header.width, header.height);
  const mapped = header.type === 1 || header.type === 9;
  const start = 18 + header.idLength;
  const mapBytes = header.mapType === 1 ? header.mapLength * byteCount(header.mapBits) : 0;
  const step = byteCount(header.bits);
  const packed = bytes.subarray(Math.min(bytes.length, start + mapBytes));
  const texels = header.width * header.height;
  const values = header.type >= 9 ? expandRuns(packed, texels, step) : packed.subarray(0, texels * step);
  if (values.length < texels * step) throw truncated();

  const bits = mapped ? header.mapBits : header.bits;
  const source = mapped ? throughMap(header, bytes.subarray(start, start + mapBytes), values) : values;
  const { samples, channels, notes } = byAttributes(
    attributesType(bytes),
    convert(header, bits, source, allocate),
    allocate,
  );
  const data = orient(header, channels, samples, allocate);
  return {
    format: 'tga',
    raster: { width: header.width, height: header.height, channels, data },
    bitDepth: (bits === 15 || bits === 16) && header.type !== 3 && header.type !== 11 ? 5 : 8,
    palette: mapped,
    notes,
  };
}

/** What the file says of its size. */
export function tgaSize(bytes: Uint8Array): DeclaredSize {
  const { width, height } = readHeader(bytes);
  return { width, height, bytesPerTexel: 4 };
}

function readHeader(bytes: Uint8Array): Header {
  if (bytes.length < 18) throw truncated();
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const descriptor = v.getUint8(17);
  return {
    idLength: v.getUint8(0),
    mapType: v.getUint8(1),
    type: v.getUint8(2),
    mapFirst: v.getUint16(3, true),
    mapLength: v.getUint16(5, true),
    mapBits: v.getUint8(7),
    width: v.getUint16(12, true),
    height: v.getUint16(14, true),
    bits: v.getUint8(16),
    alphaBits: descriptor & 15,
    rightToLeft: (descriptor & 0x10) !== 0,
    topDown: (descriptor & 0x20) !== 0,
  };
}

function truncated(): SieveError {
  return new SieveError('truncated', 'The TGA ends before its picture does.', SAVE_AGAIN);
}

function byteCount(bits: number): number {
  return (bits + 7) >> 3;
}

/** Run-length packets, field 8: high bit set repeats one value, else raw values follow; 1 to 128 texels. */
function expandRuns(packed: Uint8Array, texels: number, step: number): Uint8Array {
  const out = new Uint8Array(texels * step);
  let at = 0;
  let o = 0;
  while (o < out.length) {
    if (at >= packed.length) throw truncated();
    const packet = packed[at++];
    const length = Math.min(((packet & 127) + 1) * step, out.length - o);
    const needed = packet & 128 ? step : length;
    if (at + needed > packed.length) throw truncated();
    if (packet & 128) {
      for (let i = 0; i < length; i++) out[o + i] = packed[at + (i % step)];
    } else out.set(packed.subarray(at, at + length), o);
    at += needed;
    o += length;
  }
  return out;
}

function throughMap(header: Header, map: Uint8Array, indices: Uint8Array): Uint8Array {
  const step = byteCount(header.mapBits);
  if (map.length < header.mapLength * step) throw truncated();
  const out = new Uint8Array(indices.length * step);
  for (let i = 0; i < indices.length; i++) {
    const entry = indices[i] - header.mapFirst;
    if (entry < 0 || entry >= header.mapLength) {
      throw new SieveError(
        'corrupt',
        `Texel ${i} names colour ${indices[i]}, which the map does not hold.`,
        SAVE_AGAIN,
      );
    }
    for (let c = 0; c < step; c++) out[i * step + c] = map[entry * step + c];
  }
  return out;
}

interface Converted {
  samples: Uint8Array;
  channels: 1 | 2 | 3 | 4;
  notes: string[];
}

function convert(header: Header, bits: number, source: Uint8Array, allocate: Allocate): Converted {
  const grey = header.type === 3 || header.type === 11;
  if (grey) return { samples: source, channels: bits === 16 ? 2 : 1, notes: [] };
  if (bits === 24) return { samples: swapRedBlue(source, 3, allocate), channels: 3, notes: ['24-bit: no alpha.'] };
  if (bits === 32) return trueColour32(header, source, allocate);
  return fiveBits(header.alphaBits > 0 && bits === 16, source, allocate);
}

/**
 * Attributes type of the extension area (TGA 2.0, field 24), found through the footer (fields 28–30): 0 no alpha,
 * 1 undefined and to be ignored, 2 undefined but to be kept, 3 alpha, 4 premultiplied alpha; null without the area.
 */
function attributesType(bytes: Uint8Array): number | null {
  const footer = bytes.length - 26;
  if (footer < 18 || String.fromCharCode(...bytes.subarray(footer + 8, footer + 24)) !== 'TRUEVISION-XFILE')
    return null;
  const area = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(footer, true);
  return area > 0 && area + 495 <= bytes.length ? bytes[area + 494] : null;
}

function byAttributes(type: number | null, read: Converted, allocate: Allocate): Converted {
  if (read.channels !== 4) return read;
  if (type === 0 || type === 1) {
    return {
      samples: firstChannels(read.samples, 3, allocate),
      channels: 3,
      notes: ['Its alpha is declared to hold nothing; it is left out.'],
    };
  }
  if (type === 4) {
    divideByAlpha(read.samples, 4);
    return { ...read, notes: ['Its alpha is premultiplied; the colour was divided by it.'] };
  }
  return read;
}

function swapRedBlue(source: Uint8Array, step: number, allocate: Allocate): Uint8Array {
  const out = allocate(source.length);
  out.set(source);
  for (let i = 0; i < out.length; i += step) {
    out[i] = source[i + 2];
    out[i + 2] = source[i];
  }
  return out;
}

function trueColour32(header: Header, source: Uint8Array, allocate: Allocate): Converted {
  const rgba = swapRedBlue(source, 4, allocate);
  let any = 0;
  for (let i = 3; i < rgba.length; i += 4) any |= rgba[i];
  if (header.alphaBits > 0) return { samples: rgba, channels: 4, notes: [] };
  if (any !== 0) {
    return {
      samples: rgba,
      channels: 4,
      notes: ['The header declares no alpha bits, yet alpha is there; it is used.'],
    };
  }
  return {
    samples: firstChannels(rgba, 3, allocate),
    channels: 3,
    notes: ['32-bit, but its alpha was never written (no alpha bits, all zero).'],
  };
}

/** 16-bit words A RRRRR GGGGG BBBBB, low byte first; 5 bits are scaled to 8 by v · 255 / 31. */
function fiveBits(alpha: boolean, source: Uint8Array, allocate: Allocate): Converted {
  let written = 0;
  for (let i = 1; i < source.length; i += 2) written |= source[i] & 0x80;
  const notes = alpha && !written ? ['16-bit, but its alpha was never written (all zero).'] : [];
  const channels = alpha && written ? 4 : 3;
  const out = allocate((source.length / 2) * channels);
  for (let i = 0, o = 0; i < source.length; i += 2, o += channels) {
    const word = source[i] | (source[i + 1] << 8);
    out[o] = (((word >> 10) & 31) * 255) / 31 + 0.5;
    out[o + 1] = (((word >> 5) & 31) * 255) / 31 + 0.5;
    out[o + 2] = ((word & 31) * 255) / 31 + 0.5;
    if (channels === 4) out[o + 3] = word & 0x8000 ? 255 : 0;
  }
  return { samples: out, channels, notes };
}

/** Turns any origin corner to the top left. */
function orient(header: Header, channels: number, samples: Uint8Array, allocate: Allocate): Uint8Array {
  const { width, height, topDown, rightToLeft } = header;
  const stride = width * channels;
  const out = allocate(stride * height);
  for (let y = 0; y < height; y++) {
    const row = samples.subarray(y * stride, (y + 1) * stride);
    const base = (topDown ? y : height - 1 - y) * stride;
    if (!rightToLeft) out.set(row, base);
    else {
      for (let x = 0; x < width; x++) {
        for (let c = 0; c < channels; c++) out[base + (width - 1 - x) * channels + c] = row[x * channels + c];
      }
    }
  }
  return out;
}
