import type { Raster, Samples } from '../../raster/raster.ts';
import type { Deflate } from '../platform.ts';

/** Bytes of a strip before it is compressed. */
const STRIP_BYTES = 1 << 20;
const [SHORT, LONG] = [3, 4];

/**
 * Writes a TIFF 6.0, little-endian, in strips compressed by Deflate (compression 8) with the horizontal predictor (section 14):
 * grey, RGB or RGBA of 8 or 16 bits. Alpha is straight, which its tag says: ExtraSamples 2 (section 18).
 *
 * @param raster - 1, 3 or 4 channels.
 */
export async function writeTiff(
  { width, height, channels, data }: Raster<Samples>,
  deflate: Deflate,
): Promise<Uint8Array> {
  const line = width * channels;
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP_BYTES / (line * data.BYTES_PER_ELEMENT))));
  const strips: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows) {
    strips.push(await deflate([predicted(data.subarray(y * line, Math.min(height, y + rows) * line), line, channels)]));
  }
  const bits = 8 * data.BYTES_PER_ELEMENT;
  const offsets: number[] = [];
  let end = 8;
  for (const strip of strips) {
    offsets.push(end);
    end += strip.length + (strip.length % 2); // directories begin on a word
  }
  const directory = directoryOf(end, [
    [256, LONG, [width]],
    [257, LONG, [height]],
    [258, SHORT, Array.from({ length: channels }, () => bits)],
    [259, SHORT, [8]],
    [262, SHORT, [channels === 1 ? 1 : 2]],
    [273, LONG, offsets],
    [277, SHORT, [channels]],
    [278, LONG, [rows]],
    [279, LONG, strips.map((s) => s.length)],
    [284, SHORT, [1]],
    [317, SHORT, [2]],
    ...(channels === 4 ? [[338, SHORT, [2]] as Tag] : []),
    [339, SHORT, Array.from({ length: channels }, () => 1)],
  ]);
  const out = new Uint8Array(end + directory.length);
  out.set([0x49, 0x49, 42, 0]);
  new DataView(out.buffer).setUint32(4, end, true);
  for (const [i, strip] of strips.entries()) out.set(strip, offsets[i]);
  out.set(directory, end);
  return out;
}

type Tag = [tag: number, type: number, values: number[]];

/** An image file directory, the values that do not fit into it after it. @param at - Where in the file it will lie. */
function directoryOf(at: number, tags: readonly Tag[]): Uint8Array {
  const head = 2 + 12 * tags.length + 4;
  const sizes = tags.map(([, type, values]) => (type === SHORT ? 2 : 4) * values.length);
  const more = sizes.reduce((sum, size) => sum + (size > 4 ? size + (size % 4) : 0), 0);
  const out = new Uint8Array(head + more);
  const view = new DataView(out.buffer);
  view.setUint16(0, tags.length, true);
  let apart = head;
  for (const [i, [tag, type, values]] of tags.entries()) {
    const entry = 2 + 12 * i;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setUint32(entry + 4, values.length, true);
    const inside = sizes[i] <= 4;
    if (!inside) view.setUint32(entry + 8, at + apart, true);
    let to = inside ? entry + 8 : apart;
    for (const value of values) {
      if (type === SHORT) view.setUint16(to, value, true);
      else view.setUint32(to, value, true);
      to += type === SHORT ? 2 : 4;
    }
    if (!inside) apart += sizes[i] + (sizes[i] % 4);
  }
  return out;
}

/** Each sample less the one before it of its channel; of 16 bits the low byte first. */
function predicted(rows: Samples, line: number, channels: number): Uint8Array {
  const out = rows.slice();
  for (let from = 0; from < rows.length; from += line) {
    for (let i = from + line - 1; i >= from + channels; i--) out[i] = rows[i] - rows[i - channels];
  }
  return new Uint8Array(out.buffer, out.byteOffset, out.byteLength); // typed arrays are little-endian wherever this runs
}
