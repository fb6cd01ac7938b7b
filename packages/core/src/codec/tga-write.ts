import type { Raster } from '../raster/raster.ts';

const HEADER_BYTES = 18;
const AREA_BYTES = 495;
const FOOTER_BYTES = 26;
/** Packets hold 1 to 128 texels (TGA 2.0, field 8). */
const LONGEST = 128;

/**
 * Writes a TGA 2.0, run-length encoded, its first row on top: grey of 8 bits (type 11), else true colour of 24 or 32
 * bits (type 10), the latter with straight alpha (8 attribute bits, attributes type 3). No packet goes on into the next
 * row, as the specification advises.
 *
 * @param raster - 1, 3 or 4 channels. @throws RangeError beyond 65535 texels a side.
 */
export function writeTga({ width, height, channels, data }: Raster): Uint8Array {
  if (width > 65535 || height > 65535) throw new RangeError(`${width} × ${height} is more than a TGA says.`);
  const most =
    HEADER_BYTES + width * height * channels + Math.ceil(width / LONGEST) * height + AREA_BYTES + FOOTER_BYTES;
  const out = new Uint8Array(most);
  const view = new DataView(out.buffer);
  out[2] = channels === 1 ? 11 : 10;
  view.setUint16(12, width, true);
  view.setUint16(14, height, true);
  out[16] = 8 * channels;
  out[17] = 0x20 | (channels === 4 ? 8 : 0);
  let at = HEADER_BYTES;
  for (let y = 0; y < height; y++) at = writeRow(data, y * width, width, channels, out, at);
  return out.slice(0, writeEnd(out, at, channels === 4));
}

/** The extension area, which says what alpha is (field 24), and the footer that leads to it. */
function writeEnd(out: Uint8Array, at: number, hasAlpha: boolean): number {
  const view = new DataView(out.buffer);
  view.setUint16(at, AREA_BYTES, true);
  out[at + AREA_BYTES - 1] = hasAlpha ? 3 : 0;
  const footer = at + AREA_BYTES;
  view.setUint32(footer, at, true);
  const signature = 'TRUEVISION-XFILE.\0';
  for (let i = 0; i < signature.length; i++) out[footer + 8 + i] = signature.charCodeAt(i);
  return footer + FOOTER_BYTES;
}

/** @param first - Texel that the row begins with. @returns Where the next one goes. */
function writeRow(data: Uint8Array, first: number, width: number, step: number, out: Uint8Array, at: number): number {
  const end = first + width;
  for (let i = first; i < end;) {
    const run = runAt(data, i, Math.min(end, i + LONGEST), step);
    if (run > 1) {
      out[at] = 128 | (run - 1);
      put(data, i, 1, step, out, at + 1);
      at += 1 + step;
      i += run;
      continue;
    }
    let next = i + 1; // raw texels, up to where two are alike
    while (next < end && next - i < LONGEST && runAt(data, next, Math.min(end, next + 2), step) < 2) next++;
    out[at] = next - i - 1;
    put(data, i, next - i, step, out, at + 1);
    at += 1 + step * (next - i);
    i = next;
  }
  return at;
}

/** How many texels from here on are alike. */
function runAt(data: Uint8Array, from: number, end: number, step: number): number {
  let next = from + 1;
  for (; next < end; next++) {
    for (let k = 0; k < step; k++) if (data[next * step + k] !== data[from * step + k]) return next - from;
  }
  return next - from;
}

/** Blue comes first in a TGA. */
function put(data: Uint8Array, from: number, count: number, step: number, out: Uint8Array, at: number): void {
  for (let i = from * step; i < (from + count) * step; i += step, at += step) {
    if (step === 1) out[at] = data[i];
    else {
      out[at] = data[i + 2];
      out[at + 1] = data[i + 1];
      out[at + 2] = data[i];
      if (step === 4) out[at + 3] = data[i + 3];
    }
  }
}
