import { SieveError } from '../errors.ts';
import { assertPictureSize } from '../limits.ts';
import { feedRows, type OpenSink } from '../raster/rows.ts';
import { allocateHeap, type Allocate } from '../raster/raster.ts';
import { ddsSize, isDds, readDds } from './dds/read.ts';
import { isKtx2, ktx2Size, readKtx2 } from './ktx2/read.ts';
import { isJpeg, jpegSize, readJpeg, readJpegRows } from './jpeg.ts';
import type { DeclaredSize, DecodedPicture, FormatName } from './picture.ts';
import type { CodecPlatform } from './platform.ts';
import { isPng, pngSize, readPng, readPngRows } from './png/read.ts';
import { isTga, readTga, tgaSize } from './tga.ts';
import { isTiff, readTiff, tiffSize } from './tiff/read.ts';
import { isWebp, readWebp, webpSize } from './webp.ts';

interface Format {
  name: FormatName;
  matches(bytes: Uint8Array): boolean;
  size(bytes: Uint8Array): DeclaredSize;
  read(bytes: Uint8Array, platform: CodecPlatform, allocate: Allocate): DecodedPicture | Promise<DecodedPicture>;
  /** Row by row; null where this file does not allow it. */
  rows?(bytes: Uint8Array, platform: CodecPlatform, open: OpenSink): Promise<Omit<DecodedPicture, 'raster'> | null>;
}

/** Every format we read, the ones with a signature first. A new format is one line here. */
const FORMATS: readonly Format[] = [
  { name: 'png', matches: isPng, size: pngSize, read: readPng, rows: readPngRows },
  { name: 'jpeg', matches: isJpeg, size: jpegSize, read: readJpeg, rows: readJpegRows },
  { name: 'webp', matches: isWebp, size: webpSize, read: readWebp },
  { name: 'tiff', matches: isTiff, size: tiffSize, read: readTiff },
  { name: 'dds', matches: isDds, size: ddsSize, read: (bytes, _platform, allocate) => readDds(bytes, allocate) },
  { name: 'ktx2', matches: isKtx2, size: ktx2Size, read: (bytes) => readKtx2(bytes) },
  { name: 'tga', matches: isTga, size: tgaSize, read: (bytes, _platform, allocate) => readTga(bytes, allocate) },
];

/** What a file dialogue may offer. */
export const READABLE_EXTENSIONS = [
  '.png',
  '.jpg',
  '.jpeg',
  '.webp',
  '.tif',
  '.tiff',
  '.dds',
  '.ktx2',
  '.tga',
] as const;

/**
 * Reads a picture file. The format follows from its bytes, never from its name.
 *
 * @throws {@link SieveError} `empty-file`, `unknown-format`, and those of the format's reader.
 */
export async function decodePicture(
  bytes: Uint8Array,
  platform: CodecPlatform,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  return formatOf(bytes).read(bytes, platform, allocate);
}

/** What a picture file claims of its size, read from its header alone. @throws {@link SieveError} as its reader does. */
export function declaredSize(bytes: Uint8Array): DeclaredSize {
  const size = formatOf(bytes).size(bytes);
  assertPictureSize(size.width, size.height);
  return size;
}

/**
 * Smaller pictures are read whole: at 4096² that takes 0.8 s, row by row 1.25 (a PNG of 8 MB). Larger ones would take
 * gigabytes.
 */
export const ROWS_FROM_TEXELS = 1 << 25;

/**
 * As {@link decodePicture}, row by row into a sink where the format allows it: a picture whose rows come in order never
 * stands in memory whole.
 *
 * @param open - Given the size and channels of the picture, once.
 * @param rowsFrom - Texels from which on it is read by rows.
 */
export async function decodeRows(
  bytes: Uint8Array,
  platform: CodecPlatform,
  open: OpenSink,
  rowsFrom = ROWS_FROM_TEXELS,
): Promise<Omit<DecodedPicture, 'raster'>> {
  const format = formatOf(bytes);
  const { width, height } = declaredSize(bytes);
  const said = width * height >= rowsFrom ? await format.rows?.(bytes, platform, open) : null;
  if (said) return said;
  const { raster, ...others } = await format.read(bytes, platform, allocateHeap);
  feedRows(raster, open(raster));
  return others;
}

function formatOf(bytes: Uint8Array): Format {
  if (bytes.length === 0) throw new SieveError('empty-file', 'The file has 0 bytes.', 'Save the picture again.');
  const format = FORMATS.find((f) => f.matches(bytes));
  if (!format) {
    throw new SieveError(
      'unknown-format',
      'This is not a picture format that can be read.',
      'Bring in a PNG, JPEG, WebP, TIFF, DDS, KTX2 or TGA file.',
    );
  }
  return format;
}
