import { SieveError } from '../errors.ts';
import { allocateHeap, type Allocate } from '../raster/raster.ts';
import { isDds, readDds } from './dds/read.ts';
import { isJpeg, readJpeg } from './jpeg.ts';
import type { DecodedPicture, FormatName } from './picture.ts';
import type { CodecPlatform } from './platform.ts';
import { isPng, readPng } from './png/read.ts';
import { isTga, readTga } from './tga.ts';
import { isTiff, readTiff } from './tiff/read.ts';
import { isWebp, readWebp } from './webp.ts';

interface Format {
  name: FormatName;
  matches(bytes: Uint8Array): boolean;
  read(bytes: Uint8Array, platform: CodecPlatform, allocate: Allocate): DecodedPicture | Promise<DecodedPicture>;
}

/** Every format we read, the ones with a signature first. A new format is one line here. */
const FORMATS: readonly Format[] = [
  { name: 'png', matches: isPng, read: readPng },
  { name: 'jpeg', matches: isJpeg, read: readJpeg },
  { name: 'webp', matches: isWebp, read: readWebp },
  { name: 'tiff', matches: isTiff, read: readTiff },
  { name: 'dds', matches: isDds, read: (bytes, _platform, allocate) => readDds(bytes, allocate) },
  { name: 'tga', matches: isTga, read: (bytes, _platform, allocate) => readTga(bytes, allocate) },
];

/** What a file dialogue may offer. */
export const READABLE_EXTENSIONS = ['.png', '.jpg', '.jpeg', '.webp', '.tif', '.tiff', '.dds', '.tga'] as const;

/**
 * Reads a picture file, told by its bytes and not by its name.
 *
 * @throws {@link SieveError} `empty-file`, `unknown-format`, and those of the format's reader.
 */
export async function decodePicture(
  bytes: Uint8Array,
  platform: CodecPlatform,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  if (bytes.length === 0) throw new SieveError('empty-file', 'The file has 0 bytes.', 'Save the picture again.');
  const format = FORMATS.find((f) => f.matches(bytes));
  if (!format) {
    throw new SieveError(
      'unknown-format',
      'This is no picture of a kind we read.',
      'Bring in a PNG, JPEG, WebP, TIFF, DDS or TGA file.',
    );
  }
  return format.read(bytes, platform, allocate);
}
