import { zlibSync } from 'fflate/browser';
import { utf8 } from '../utf8.ts';
import type { StoredLevel, TextureFormat } from '../texture-format.ts';
import { channelType, KTX2_FORMATS, KTX2_HEAD, KTX2_IDENTIFIER, KTX2_LEVEL, KTX2_PLAIN, KTX2_ZLIB } from './formats.ts';

/** Sorted by their keys, as §3.12 wants it: where the picture begins, and what wrote it. */
const KEPT = [
  ['KTXorientation', 'rd'],
  ['KTXwriter', 'Lithe Sieve'],
] as const;
/** Colour primaries of BT.709, and transfer functions (Khronos Data Format Specification 1.3, §5.7, §5.8). */
const BT709 = 1;
const [LINEAR, SRGB] = [1, 2];
/** Enough for blocks, which hardly get smaller at higher ones. */
const ZLIB_EFFORT = 6;
const SAMPLE = 16;
const BLOCK_HEAD = 24;

const aligned = (at: number, to: number) => Math.ceil(at / to) * to;

/**
 * A KTX 2.0 ("KTX File Format Specification", version 2.0): two dimensions, straight alpha, origin at the top left.
 *
 * @param levels - Level 0 first, each half the size of the one before, rounded down. In the file the smallest is first.
 * @param zlib - Whether each level is compressed as a whole.
 */
export function writeKtx2(
  levels: readonly StoredLevel[],
  format: TextureFormat,
  holds: 'colour' | 'values',
  zlib = false,
): Uint8Array {
  const { colour, values, side, bytes } = KTX2_FORMATS[format];
  const vkFormat = holds === 'colour' ? colour : values;
  const descriptor = descriptorOf(format, holds === 'colour' && colour !== values);
  const kept = keptValues();
  const stored = levels.map(({ data }) => (zlib ? zlibSync(data, { level: ZLIB_EFFORT }) : data));
  const dfd = KTX2_HEAD + KTX2_LEVEL * levels.length;
  const kvd = dfd + descriptor.length;
  // of blocks and words: nothing is aligned where it is compressed
  const to = zlib ? 1 : Math.max(4, bytes);
  const places: number[] = [];
  let end = kvd + kept.length;
  for (let i = levels.length - 1; i >= 0; i--) {
    places[i] = aligned(end, to);
    end = places[i] + stored[i].length;
  }
  const out = new Uint8Array(end);
  const view = new DataView(out.buffer);
  out.set(KTX2_IDENTIFIER);
  const [{ width, height }] = levels;
  const words = [
    ...[vkFormat, 1, width, height, 0, 0, 1, levels.length, zlib ? KTX2_ZLIB : KTX2_PLAIN],
    ...[dfd, descriptor.length, kvd, kept.length],
  ];
  for (const [i, word] of words.entries()) view.setUint32(KTX2_IDENTIFIER.length + 4 * i, word, true);
  for (const [i, { data }] of levels.entries()) {
    const entry = KTX2_HEAD + KTX2_LEVEL * i;
    for (const [k, value] of [places[i], stored[i].length, data.length].entries()) {
      view.setUint32(entry + 8 * k, value, true);
    }
    out.set(stored[i], places[i]);
  }
  out.set(descriptor, dfd);
  out.set(kept, kvd);
  return out;

  function descriptorOf(of: TextureFormat, isSrgb: boolean): Uint8Array {
    const { model, samples } = KTX2_FORMATS[of];
    const block = new Uint8Array(4 + BLOCK_HEAD + SAMPLE * samples.length);
    const put = new DataView(block.buffer);
    put.setUint32(0, block.length, true);
    put.setUint32(4, 0, true); // Khronos, basic format
    put.setUint16(8, 2, true); // version 1.3
    put.setUint16(10, block.length - 4, true);
    block.set([model, BT709, isSrgb ? SRGB : LINEAR, 0, side - 1, side - 1, 0, 0, bytes], 12);
    for (const [i, sample] of samples.entries()) {
      const at = 4 + BLOCK_HEAD + SAMPLE * i;
      put.setUint16(at, sample.offset, true);
      block.set([sample.bits - 1, channelType(sample, isSrgb)], at + 2);
      put.setUint32(at + 12, sample.upper, true);
    }
    return block;
  }
}

function keptValues(): Uint8Array {
  const entries = KEPT.map(([key, value]) => {
    const bytes = utf8(`${key}\0${value}\0`);
    const entry = new Uint8Array(aligned(4 + bytes.length, 4));
    new DataView(entry.buffer).setUint32(0, bytes.length, true);
    entry.set(bytes, 4);
    return entry;
  });
  const out = new Uint8Array(entries.reduce((sum, e) => sum + e.length, 0));
  entries.reduce((at, entry) => (out.set(entry, at), at + entry.length), 0);
  return out;
}
