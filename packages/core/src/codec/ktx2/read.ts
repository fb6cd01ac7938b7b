import { Unzlib } from 'fflate/browser';
import { SieveError } from '../../errors.ts';
import { assertPictureSize } from '../../limits.ts';
import type { Raster } from '../../raster/raster.ts';
import { decodeBlocks } from '../bc/decode.ts';
import { ByteReader, SAVE_AGAIN } from '../byte-reader.ts';
import type { DeclaredSize, DecodedPicture } from '../picture.ts';
import { KTX2_FORMATS, KTX2_HEAD, KTX2_IDENTIFIER, KTX2_LEVEL, KTX2_PLAIN, KTX2_ZLIB } from './formats.ts';
import { levelBytes, type TextureFormat } from '../texture-format.ts';

export function isKtx2(bytes: Uint8Array): boolean {
  return bytes.length >= KTX2_HEAD && KTX2_IDENTIFIER.every((v, i) => bytes[i] === v);
}

/** What the file says of its size. */
export function ktx2Size(bytes: Uint8Array): DeclaredSize {
  const { width, height } = headOf(bytes);
  return { width, height, bytesPerTexel: 4 };
}

/** The largest level. @throws {@link SieveError} as {@link readKtx2Levels}. */
export function readKtx2(bytes: Uint8Array): DecodedPicture {
  const { format, levels } = readKtx2Levels(bytes, 1);
  const notes = [`${format === 'r8' || format === 'rgba8' ? 'Uncompressed' : format}.`];
  return {
    format: 'ktx2',
    raster: format === 'BC5' ? inThree(levels[0]) : levels[0],
    bitDepth: 8,
    palette: false,
    notes,
  };
}

/**
 * The levels of a KTX 2.0, the largest first, as a graphics card reads them: RGBA, or one channel.
 *
 * @param most - Levels that are wanted.
 * @throws {@link SieveError} `truncated`, `corrupt`, `too-large`, `unsupported` (volumes, arrays, cubes, formats and
 * supercompressions other than those that are written here).
 */
export function readKtx2Levels(
  bytes: Uint8Array,
  most = Infinity,
): { format: TextureFormat; holds: 'colour' | 'values'; levels: Raster[] } {
  const { reader, format, holds, width, height, count, scheme } = headOf(bytes);
  const levels: Raster[] = [];
  for (let i = 0, w = width, h = height; i < Math.min(count, most); i++) {
    const entry = KTX2_HEAD + KTX2_LEVEL * i;
    const wanted = levelBytes(format, w, h);
    if (reader.u32(entry + 16) !== wanted) throw broken(`level ${i} is not as long as its size`);
    const stored = reader.slice(reader.u32(entry), reader.u32(entry + 8));
    const data = scheme === KTX2_ZLIB ? inflated(stored, wanted) : stored;
    if (data.length !== wanted) throw broken(`level ${i} is not as long as its size`);
    levels.push(
      format === 'r8' || format === 'rgba8'
        ? { width: w, height: h, channels: format === 'r8' ? 1 : 4, data: data.slice() }
        : decodeBlocks({ format, width: w, height: h, data }),
    );
    [w, h] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
  }
  return { format, holds, levels };
}

function headOf(bytes: Uint8Array) {
  const reader = new ByteReader(bytes, true, 'KTX2');
  const word = (i: number) => reader.u32(KTX2_IDENTIFIER.length + 4 * i);
  const [vkFormat, , width, height, depth, layers, faces, count, scheme] = Array.from({ length: 9 }, (_, i) => word(i));
  assertPictureSize(width, height);
  const found = Object.entries(KTX2_FORMATS).find(([, f]) => f.values === vkFormat || f.colour === vkFormat);
  if (!found) throw notRead(`VkFormat ${vkFormat}`);
  if (depth > 0 || layers > 0 || faces !== 1) throw notRead('no single picture');
  if (scheme !== KTX2_PLAIN && scheme !== KTX2_ZLIB) throw notRead(`supercompression ${scheme}`);
  const largest = Math.floor(Math.log2(Math.max(width, height))) + 1;
  if (count < 1 || count > largest) throw broken(`it says that it has ${count} levels`);
  const holds: 'colour' | 'values' = found[1].colour === vkFormat && found[1].values !== vkFormat ? 'colour' : 'values';
  return { reader, format: found[0] as TextureFormat, holds, width, height, count, scheme };
}

/** Bytes that are unpacked at a time: each may become about a thousand. */
const PIECE = 16384;

/** No more than its level takes, whatever the data would come to. */
function inflated(stored: Uint8Array, wanted: number): Uint8Array {
  const out = new Uint8Array(wanted);
  let length = 0;
  try {
    const stream = new Unzlib((chunk) => {
      if (length + chunk.length > wanted) throw broken('a level is longer than its size');
      out.set(chunk, length);
      length += chunk.length;
    });
    for (let at = 0; at < stored.length; at += PIECE) {
      stream.push(stored.subarray(at, at + PIECE), at + PIECE >= stored.length);
    }
  } catch (cause) {
    if (cause instanceof SieveError) throw cause;
    throw new SieveError('corrupt', 'A level of the KTX2 cannot be unpacked.', SAVE_AGAIN, { cause });
  }
  return out.subarray(0, length);
}

/** Red and green, as a reader of DDS has them. */
function inThree({ width, height, data }: Raster): Raster {
  const out = new Uint8Array(3 * width * height);
  for (let i = 0, o = 0; o < out.length; i += 2, o += 3) {
    out[o] = data[i];
    out[o + 1] = data[i + 1];
  }
  return { width, height, channels: 3, data: out };
}

const broken = (why: string) => new SieveError('corrupt', `The KTX2 is damaged: ${why}.`, SAVE_AGAIN);
const notRead = (what: string) =>
  new SieveError('unsupported', `The KTX2 is of a kind that is not read (${what}).`, 'Save it as RGBA, BC1, BC3 or BC7, or as PNG.'); // prettier-ignore
