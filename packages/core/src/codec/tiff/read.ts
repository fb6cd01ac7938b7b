import { SieveError } from '../../errors.ts';
import { assertPictureSize } from '../../limits.ts';
import { allocateHeap, type Allocate, type Raster, type Samples } from '../../raster/raster.ts';
import { SAVE_AGAIN } from '../byte-reader.ts';
import { orientationNotes, upright } from '../orientation.ts';
import type { DeclaredSize, DecodedPicture } from '../picture.ts';
import type { CodecPlatform } from '../platform.ts';
import { divideByAlpha } from '../straight.ts';
import { Directory } from './directory.ts';
import { unpackBits, unpackLzw } from './unpack.ts';

const WHITE_IS_ZERO = 0;
const RGB = 2;
const PALETTE = 3;
const PHOTOMETRICS = [WHITE_IS_ZERO, 1, RGB, PALETTE];
/** No compression here packs tighter: Deflate 1032 to 1, LZW some more. */
const MOST_EXPANSION = 1500;
const ASSOCIATED = 1;
const UNASSOCIATED = 2;

/** How samples lie in the file. */
interface Layout {
  width: number;
  height: number;
  bits: number;
  samples: number;
  photometric: number;
  compression: number;
  predictor: number;
  /** Each sample in a plane of its own. */
  planar: boolean;
  tile: { width: number; height: number };
  offsets: number[];
  counts: number[];
}

export function isTiff(bytes: Uint8Array): boolean {
  const little = bytes[0] === 0x49 && bytes[1] === 0x49 && bytes[2] === 42 && bytes[3] === 0;
  return bytes.length >= 8 && (little || (bytes[0] === 0x4d && bytes[1] === 0x4d && bytes[2] === 0 && bytes[3] === 42));
}

/**
 * Reads the first picture of a TIFF (TIFF 6.0): grey, RGB and palette, 1 to 16 bits, strips or tiles, raw, PackBits,
 * LZW or Deflate, with the horizontal predictor, planes together or apart. Of extra samples the first that is alpha is
 * taken; an associated one is divided out of the colours, and that is said.
 *
 * @throws {@link SieveError} `truncated`, `corrupt`, `too-large`, `unsupported` (CMYK, JPEG inside, floats).
 */
export async function readTiff(
  bytes: Uint8Array,
  platform: Pick<CodecPlatform, 'inflate'>,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  const directory = new Directory(bytes);
  const layout = readLayout(directory);
  const extra = directory.numbers('extraSamples');
  const samples = await readSamples(directory, layout, platform);
  const { raster, notes } = resolve(directory, layout, extra, samples, allocate);
  const orientation = directory.number('orientation', 1);
  return {
    format: 'tiff',
    raster: upright(raster, orientation, allocate),
    bitDepth: layout.bits,
    palette: layout.photometric === PALETTE,
    notes: [
      ...notes,
      ...orientationNotes(orientation),
      ...(directory.has('profile') ? ['It carries a colour profile; colours are taken as sRGB.'] : []),
    ],
  };
}

/** What the file says of its size, without unpacking it. */
export function tiffSize(bytes: Uint8Array): DeclaredSize {
  const { width, height, samples, bits } = readLayout(new Directory(bytes));
  return { width, height, bytesPerTexel: Math.max(1, (samples * bits) / 8) };
}

function unsupported(what: string, remedy = 'Save it as RGB or grey, 8 or 16 bits.'): SieveError {
  return new SieveError('unsupported', `The TIFF ${what}.`, remedy);
}

