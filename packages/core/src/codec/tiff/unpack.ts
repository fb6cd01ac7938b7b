import { SieveError } from '../../errors.ts';
import { SAVE_AGAIN } from '../byte-reader.ts';

/** PackBits, TIFF 6.0 §9. Stops at `expected` bytes; gives what there was of a stream that ends early. */
export function unpackBits(packed: Uint8Array, expected: number): Uint8Array {
  const out = new Uint8Array(expected);
  let at = 0;
  let o = 0;
  while (o < expected && at < packed.length) {
    const n = (packed[at++] << 24) >> 24;
    if (n === -128) continue;
    const length = Math.min((n < 0 ? -n : n) + 1, expected - o);
    if (n >= 0) {
      out.set(packed.subarray(at, at + length), o);
      at += n + 1;
    } else out.fill(packed[at++], o, o + length);
    o += length;
  }
  return out.subarray(0, o);
}

const CLEAR = 256;
const END = 257;
const MOST_CODES = 4096;

/** LZW as TIFF 6.0 §13 has it: codes of 9 to 12 bits from the high end, widened one code early. */
export function unpackLzw(packed: Uint8Array, expected: number): Uint8Array {
  const out = new Uint8Array(expected);
  const prefix = new Uint16Array(MOST_CODES);
  const suffix = new Uint8Array(MOST_CODES);
  const length = new Uint16Array(MOST_CODES);
  for (let i = 0; i < 256; i++) {
    suffix[i] = i;
    length[i] = 1;
  }
  let next = END + 1;
  let width = 9;
  let before = -1;
  let bits = 0;
  let held = 0;
  let o = 0;
  for (let at = 0; at < packed.length || held >= width;) {
    while (held < width && at < packed.length) {
      bits = ((bits << 8) | packed[at++]) & 0xffffff;
      held += 8;
    }
    if (held < width) break;
    const code = (bits >>> (held - width)) & ((1 << width) - 1);
    held -= width;
    if (code === END) break;
    if (code === CLEAR) {
      next = END + 1;
      width = 9;
      before = -1;
      continue;
    }
    if (code > next || (code === next && (before < 0 || next === MOST_CODES))) {
      throw new SieveError('corrupt', 'The compressed data of the TIFF is damaged.', SAVE_AGAIN);
    }
    const source = code < next ? code : before;
    const count = length[source] + (code < next ? 0 : 1);
    let first = source;
    while (first >= CLEAR) first = prefix[first];
    if (before >= 0 && next < MOST_CODES) {
      prefix[next] = before;
      suffix[next] = first;
      length[next] = length[before] + 1;
      next++;
    }
    let end = o + count - 1;
    let c = code;
    for (; end >= o; end--) {
      if (end < expected) out[end] = suffix[c];
      c = prefix[c];
    }
    o += count;
    if (o >= expected) break;
    before = code;
    if (next + 1 >= 1 << width && width < 12) width++;
  }
  return out.subarray(0, Math.min(o, expected));
}
