import type { Raster } from '../../raster/raster.ts';
import type { Deflate } from '../platform.ts';
import { joinChunks } from './chunks.ts';

const COLOUR_TYPE = { 1: 0, 2: 4, 3: 2, 4: 6 } as const;

/**
 * Writes an 8-bit PNG (3rd edition): grey, grey + alpha, RGB or RGBA as the raster has channels, straight alpha,
 * marked as sRGB. Each row takes Sub or Up, whichever has the smaller sum of absolute differences (§12.7), judged on
 * every eighth pixel. Paeth was tried: twice the time, files between 4 % larger and 6 % smaller.
 */
export async function writePng(raster: Raster, deflate: Deflate): Promise<Uint8Array> {
  const header = new Uint8Array(13);
  const view = new DataView(header.buffer);
  view.setUint32(0, raster.width);
  view.setUint32(4, raster.height);
  view.setUint8(8, 8);
  view.setUint8(9, COLOUR_TYPE[raster.channels]);
  return joinChunks([
    { type: 'IHDR', data: header },
    { type: 'sRGB', data: Uint8Array.of(0) },
    { type: 'IDAT', data: await deflate(filterRows(raster)) },
    { type: 'IEND', data: new Uint8Array(0) },
  ]);
}

/** Scanlines of rows [from, to) with their filter bytes. */
export function filterRows(raster: Raster, from = 0, to = raster.height): Uint8Array {
  const step = raster.channels;
  const stride = raster.width * step;
  const out = new Uint8Array((to - from) * (stride + 1));
  const zero = new Uint8Array(stride);
  for (let y = from, at = 0; y < to; y++, at += stride + 1) {
    const row = raster.data.subarray(y * stride, (y + 1) * stride);
    const above = y > 0 ? raster.data.subarray((y - 1) * stride, y * stride) : zero;
    const filter = chooseFilter(row, above, step);
    out[at] = filter;
    if (filter === 1) sub(row, step, out, at + 1);
    else up(row, above, out, at + 1);
  }
  return out;
}

function chooseFilter(row: Uint8Array, above: Uint8Array, step: number): 1 | 2 {
  let bySub = 0;
  let byUp = 0;
  for (let x = step; x + step <= row.length; x += 8 * step) {
    for (let i = x; i < x + step; i++) {
      bySub += distance(row[i] - row[i - step]);
      byUp += distance(row[i] - above[i]);
    }
  }
  return byUp <= bySub ? 2 : 1;
}

/** Magnitude of a difference taken as a signed byte. */
function distance(difference: number): number {
  const d = (difference << 24) >> 24;
  return d < 0 ? -d : d;
}

function sub(row: Uint8Array, step: number, out: Uint8Array, at: number): void {
  for (let i = 0; i < step; i++) out[at + i] = row[i];
  for (let i = step; i < row.length; i++) out[at + i] = row[i] - row[i - step];
}

function up(row: Uint8Array, above: Uint8Array, out: Uint8Array, at: number): void {
  for (let i = 0; i < row.length; i++) out[at + i] = row[i] - above[i];
}
