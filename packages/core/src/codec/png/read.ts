import { isSieveError, SieveError } from '../../errors.ts';
import { assertPictureSize } from '../../limits.ts';
import { allocateHeap, type Allocate, type Raster, type Samples } from '../../raster/raster.ts';
import { exifOrientation, orientationNotes, upright } from '../orientation.ts';
import { RowWidener, type OpenSink, type RowSink } from '../../raster/rows.ts';
import type { DeclaredSize, DecodedPicture } from '../picture.ts';
import type { CodecPlatform } from '../platform.ts';
import { SAVE_AGAIN } from '../byte-reader.ts';
import { readChunks, SIGNATURE, truncated, type Chunk } from './chunks.ts';
import { LineReader } from './line-reader.ts';
import { unfilter } from './unfilter.ts';

interface Header {
  width: number;
  height: number;
  depth: number;
  colourType: 0 | 2 | 3 | 4 | 6;
  interlaced: boolean;
}

/** Samples of a pixel by colour type, PNG 3rd edition §11.2.1. */
const SAMPLES = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 } as const;
const DEPTHS: Record<number, number[]> = { 0: [1, 2, 4, 8, 16], 2: [8, 16], 3: [1, 2, 4, 8], 4: [8, 16], 6: [8, 16] };
/** Adam7: first column, first row, column step, row step of the seven passes, §8.1. */
const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

export function isPng(bytes: Uint8Array): boolean {
  return bytes.length >= 8 && SIGNATURE.every((b, i) => bytes[i] === b);
}

/**
 * Reads any PNG of the specification (PNG 3rd edition): all colour types and depths, interlaced or not. Alpha stays
 * straight, colour under alpha 0 is kept; a tRNS colour becomes alpha 0 with its colour kept; depths below 8 are
 * scaled to 8 bits. Gamma and colour-profile chunks do not change samples; the orientation of an eXIf chunk is obeyed.
 *
 * @throws {@link SieveError} `truncated`, `corrupt`, `too-large`.
 */
export async function readPng(
  bytes: Uint8Array,
  platform: Pick<CodecPlatform, 'inflate'>,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  const chunks = readChunks(bytes);
  const header = readHeader(chunks[0]);
  const passes = passesOf(header);
  const expected = passes.reduce((sum, p) => sum + p.height * (1 + p.stride), 0);
  const idat = dataOf(chunks, expected);
  const lines = await platform.inflate(idat, expected).catch((cause: unknown) => {
    throw new SieveError('corrupt', 'The compressed data of the PNG is damaged.', SAVE_AGAIN, { cause });
  });
  if (lines.length < expected) throw truncated();

  const raw = unpack(header, passes, lines, allocate);
  const find = (type: string) => chunks.find((c) => c.type === type)?.data;
  const raster = resolve(header, raw, find('PLTE'), find('tRNS'), allocate);
  const picture = upright(raster, orientationOf(chunks), allocate);
  return { ...saidOf(chunks, header), raster: picture };
}

/** What the file says of its size, without inflating it. */
export function pngSize(bytes: Uint8Array): DeclaredSize {
  const chunks = readChunks(bytes);
  const header = readHeader(chunks[0]);
  const { width, height, depth, colourType } = header;
  const channels = colourType === 3 ? 4 : SAMPLES[colourType] + 1;
  return { width, height, bytesPerTexel: channels * (depth === 16 ? 2 : 1), byRows: isByRows(chunks, header) };
}

/** The rows of an interlaced picture, or of one that lies on its side, come in another order. */
function isByRows(chunks: readonly Chunk[], header: Header): boolean {
  return !header.interlaced && orientationOf(chunks) === 1;
}

/**
 * As {@link readPng}, row by row into a sink, so that the picture never stands in memory whole.
 *
 * @param open - Given the size and the channels of the rows, once they are known.
 * @returns null where its rows do not come in order, or the host cannot inflate in parts: it is read whole instead.
 */
