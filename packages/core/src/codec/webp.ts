import { SieveError } from '../errors.ts';
import { assertPictureSize } from '../limits.ts';
import { allocateHeap, type Allocate } from '../raster/raster.ts';
import { ByteReader, SAVE_AGAIN } from './byte-reader.ts';
import { exifOrientation, orientationNotes, upright } from './orientation.ts';
import type { DeclaredSize, DecodedPicture } from './picture.ts';
import type { CodecPlatform } from './platform.ts';
import { firstChannels } from './straight.ts';

interface Header {
  width: number;
  height: number;
  alpha: boolean;
  lossless: boolean;
  exif: Uint8Array | null;
  profile: boolean;
}

const fourCc = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));

export function isWebp(bytes: Uint8Array): boolean {
  return bytes.length >= 16 && fourCc(bytes, 0) === 'RIFF' && fourCc(bytes, 8) === 'WEBP';
}

/**
 * Reads a WebP (RFC 9649), lossy or lossless: the container is checked here, the host's decoder does the rest. Alpha is
 * straight, colour under alpha 0 is what the file holds.
 *
 * @throws {@link SieveError} `truncated`, `corrupt`, `unsupported` (animations), `too-large`.
 */
export async function readWebp(
  bytes: Uint8Array,
  platform: Pick<CodecPlatform, 'decodeWebp'>,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  const header = readHeader(bytes);
  assertPictureSize(header.width, header.height);
  const decoded = await platform.decodeWebp(bytes).catch((cause: unknown) => {
    throw new SieveError('corrupt', 'The WebP could not be decoded.', SAVE_AGAIN, { cause });
  });
  if (decoded.width !== header.width || decoded.height !== header.height) {
    throw new SieveError('corrupt', 'The WebP holds a picture of another size than it says.', SAVE_AGAIN);
  }
  const channels = header.alpha ? 4 : 3;
  const data = firstChannels(decoded.data, channels, allocate);
  const orientation = header.exif ? exifOrientation(header.exif) : 1;
  const raster = { width: decoded.width, height: decoded.height, channels, data } as const;
  return {
    format: 'webp',
    raster: upright(raster, orientation, allocate),
    bitDepth: 8,
    palette: false,
    notes: [
      ...(header.lossless ? [] : ['Lossy: its colours are near what was saved, not the same.']),
      ...orientationNotes(orientation),
      ...(header.profile ? ['It carries a colour profile; colours are taken as sRGB.'] : []),
    ],
  };
}

/** What the file says of its size, without decoding it. */
export function webpSize(bytes: Uint8Array): DeclaredSize {
  const { width, height } = readHeader(bytes);
  return { width, height, bytesPerTexel: 4 };
}

/** Walks the chunks (§2.3–2.7); sizes are those of the bit streams, which the decoder goes by. */
function readHeader(bytes: Uint8Array): Header {
  const reader = new ByteReader(bytes, true, 'WebP');
  const end = 8 + reader.u32(4);
  if (end > bytes.length) reader.slice(0, end);
  const header: Header = { width: 0, height: 0, alpha: false, lossless: false, exif: null, profile: false };
  for (let at = 12; at + 8 <= end;) {
    const kind = fourCc(bytes, at);
    const length = reader.u32(at + 4);
    const body = reader.slice(at + 8, length);
    if (kind === 'ANIM' || kind === 'ANMF') {
      throw new SieveError('unsupported', 'The WebP is an animation.', 'Save one frame of it as a picture.');
    }
    if (kind === 'VP8X' && length >= 10) header.alpha = (body[0] & 0x10) !== 0;
    if (kind === 'ICCP') header.profile = true;
    if (kind === 'EXIF') header.exif = body;
    if (kind === 'VP8L' && length >= 5) readLossless(body, header);
    if (kind === 'VP8 ' && length >= 10) readLossy(body, header);
    at += 8 + length + (length & 1);
  }
  if (header.width === 0) throw new SieveError('corrupt', 'The WebP holds no picture.', SAVE_AGAIN);
  return header;
}

function readLossless(body: Uint8Array, header: Header): void {
  if (body[0] !== 0x2f) throw new SieveError('corrupt', 'The picture in the WebP is damaged.', SAVE_AGAIN);
  const bits = body[1] | (body[2] << 8) | (body[3] << 16) | (body[4] << 24);
  header.width = (bits & 0x3fff) + 1;
  header.height = ((bits >>> 14) & 0x3fff) + 1;
  header.alpha ||= ((bits >>> 28) & 1) === 1;
  header.lossless = true;
}

/** Frame header of a key frame, RFC 6386 §9.1. */
function readLossy(body: Uint8Array, header: Header): void {
  if (body[3] !== 0x9d || body[4] !== 0x01 || body[5] !== 0x2a) {
    throw new SieveError('corrupt', 'The picture in the WebP is damaged.', SAVE_AGAIN);
  }
  header.width = (body[6] | (body[7] << 8)) & 0x3fff;
  header.height = (body[8] | (body[9] << 8)) & 0x3fff;
}
