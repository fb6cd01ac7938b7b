import { mix32 } from './mix.ts';

/**
 * 128 bits over a text, as 32 hex digits: the same text has the same digest on every host, and two others hardly ever
 * do. MurmurHash3_x86_128 (A. Appleby, public domain) with seed 0 over the UTF-16 code units, low byte first. Not for
 * security.
 */
export function digest(text: string): string {
  const bytes = new Uint8Array(2 * text.length);
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    bytes[2 * i] = unit;
    bytes[2 * i + 1] = unit >>> 8;
  }
  return Array.from(murmur128(bytes, 0), (word) => word.toString(16).padStart(8, '0')).join('');
}

const C1 = 0x239b961b;
const C2 = 0xab0e9789 | 0;
const C3 = 0x38b34ae5;
const C4 = 0xa1e38b93 | 0;

const rotl = (v: number, by: number) => (v << by) | (v >>> (32 - by));

/** MurmurHash3_x86_128 of bytes: its four words. */
export function murmur128(bytes: Uint8Array, seed: number): Uint32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let [h1, h2, h3, h4] = [seed, seed, seed, seed];
  const blocks = bytes.length & ~15;
  for (let i = 0; i < blocks; i += 16) {
    h1 ^= mixIn(view.getInt32(i, true), C1, 15, C2);
    h1 = (Math.imul((rotl(h1, 19) + h2) | 0, 5) + 0x561ccd1b) | 0;
    h2 ^= mixIn(view.getInt32(i + 4, true), C2, 16, C3);
    h2 = (Math.imul((rotl(h2, 17) + h3) | 0, 5) + 0x0bcaa747) | 0;
    h3 ^= mixIn(view.getInt32(i + 8, true), C3, 17, C4);
    h3 = (Math.imul((rotl(h3, 15) + h4) | 0, 5) + (0x96cd1c35 | 0)) | 0;
    h4 ^= mixIn(view.getInt32(i + 12, true), C4, 18, C1);
    h4 = (Math.imul((rotl(h4, 13) + h1) | 0, 5) + 0x32ac3b17) | 0;
  }
  const rest = new Int32Array(4);
  for (let i = blocks; i < bytes.length; i++) rest[(i - blocks) >> 2] |= bytes[i] << (8 * (i & 3));
  h1 ^= mixIn(rest[0], C1, 15, C2) ^ bytes.length;
  h2 ^= mixIn(rest[1], C2, 16, C3) ^ bytes.length;
  h3 ^= mixIn(rest[2], C3, 17, C4) ^ bytes.length;
  h4 ^= mixIn(rest[3], C4, 18, C1) ^ bytes.length;
  h1 = (h1 + h2 + h3 + h4) | 0;
  [h2, h3, h4] = [h2 + h1, h3 + h1, h4 + h1];
  [h1, h2, h3, h4] = [h1, h2, h3, h4].map((h) => mix32(h) | 0);
  h1 = (h1 + h2 + h3 + h4) | 0;
  return Uint32Array.of(h1, h2 + h1, h3 + h1, h4 + h1);
}

function mixIn(k: number, first: number, by: number, second: number): number {
  return Math.imul(rotl(Math.imul(k, first), by), second);
}