export async function readPngRows(
  bytes: Uint8Array,
  platform: CodecPlatform,
  open: OpenSink,
): Promise<Omit<DecodedPicture, 'raster'> | null> {
  const chunks = readChunks(bytes);
  const header = readHeader(chunks[0]);
  if (!platform.inflateParts || !isByRows(chunks, header)) return null;
  const [pass] = passesOf(header);
  const { width, height, depth, colourType } = header;
  const find = (type: string) => chunks.find((c) => c.type === type)?.data;
  const [palette, transparency] = [find('PLTE'), find('tRNS')];
  const one: Header = { ...header, height: 1 };
  const wide =
    depth === 16 ? new Uint16Array(width * SAMPLES[colourType]) : new Uint8Array(width * SAMPLES[colourType]);
  let sink: RowSink | null = null;
  let widener: RowWidener | null = null;
  const lines = new LineReader(pass.stride, Math.max(1, (SAMPLES[colourType] * depth) >> 3), height, (y, packed) => {
    scatter(packed, { ...pass, height: 1 }, SAMPLES[colourType], depth, width, wide);
    const { channels, data } = resolve(one, wide, palette, transparency, allocateHeap);
    sink ??= open({ width, height, channels });
    widener ??= new RowWidener(width, channels);
    sink.row(y, widener.widen(data), data);
  });
  const expected = height * (1 + pass.stride);
  await platform
    .inflateParts(dataOf(chunks, expected), (part) => lines.take(part))
    .catch((cause: unknown) => {
      if (isSieveError(cause)) throw cause;
      throw new SieveError('corrupt', 'The compressed data of the PNG is damaged.', SAVE_AGAIN, { cause });
    });
  if (!lines.complete) throw truncated();
  return saidOf(chunks, header);
}

/** Deflate makes at most 1032 bytes of one (zlib's technical details): what claims more is not all there. */
const MOST_INFLATED = 1032;

function dataOf(chunks: readonly Chunk[], expected: number): Uint8Array[] {
  const idat = chunks.filter((c) => c.type === 'IDAT').map((c) => c.data);
  if (idat.length === 0) throw new SieveError('corrupt', 'The PNG holds no picture data (IDAT).', SAVE_AGAIN);
  if (idat.reduce((sum, d) => sum + d.length, 0) * MOST_INFLATED < expected) throw truncated();
  return idat;
}

function orientationOf(chunks: readonly Chunk[]): number {
  const exif = chunks.find((c) => c.type === 'eXIf');
  return exif ? exifOrientation(exif.data) : 1;
}

function saidOf(chunks: readonly Chunk[], header: Header): Omit<DecodedPicture, 'raster'> {
  const profile = chunks.some((c) => c.type === 'iCCP');
  return {
    format: 'png',
    bitDepth: header.depth,
    palette: header.colourType === 3,
    notes: [
      ...(profile ? ['It carries a colour profile; colours are taken as sRGB.'] : []),
      ...orientationNotes(orientationOf(chunks)),
    ],
  };
}

function readHeader(first: Chunk | undefined): Header {
  if (first?.type !== 'IHDR' || first.data.length !== 13) {
    throw new SieveError('corrupt', 'The PNG does not begin with its header (IHDR).', SAVE_AGAIN);
  }
  const view = new DataView(first.data.buffer, first.data.byteOffset, 13);
  const [width, height] = [view.getUint32(0), view.getUint32(4)];
  assertPictureSize(width, height);
  const depth = view.getUint8(8);
  const colourType = view.getUint8(9);
  const interlace = view.getUint8(12);
  if (!DEPTHS[colourType]?.includes(depth) || view.getUint8(10) !== 0 || view.getUint8(11) !== 0 || interlace > 1) {
    throw new SieveError('corrupt', `The PNG header names colour type ${colourType} at ${depth} bits.`, SAVE_AGAIN);
  }
  return { width, height, depth, colourType: colourType as Header['colourType'], interlaced: interlace === 1 };
}

interface Pass {
  x0: number;
  y0: number;
  dx: number;
  dy: number;
  width: number;
  height: number;
  /** Bytes of a packed row. */
  stride: number;
}

function passesOf({ width, height, depth, colourType, interlaced }: Header): Pass[] {
  const bits = depth * SAMPLES[colourType];
  const grid = interlaced ? ADAM7 : ([[0, 0, 1, 1]] as const);
  return grid
    .map(([x0, y0, dx, dy]) => {
      const w = Math.ceil((width - x0) / dx);
      const h = Math.ceil((height - y0) / dy);
      return { x0, y0, dx, dy, width: w, height: h, stride: Math.ceil((w * bits) / 8) };
    })
    .filter((p) => p.width > 0 && p.height > 0);
}

/** Samples one after the other, sub-byte depths unscaled, 16-bit ones in the host's byte order. */
function unpack(header: Header, passes: Pass[], lines: Uint8Array, allocate: Allocate): Samples {
  const { width, height, depth, colourType, interlaced } = header;
  const samples = SAMPLES[colourType];
  const step = Math.max(1, (samples * depth) >> 3);
  const count = width * height * samples;
  const straight = depth === 8 && !interlaced;
  const out = depth === 16 ? new Uint16Array(count) : allocate(count);
  let at = 0;
  for (const pass of passes) {
    const packed = straight ? (out as Uint8Array) : new Uint8Array(pass.height * pass.stride);
    unfilter(lines, at, pass.height, pass.stride, step, packed);
    at += pass.height * (1 + pass.stride);
    if (!straight) scatter(packed, pass, samples, depth, width, out);
  }
  return out;
}