function readLayout(d: Directory): Layout {
  const [width, height] = [d.number('width', 0), d.number('height', 0)];
  assertPictureSize(width, height);
  const samples = d.number('samples', 1);
  const allBits = d.numbers('bits', [1]);
  const bits = allBits[0];
  const photometric = d.number('photometric', 1);
  if (!PHOTOMETRICS.includes(photometric))
    throw unsupported(
      photometric === 5 ? 'is in print colours (CMYK)' : `is of a kind that is not read (${photometric})`,
    );
  if (d.numbers('sampleFormat', [1]).some((f) => f !== 1)) throw unsupported('holds signed or floating-point numbers');
  if (samples < 1 || samples > 8 || allBits.some((b) => b !== bits) || ![1, 2, 4, 8, 16].includes(bits)) {
    throw unsupported(`has ${samples} samples of ${allBits.join(', ')} bits`);
  }
  if (photometric === RGB && (samples < 3 || bits < 8)) throw unsupported(`has ${samples} RGB samples of ${bits} bits`);
  if (d.number('fillOrder', 1) !== 1) throw unsupported('has its bits in reverse order');
  const tiled = d.has('tileOffsets');
  const tile = tiled
    ? { width: d.number('tileWidth', 0), height: d.number('tileHeight', 0) }
    : { width, height: Math.min(height, d.number('rowsPerStrip', height)) };
  if (tile.width < 1 || tile.height < 1 || tile.width > 65536 || tile.height > 65536) {
    throw new SieveError('corrupt', `The TIFF claims tiles of ${tile.width} × ${tile.height}.`, SAVE_AGAIN);
  }
  const layout = {
    width,
    height,
    bits,
    samples,
    photometric,
    compression: d.number('compression', 1),
    predictor: d.number('predictor', 1),
    planar: d.number('planar', 1) === 2 && samples > 1,
    tile,
    offsets: d.numbers(tiled ? 'tileOffsets' : 'stripOffsets'),
    counts: d.numbers(tiled ? 'tileBytes' : 'stripBytes'),
  };
  if (layout.predictor > 2 || (layout.predictor === 2 && bits < 8))
    throw unsupported('uses a predictor that is not read');
  const wanted = Math.ceil(width / tile.width) * Math.ceil(height / tile.height) * (layout.planar ? samples : 1);
  if (layout.offsets.length < wanted || layout.counts.length < wanted) {
    throw new SieveError('corrupt', 'The TIFF does not say where all of its picture lies.', SAVE_AGAIN);
  }
  return layout;
}

/** All samples, interleaved, one number each; bits below 8 stay as they are. */
async function readSamples(d: Directory, layout: Layout, platform: Pick<CodecPlatform, 'inflate'>): Promise<Samples> {
  const { width, height, bits, samples, planar, tile } = layout;
  const held = layout.counts.reduce((sum, n) => sum + n, 0);
  const claimed = (width * height * samples * bits) / 8;
  if (claimed > held * MOST_EXPANSION)
    throw new SieveError('truncated', 'The TIFF holds less than it claims.', SAVE_AGAIN);
  const out = bits === 16 ? new Uint16Array(width * height * samples) : new Uint8Array(width * height * samples);
  const across = Math.ceil(width / tile.width);
  const down = Math.ceil(height / tile.height);
  const together = planar ? 1 : samples;
  const rowBytes = Math.ceil((tile.width * together * bits) / 8);
  for (let plane = 0, k = 0; plane < (planar ? samples : 1); plane++) {
    for (let ty = 0; ty < down; ty++) {
      for (let tx = 0; tx < across; tx++, k++) {
        const isStrip = tile.width === width;
        const rows = isStrip ? Math.min(tile.height, height - ty * tile.height) : tile.height;
        const packed = d.reader.slice(layout.offsets[k], layout.counts[k]);
        const data = await decompress(packed, layout.compression, rowBytes * rows, platform);
        if (data.length < rowBytes * rows)
          throw new SieveError('truncated', 'The TIFF is cut off: its picture data ends early.', SAVE_AGAIN);
        const values = widen(data, bits, tile.width * together, rows, rowBytes, d.little);
        if (layout.predictor === 2) undoPredictor(values, tile.width * together, rows, together);
        place(values, layout, { x: tx * tile.width, y: ty * tile.height, plane, together, rows }, out);
      }
    }
  }
  return out;
}

async function decompress(
  packed: Uint8Array,
  compression: number,
  expected: number,
  platform: Pick<CodecPlatform, 'inflate'>,
): Promise<Uint8Array> {
  switch (compression) {
    case 1:
      return packed.subarray(0, expected);
    case 5:
      return unpackLzw(packed, expected);
    case 8:
    case 32946:
      return platform.inflate([packed], expected).catch((cause: unknown) => {
        throw new SieveError('corrupt', 'The compressed data of the TIFF is damaged.', SAVE_AGAIN, { cause });
      });
    case 32773:
      return unpackBits(packed, expected);
    default:
      throw unsupported(
        compression === 6 || compression === 7
          ? 'holds a JPEG'
          : `is compressed in a way that is not read (${compression})`,
        'Save it without compression, or with LZW or Deflate.',
      );
  }
}

