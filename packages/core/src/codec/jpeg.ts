import { isSieveError, SieveError } from '../errors.ts';
import { assertPictureSize } from '../limits.ts';
import { feedRows, type OpenSink } from '../raster/rows.ts';
import { allocateHeap, type Allocate } from '../raster/raster.ts';
import { SAVE_AGAIN } from './byte-reader.ts';
import type { DeclaredSize, DecodedPicture } from './picture.ts';
import type { CodecPlatform } from './platform.ts';
import { firstChannels } from './straight.ts';

interface Header {
  width: number;
  height: number;
  components: number;
  precision: number;
  marker: number;
  /**
   * Blocks of 8 × 8 of all components: each takes a bit at least in Huffman coding (§F.1.2, §G.1.2), so that a file of
   * fewer bits cannot hold them.
   */
  blocks: number;
}

/** Frame markers of arithmetic coding, table B.1. */
const ARITHMETIC = new Set([0xc9, 0xca, 0xcb, 0xcd, 0xce, 0xcf]);
const NOT_FRAMES = new Set([0xc4, 0xc8, 0xcc]); // tables and extensions among the frame markers

/** What the file says of its size, without decoding it. */
export function jpegSize(bytes: Uint8Array): DeclaredSize {
  const { width, height } = readHeader(bytes);
  return { width, height, bytesPerTexel: 4 };
}

export function isJpeg(bytes: Uint8Array): boolean {
  return bytes.length >= 3 && bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff;
}

/**
 * Reads a JPEG (ITU-T T.81): the markers are checked here, so that a cut file is not taken for one with a grey bottom half
 * (decoders fill in silently); the host's decoder does the rest.
 *
 * @throws {@link SieveError} `truncated`, `corrupt`, `unsupported` (CMYK, 12-bit), `too-large`.
 */
export async function readJpeg(
  bytes: Uint8Array,
  platform: Pick<CodecPlatform, 'decodeJpeg'>,
  allocate: Allocate = allocateHeap,
): Promise<DecodedPicture> {
  const { width, height, rgba, channels, ...said } = await decodeChecked(bytes, platform);
  return { ...said, raster: { width, height, channels, data: firstChannels(rgba, channels, allocate) } };
}

/** As {@link readJpeg}, its rows into a sink: without a copy in its own channels. */
export async function readJpegRows(
  bytes: Uint8Array,
  platform: Pick<CodecPlatform, 'decodeJpeg'>,
  open: OpenSink,
): Promise<Omit<DecodedPicture, 'raster'>> {
  const { width, height, rgba, channels, ...said } = await decodeChecked(bytes, platform);
  feedRows({ width, height, channels: 4, data: rgba }, open({ width, height, channels }));
  return said;
}

async function decodeChecked(bytes: Uint8Array, platform: Pick<CodecPlatform, 'decodeJpeg'>) {
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
  if (ARITHMETIC.has(header.marker)) {
    throw new SieveError('unsupported', 'The JPEG uses arithmetic coding, which few programs read.', SAVE_AGAIN);
  }
  if (!endsWithEoi(bytes) || bytes.length * 8 < header.blocks) throw truncated();
  const decoded = await platform.decodeJpeg(bytes).catch((cause: unknown) => {
    if (isSieveError(cause)) throw cause;
    throw new SieveError('corrupt', 'The JPEG could not be decoded.', SAVE_AGAIN, { cause });
  });
  if (decoded.complaint && /premature end/i.test(decoded.complaint)) throw truncated();
  return {
    format: 'jpeg' as const,
    width: decoded.width,
    height: decoded.height,
    rgba: decoded.data,
    channels: header.components === 1 ? (1 as const) : (3 as const),
    bitDepth: 8,
    palette: false,
    notes: ['JPEG carries no alpha.'],
  };
}

function truncated(): SieveError {
  return new SieveError('truncated', 'The JPEG is cut off: its picture data ends early.', SAVE_AGAIN);
}

/** Walks the segments up to the frame header (§B.2.2). */
function readHeader(bytes: Uint8Array): Header {
  let at = 2;
  for (;;) {
    while (at < bytes.length && bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 4 > bytes.length) throw truncated();
    if (bytes[at] !== 0xff) throw new SieveError('corrupt', 'The JPEG’s markers are inconsistent.', SAVE_AGAIN);
    const marker = bytes[at + 1];
    const length = (bytes[at + 2] << 8) | bytes[at + 3];
    if (marker >= 0xc0 && marker <= 0xcf && !NOT_FRAMES.has(marker)) {
      if (at + 10 > bytes.length) throw truncated();
      const height = (bytes[at + 5] << 8) | bytes[at + 6];
      const width = (bytes[at + 7] << 8) | bytes[at + 8];
      const components = bytes[at + 9];
      if (at + 10 + 3 * components > bytes.length) throw truncated();
      const blocks = blocksOf(bytes.subarray(at + 10, at + 10 + 3 * components), width, height);
      return { precision: bytes[at + 4], height, width, components, marker, blocks };
    }
    if (marker === 0xda || length < 2) {
      throw new SieveError('corrupt', 'The JPEG has no frame header before its picture.', SAVE_AGAIN);
    }
    at += 2 + length;
  }
}

/** By the sampling factors of the components, §A.2; a bad factor is left for the decoder to refuse. */
function blocksOf(components: Uint8Array, width: number, height: number): number {
  const factors = Array.from({ length: components.length / 3 }, (_, i) => components[3 * i + 1]);
  const most = (of: (f: number) => number) => Math.max(1, ...factors.map(of));
  const [h, v] = [most((f) => f >> 4), most((f) => f & 15)];
  return factors.reduce(
    (sum, f) => sum + Math.ceil((width * (f >> 4)) / (8 * h)) * Math.ceil((height * (f & 15)) / (8 * v)),
    0,
  );
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