function scatter(packed: Uint8Array, pass: Pass, samples: number, depth: number, width: number, out: Samples): void {
  if (pass.dx === 1 && pass.height === 1 && depth >= 8) {
    unpackLine(packed, depth, out);
    return;
  }
  const mask = (1 << depth) - 1;
  for (let y = 0; y < pass.height; y++) {
    const row = y * pass.stride;
    const base = (pass.y0 + y * pass.dy) * width + pass.x0;
    for (let x = 0; x < pass.width; x++) {
      for (let c = 0, i = x * samples, o = (base + x * pass.dx) * samples; c < samples; c++, i++, o++) {
        if (depth === 8) out[o] = packed[row + i];
        else if (depth === 16) out[o] = (packed[row + 2 * i] << 8) | packed[row + 2 * i + 1];
        else out[o] = (packed[row + ((i * depth) >> 3)] >> (8 - depth - ((i * depth) & 7))) & mask;
      }
    }
  }
}

/** One whole line of 8 or 16 bits, which start on a word; two samples of 16 bits are swapped at once. */
function unpackLine(packed: Uint8Array, depth: number, out: Samples): void {
  if (depth === 8) {
    out.set(packed);
    return;
  }
  const whole = packed.length >> 2;
  const from = new Uint32Array(packed.buffer, packed.byteOffset, whole);
  const to = new Uint32Array(out.buffer, out.byteOffset, whole);
  for (let i = 0; i < whole; i++) {
    const pair = from[i];
    to[i] = ((pair & 0x00ff00ff) << 8) | ((pair >>> 8) & 0x00ff00ff);
  }
  if (out.length & 1) out[out.length - 1] = (packed[packed.length - 2] << 8) | packed[packed.length - 1];
}

function resolve(
  header: Header,
  raw: Samples,
  palette: Uint8Array | undefined,
  transparency: Uint8Array | undefined,
  allocate: Allocate,
): Raster<Samples> {
  const { width, height, depth, colourType } = header;
  if (colourType === 3) return fromPalette(header, raw as Uint8Array, palette, transparency, allocate);
  if (colourType === 4 || colourType === 6) return { width, height, channels: SAMPLES[colourType], data: raw };
  const keyed = transparency ? withColourKey(header, raw, transparency, allocate) : raw;
  const channels = (SAMPLES[colourType] + (transparency ? 1 : 0)) as 1 | 2 | 3 | 4;
  if (depth < 8) scaleToByte(keyed, depth);
  return { width, height, channels, data: keyed };
}

function fromPalette(
  { width, height }: Header,
  raw: Uint8Array,
  palette: Uint8Array | undefined,
  alpha: Uint8Array | undefined,
  allocate: Allocate,
): Raster {
  if (!palette || palette.length === 0 || palette.length % 3 !== 0) {
    throw new SieveError('corrupt', 'The palette of the PNG is missing or broken.', SAVE_AGAIN);
  }
  const entries = palette.length / 3;
  const channels = alpha ? 4 : 3;
  const out = allocate(width * height * channels);
  for (let i = 0, o = 0; i < raw.length; i++, o += channels) {
    const entry = raw[i];
    if (entry >= entries) {
      throw new SieveError('corrupt', `Texel ${i} names palette entry ${entry} of ${entries}.`, SAVE_AGAIN);
    }
    out[o] = palette[3 * entry];
    out[o + 1] = palette[3 * entry + 1];
    out[o + 2] = palette[3 * entry + 2];
    if (alpha) out[o + 3] = entry < alpha.length ? alpha[entry] : 255;
  }
  return { width, height, channels, data: out };
}

/** Adds an alpha of 0 where all samples equal the tRNS colour (§11.3.1.1), full elsewhere. */
function withColourKey(header: Header, raw: Samples, transparency: Uint8Array, allocate: Allocate): Samples {
  const samples = SAMPLES[header.colourType];
  const full = (1 << header.depth) - 1;
  if (transparency.length < 2 * samples) throw new SieveError('corrupt', 'The tRNS part is too short.', SAVE_AGAIN);
  const key = Array.from({ length: samples }, (_, c) => ((transparency[2 * c] << 8) | transparency[2 * c + 1]) & full);
  const texels = header.width * header.height;
  const out = raw instanceof Uint16Array ? new Uint16Array(texels * (samples + 1)) : allocate(texels * (samples + 1));
  for (let t = 0, i = 0, o = 0; t < texels; t++) {
    let same = true;
    for (let c = 0; c < samples; c++, i++, o++) {
      out[o] = raw[i];
      if (raw[i] !== key[c]) same = false;
    }
    out[o++] = same ? 0 : full;
  }
  return out;
}

function scaleToByte(data: Samples, depth: number): void {
  const factor = 255 / ((1 << depth) - 1);
  for (let i = 0; i < data.length; i++) data[i] *= factor;
}
