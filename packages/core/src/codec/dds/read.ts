import { SieveError } from '../../errors.ts';
import { assertPictureSize } from '../../limits.ts';
import { allocateHeap, type Allocate, type Raster } from '../../raster/raster.ts';
import { ByteReader } from '../byte-reader.ts';
import { decodeBlocks } from '../bc/decode.ts';
import { blockBytes, type BlockFormat } from '../bc/formats.ts';
import type { DeclaredSize, DecodedPicture } from '../picture.ts';
import { divideByAlpha, firstChannels } from '../straight.ts';
import { decodeBc7 } from './bc7.ts';
import { decodeBc1, decodeBc2, decodeBc3, decodeBc4, decodeBc5 } from './blocks.ts';

interface BlockKind {
  /** As a format of `decodeBlocks`, where that is one. */
  format?: BlockFormat;
  note: string;
  bytes: number;
  channels: 1 | 3 | 4;
  decode(block: Uint8Array, at: number, out: Uint8Array): void;
}

const BC1: BlockKind = { format: 'BC1', note: 'BC1, 1-bit alpha', bytes: 8, channels: 4, decode: decodeBc1 };
const BC2: BlockKind = { note: 'BC2, 4-bit alpha', bytes: 16, channels: 4, decode: decodeBc2 };
const BC3: BlockKind = { format: 'BC3', note: 'BC3, 8-bit alpha', bytes: 16, channels: 4, decode: decodeBc3 };
const BC4: BlockKind = { format: 'BC4', note: 'BC4, one channel', bytes: 8, channels: 1, decode: decodeBc4 };
const BC5: BlockKind = { format: 'BC5', note: 'BC5, two channels', bytes: 16, channels: 3, decode: decodeBc5 };
const BC7: BlockKind = { format: 'BC7', note: 'BC7, 8-bit alpha', bytes: 16, channels: 4, decode: decodeBc7 };

const BY_FOURCC: Record<string, BlockKind> = {
  DXT1: BC1,
  DXT2: BC2,
  DXT3: BC2,
  DXT4: BC3,
  DXT5: BC3,
  ATI1: BC4,
  BC4U: BC4,
  ATI2: BC5,
  BC5U: BC5,
};
const BY_DXGI: Record<number, BlockKind> = {
  71: BC1,
  72: BC1,
  74: BC2,
  75: BC2,
  77: BC3,
  78: BC3,
  80: BC4,
  83: BC5,
  98: BC7,
  99: BC7,
};
/** Masks of red, green, blue and alpha, and bits of a texel, of the uncompressed formats of the DX10 header. */
const MASKS_BY_DXGI: Record<number, Plain> = {
  28: { bits: 32, masks: [0xff, 0xff00, 0xff0000, 0xff000000] },
  29: { bits: 32, masks: [0xff, 0xff00, 0xff0000, 0xff000000] },
  61: { bits: 8, masks: [0xff, 0, 0, 0] },
  87: { bits: 32, masks: [0xff0000, 0xff00, 0xff, 0xff000000] },
  88: { bits: 32, masks: [0xff0000, 0xff00, 0xff, 0] },
  91: { bits: 32, masks: [0xff0000, 0xff00, 0xff, 0xff000000] },
};

interface Plain {
  bits: number;
  masks: [number, number, number, number];
}

const HAS_FOURCC = 0x4;
const HAS_ALPHA = 0x1;
const PREMULTIPLIED = 2;

export function isDds(bytes: Uint8Array): boolean {
  return bytes.length >= 128 && bytes[0] === 0x44 && bytes[1] === 0x44 && bytes[2] === 0x53 && bytes[3] === 0x20;
}

/** What the file says of its size. */
export function ddsSize(bytes: Uint8Array): DeclaredSize {
  const reader = new ByteReader(bytes, true, 'DDS');
  return { width: reader.u32(16), height: reader.u32(12), bytesPerTexel: 4 };
}

/**
 * Reads the largest level of a DDS: BC1 with its 1-bit alpha, BC2, BC3, BC4, BC5, BC7, and uncompressed colours of 8 to 32
 * bits given by masks. A premultiplied one (DXT2, DXT4, or declared so) is divided by its alpha, and says so.
 *
 * @throws {@link SieveError} `truncated`, `too-large`, `unsupported` (BC6H, floats, volumes).
 */
export function readDds(bytes: Uint8Array, allocate: Allocate = allocateHeap): DecodedPicture {
  const reader = new ByteReader(bytes, true, 'DDS');
  const { width, height, start, blocks, plain, name, premultiplied } = headOf(reader, bytes);
  const read = blocks
    ? readBlocks(reader, start, width, height, blocks, allocate)
    : plain && readPlain(reader, start, width, height, plain, allocate);
  if (!read) throw notRead(name);
  const notes = [...read.notes];
  if (premultiplied && read.raster.channels === 4) {
    divideByAlpha(read.raster.data, 4);
    notes.push('Its alpha is premultiplied; the colour was divided by it.');
  }
  return { format: 'dds', raster: read.raster, bitDepth: 8, palette: false, notes };
}

/**
 * Every level of a DDS, the largest first, as a graphics card reads them: RGBA, or one channel of BC4.
 *
 * @throws {@link SieveError} as `readDds`, `truncated` where a level is missing.
 */
