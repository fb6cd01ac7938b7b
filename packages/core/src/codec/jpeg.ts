import { SieveError } from '../errors.ts';
import { assertPictureSize } from '../limits.ts';
import { allocateHeap, type Allocate } from '../raster/raster.ts';
import { SAVE_AGAIN } from './byte-reader.ts';
import type { DecodedPicture } from './picture.ts';
import type { CodecPlatform } from './platform.ts';
import { firstChannels } from './straight.ts';

interface Header {
  width: number;
  height: number;
  components: number;
  precision: number;
}

const NOT_FRAMES = new Set([0xc4, 0xc8, 0xcc]); // tables and extensions among the frame markers

export function isJpeg(bytes: Uint8Array): boolean {
  return bytes.length >= 3 && bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff;
}

/**
 * Reads a JPEG (ITU-T T.81): the markers are checked here, so that a cut file is told apart from a grey bottom half
 * (decoders fill in silently); the host's decoder does the rest.
 *
 * @throws {@link SieveError} `truncated`, `corrupt`, `unsupported` (CMYK, 12-bit), `too-large`.
 */
export async function readJpeg(
  bytes: Uint8Array,
  platform: Pick<CodecPlatform, 'decodeJpeg'>,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  const header = readHeader(bytes);
  assertPictureSize(header.width, header.height);
  if (header.components === 4) {
    throw new SieveError(
      'unsupported',
      'The JPEG is in print colours (CMYK).',
      'Convert it to RGB and bring it in again.',
    );
  }
  if (header.precision !== 8) {
    throw new SieveError('unsupported', `The JPEG has ${header.precision} bits a sample.`, 'Save it with 8 bits.');
  }
  if (!endsWithEoi(bytes)) throw truncated();
  const decoded = await platform.decodeJpeg(bytes).catch((cause: unknown) => {
    throw new SieveError('corrupt', 'The JPEG could not be decoded.', SAVE_AGAIN, { cause });
  });
  const channels = header.components === 1 ? 1 : 3;
  const data = firstChannels(decoded.data, channels, allocate);
  return {
    format: 'jpeg',
    raster: { width: decoded.width, height: decoded.height, channels, data },
    bitDepth: 8,
    palette: false,
    notes: ['JPEG carries no alpha.'],
  };
}

function truncated(): SieveError {
  return new SieveError('truncated', 'The JPEG ends before its picture does.', SAVE_AGAIN);
}

/** Walks the segments up to the frame header (§B.2.2). */
function readHeader(bytes: Uint8Array): Header {
  let at = 2;
  for (;;) {
    while (at < bytes.length && bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 4 > bytes.length) throw truncated();
    if (bytes[at] !== 0xff) throw new SieveError('corrupt', 'The markers of the JPEG are out of step.', SAVE_AGAIN);
    const marker = bytes[at + 1];
    const length = (bytes[at + 2] << 8) | bytes[at + 3];
    if (marker >= 0xc0 && marker <= 0xcf && !NOT_FRAMES.has(marker)) {
      if (at + 10 > bytes.length) throw truncated();
      const height = (bytes[at + 5] << 8) | bytes[at + 6];
      const width = (bytes[at + 7] << 8) | bytes[at + 8];
      return { precision: bytes[at + 4], height, width, components: bytes[at + 9] };
    }
    if (marker === 0xda || length < 2) {
      throw new SieveError('corrupt', 'The JPEG has no frame header before its picture.', SAVE_AGAIN);
    }
    at += 2 + length;
  }
}

/** Looks for the end marker behind the last scan; some writers leave bytes after it. */
function endsWithEoi(bytes: Uint8Array): boolean {
  for (let i = bytes.length - 2; i >= 0; i--) {
    if (bytes[i] !== 0xff) continue;
    if (bytes[i + 1] === 0xd9) return true;
    if (bytes[i + 1] === 0xda) return false; // reached the start of a scan first
  }
  return false;
}
