import { mix32 } from '../math/mix.ts';
import { asWords, type Raster, type Samples } from './raster.ts';

/**
 * 64 bits over size and samples, as 16 hex digits: shows whether two hosts hold the same picture. Two lanes of the
 * MurmurHash3 x86 32-bit round (A. Appleby, public domain) over the words. Not for security.
 */
export function fingerprint(raster: Raster<Samples>): string {
  const { buffer, byteOffset, byteLength } = raster.data;
  const data = new Uint8Array(buffer, byteOffset, byteLength);
  const words = asWords(data);
  let a = raster.width | 0;
  let b = raster.height ^ (raster.channels << 16);
  for (let i = 0; i < words.length; i++) {
    const k = Math.imul(words[i], 0xcc9e2d51);
    const r = (k << 15) | (k >>> 17);
    a ^= Math.imul(r, 0x1b873593);
    a = (Math.imul((a << 13) | (a >>> 19), 5) + 0xe6546b64) | 0;
    b = Math.imul(b ^ r, 0x85ebca6b);
    b ^= b >>> 13;
  }
  for (let i = words.length << 2; i < data.length; i++) {
    a = Math.imul(a ^ data[i], 0x01000193);
    b = Math.imul(b + data[i], 0xc2b2ae35);
  }
  return hex(mix32(a)) + hex(mix32(b));
}

function hex(h: number): string {
  return h.toString(16).padStart(8, '0');
}