export function readDdsLevels(bytes: Uint8Array): { format: string; levels: Raster[] } {
  const reader = new ByteReader(bytes, true, 'DDS');
  const { width, height, start, blocks, plain, name, count } = headOf(reader, bytes);
  const format = blocks?.format;
  const isPlain = plain?.bits === 32 || plain?.bits === 8;
  if (blocks ? !format : !isPlain) throw notRead(name);
  const levels: Raster[] = [];
  for (let w = width, h = height, at = start, n = 0; n < count; n++) {
    if (format) {
      const data = reader.slice(at, blockBytes(format, w, h));
      levels.push(decodeBlocks({ format, width: w, height: h, data }));
      at += data.length;
    } else if (plain) {
      levels.push(readPlain(reader, at, w, h, plain, allocateHeap)!.raster);
      at += (plain.bits / 8) * w * h;
    }
    [w, h] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
  }
  return { format: format ?? (plain?.bits === 8 ? 'r8' : 'rgba8'), levels };
}

function headOf(reader: ByteReader, bytes: Uint8Array) {
  const [height, width] = [reader.u32(12), reader.u32(16)];
  assertPictureSize(width, height);
  const most = Math.floor(Math.log2(Math.max(width, height))) + 1;
  const flags = reader.u32(80);
  const name = flags & HAS_FOURCC ? String.fromCharCode(...bytes.subarray(84, 88)) : '';
  const extended = name === 'DX10';
  const dxgi = extended ? reader.u32(128) : 0;
  const premultiplied = name === 'DXT2' || name === 'DXT4' || (extended && (reader.u32(144) & 7) === PREMULTIPLIED);
  const start = extended ? 148 : 128;
  const blocks = extended ? BY_DXGI[dxgi] : BY_FOURCC[name];
  const plain: Plain | undefined = extended
    ? MASKS_BY_DXGI[dxgi]
    : name
      ? undefined
      : {
          bits: reader.u32(88),
          masks: [92, 96, 100, 104].map((at, i) => (i < 3 || flags & HAS_ALPHA ? reader.u32(at) : 0)) as Plain['masks'],
        };
  const count = Math.min(most, Math.max(1, reader.u32(28)));
  const called = extended ? `DXGI ${dxgi}` : name || 'unknown';
  return { width, height, start, blocks, plain, name: called, premultiplied, count };
}

function notRead(name: string): SieveError {
  return new SieveError(
    'unsupported',
    `The DDS is in a format that is not read (${name}).`,
    'Save it as BC1, BC3, BC7 or uncompressed, or as PNG.',
  );
}

interface Read {
  raster: Raster;
  notes: string[];
}

function readBlocks(
  reader: ByteReader,
  start: number,
  width: number,
  height: number,
  kind: BlockKind,
  allocate: Allocate,
): Read {
  const [across, down] = [(width + 3) >> 2, (height + 3) >> 2];
  const data = reader.slice(start, across * down * kind.bytes);
  const rgba = allocate(4 * width * height);
  const texels = new Uint8Array(64);
  for (let by = 0, at = 0; by < down; by++) {
    for (let bx = 0; bx < across; bx++, at += kind.bytes) {
      kind.decode(data, at, texels);
      const columns = Math.min(4, width - 4 * bx);
      for (let y = 0; y < Math.min(4, height - 4 * by); y++) {
        rgba.set(texels.subarray(16 * y, 16 * y + 4 * columns), 4 * ((4 * by + y) * width + 4 * bx));
      }
    }
  }
  const used = kind.channels === 4 && usesAlpha(rgba);
  const opaque = !used && (kind === BC1 || kind === BC7); // in these alpha costs nothing, so none may be meant
  const channels = opaque ? 3 : kind.channels;
  const notes = [`${kind.note}${opaque ? ', which no texel uses' : ''}.`];
  return { raster: { width, height, channels, data: firstChannels(rgba, channels, allocate) }, notes };
}

function usesAlpha(rgba: Uint8Array): boolean {
  for (let i = 3; i < rgba.length; i += 4) if (rgba[i] !== 255) return true;
  return false;
}

/** Each channel by its mask, scaled to 8 bits. */
function readPlain(
  reader: ByteReader,
  start: number,
  width: number,
  height: number,
  { bits, masks }: Plain,
  allocate: Allocate,
): Read | undefined {
  if (![8, 16, 24, 32].includes(bits)) return undefined;
  const step = bits / 8;
  const data = reader.slice(start, width * height * step);
  const parts = masks.map((mask) => {
    const shift = mask === 0 ? 0 : 31 - Math.clz32(mask & -mask);
    return { mask: mask >>> 0, shift, most: mask === 0 ? 1 : mask >>> shift };
  });
  const channels = masks[3] !== 0 ? 4 : masks[1] === 0 && masks[2] === 0 ? 1 : 3;
  const out = allocate(width * height * channels);
  for (let i = 0, o = 0; i < data.length; i += step) {
    let word = 0;
    for (let b = step - 1; b >= 0; b--) word = (word << 8) | data[i + b];
    for (let c = 0; c < channels; c++) {
      const { mask, shift, most } = parts[c];
      out[o++] = Math.floor((((word & mask) >>> shift) * 255) / most + 0.5);
    }
  }
  return { raster: { width, height, channels, data: out }, notes: [`Uncompressed, ${bits} bits.`] };
}
