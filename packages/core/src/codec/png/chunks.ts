import { SieveError } from '../../errors.ts';
import { SAVE_AGAIN } from '../byte-reader.ts';
import { crc32 } from './crc.ts';

export interface Chunk {
  type: string;
  data: Uint8Array;
}

export const SIGNATURE = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a);

/**
 * Splits a PNG into its chunks (PNG 3rd edition §5). The CRC of every critical chunk and of tRNS is checked; reading
 * stops after IEND, so bytes behind it do no harm.
 */
export function readChunks(bytes: Uint8Array): Chunk[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const chunks: Chunk[] = [];
  let at = SIGNATURE.length;
  for (;;) {
    if (at + 12 > bytes.length) throw truncated();
    const length = view.getUint32(at);
    if (length > 0x7fffffff) throw new SieveError('corrupt', `A chunk claims ${length} bytes.`, SAVE_AGAIN);
    if (at + 12 + length > bytes.length) throw truncated();
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    const critical = (bytes[at + 4] & 0x20) === 0;
    if ((critical || type === 'tRNS') && crc32(bytes, at + 4, at + 8 + length) !== view.getUint32(at + 8 + length)) {
      throw new SieveError('corrupt', `The checksum of the PNG's ${type.trim()} part does not match.`, SAVE_AGAIN);
    }
    chunks.push({ type, data: bytes.subarray(at + 8, at + 8 + length) });
    if (type === 'IEND') return chunks;
    at += 12 + length;
  }
}

export function truncated(): SieveError {
  return new SieveError('truncated', 'The PNG is cut off: its picture data ends early.', SAVE_AGAIN);
}

/** Signature and chunks as one file. */
export function joinChunks(chunks: Chunk[]): Uint8Array {
  const total = chunks.reduce((sum, c) => sum + 12 + c.data.length, SIGNATURE.length);
  const out = new Uint8Array(total);
  const view = new DataView(out.buffer);
  out.set(SIGNATURE);
  let at = SIGNATURE.length;
  for (const { type, data } of chunks) {
    view.setUint32(at, data.length);
    for (let i = 0; i < 4; i++) out[at + 4 + i] = type.charCodeAt(i);
    out.set(data, at + 8);
    view.setUint32(at + 8 + data.length, crc32(out, at + 4, at + 8 + data.length));
    at += 12 + data.length;
  }
  return out;
}