/** One number a sample. */
function widen(
  data: Uint8Array,
  bits: number,
  perRow: number,
  rows: number,
  rowBytes: number,
  little: boolean,
): Samples {
  if (bits === 8) return data.slice(0, perRow * rows);
  if (bits === 16) {
    const out = new Uint16Array(perRow * rows);
    const [low, high] = little ? [0, 1] : [1, 0];
    for (let i = 0; i < out.length; i++) out[i] = data[2 * i + low] | (data[2 * i + high] << 8);
    return out;
  }
  const out = new Uint8Array(perRow * rows);
  const mask = (1 << bits) - 1;
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < perRow; x++) {
      const bit = x * bits;
      out[y * perRow + x] = (data[y * rowBytes + (bit >> 3)] >> (8 - bits - (bit & 7))) & mask;
    }
  }
  return out;
}

/** Horizontal differencing, TIFF 6.0 §14. */
function undoPredictor(values: Samples, perRow: number, rows: number, step: number): void {
  for (let y = 0; y < rows; y++) {
    for (let i = y * perRow + step, end = (y + 1) * perRow; i < end; i++) values[i] += values[i - step];
  }
}

function place(
  values: Samples,
  { width, height, samples, tile }: Layout,
  at: { x: number; y: number; plane: number; together: number; rows: number },
  out: Samples,
): void {
  const columns = Math.min(tile.width, width - at.x);
  for (let y = 0; y < Math.min(at.rows, height - at.y); y++) {
    const from = y * tile.width * at.together;
    const to = ((at.y + y) * width + at.x) * samples + at.plane;
    if (at.together === samples) out.set(values.subarray(from, from + columns * samples), to);
    else for (let x = 0; x < columns; x++) out[to + x * samples] = values[from + x];
  }
}

/** From samples to grey or RGB with or without alpha. */
function resolve(
  d: Directory,
  layout: Layout,
  extra: number[],
  values: Samples,
  allocate: Allocate,
): { raster: Raster<Samples>; notes: string[] } {
  const { width, height, samples, bits, photometric } = layout;
  const own = photometric === RGB ? 3 : 1;
  const which = extra.findIndex((kind) => kind === ASSOCIATED || kind === UNASSOCIATED);
  const alphaAt = which >= 0 && own + which < samples ? own + which : -1;
  const notes: string[] = [];
  if (alphaAt < 0 && samples > own)
    notes.push('It has extra samples that are not declared to be alpha; they are left out.');
  const colours = photometric === PALETTE ? paletteOf(d, bits) : null;
  const wide = bits === 16;
  const channels = ((colours ? 3 : own) + (alphaAt >= 0 ? 1 : 0)) as 1 | 2 | 3 | 4;
  const size = width * height * channels;
  const bytes = allocate(wide ? 2 * size : size);
  const out: Samples = wide ? new Uint16Array(bytes.buffer, bytes.byteOffset, size) : bytes;
  const full = wide ? 65535 : 255;
  const scale = bits < 8 ? 255 / ((1 << bits) - 1) : 1;
  for (let i = 0, o = 0; i < values.length; i += samples) {
    if (colours) {
      for (let c = 0; c < 3; c++) out[o++] = colours[3 * values[i] + c];
    } else {
      for (let c = 0; c < own; c++) {
        const v = values[i + c] * scale;
        out[o++] = photometric === WHITE_IS_ZERO ? full - v : v;
      }
    }
    if (alphaAt >= 0) out[o++] = values[i + alphaAt] * scale;
  }
  if (alphaAt >= 0 && extra[which] === ASSOCIATED) {
    divideByAlpha(out, channels);
    notes.push('Its alpha is premultiplied (associated); the colour was divided by it.');
  }
  return { raster: { width, height, channels, data: out }, notes };
}

/** 16-bit entries, all reds first. */
function paletteOf(d: Directory, bits: number): Uint8Array {
  const map = d.numbers('colourMap');
  const count = 1 << bits;
  if (bits > 8 || map.length < 3 * count) throw new SieveError('corrupt', 'The TIFF has no palette.', SAVE_AGAIN);
  return Uint8Array.from({ length: 3 * count }, (_, i) => Math.round(map[(i % 3) * count + Math.floor(i / 3)] / 257));
}
