import { SieveError } from '../../errors.ts';
import { SAVE_AGAIN } from './chunks.ts';

/**
 * Reconstructs one pass of filtered scanlines (PNG 3rd edition §9).
 *
 * @param lines - Filter byte and `stride` bytes a row, starting at `from`.
 * @param step - Bytes of a whole pixel, at least 1.
 * @param out - Receives `rows * stride` bytes, without filter bytes.
 */
export function unfilter(
  lines: Uint8Array,
  from: number,
  rows: number,
  stride: number,
  step: number,
  out: Uint8Array,
): void {
  const zero = new Uint8Array(stride);
  let at = from;
  for (let y = 0; y < rows; y++) {
    const filter = lines[at++];
    const row = out.subarray(y * stride, (y + 1) * stride);
    const above = y > 0 ? out.subarray((y - 1) * stride, y * stride) : zero;
    if (filter === 0) row.set(lines.subarray(at, at + stride));
    else if (filter === 1) sub(lines, at, row, step);
    else if (filter === 2) up(lines, at, row, above);
    else if (filter === 3) average(lines, at, row, above, step);
    else if (filter === 4) paeth(lines, at, row, above, step);
    else throw new SieveError('corrupt', `Row ${y} of the PNG names filter ${filter}; there are 0 to 4.`, SAVE_AGAIN);
    at += stride;
  }
}

function sub(lines: Uint8Array, at: number, row: Uint8Array, step: number): void {
  const n = row.length;
  for (let i = 0; i < step && i < n; i++) row[i] = lines[at + i];
  for (let i = step; i < n; i++) row[i] = lines[at + i] + row[i - step];
}

function up(lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array): void {
  const n = row.length;
  for (let i = 0; i < n; i++) row[i] = lines[at + i] + above[i];
}

function average(lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array, step: number): void {
  const n = row.length;
  for (let i = 0; i < step && i < n; i++) row[i] = lines[at + i] + (above[i] >> 1);
  for (let i = step; i < n; i++) row[i] = lines[at + i] + ((row[i - step] + above[i]) >> 1);
}

function paeth(lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array, step: number): void {
  const n = row.length;
  for (let i = 0; i < step && i < n; i++) row[i] = lines[at + i] + above[i];
  for (let i = step; i < n; i++) {
    const a = row[i - step];
    const b = above[i];
    const c = above[i - step];
    let pa = b - c;
    let pb = a - c;
    let pc = pa + pb;
    pa = pa < 0 ? -pa : pa;
    pb = pb < 0 ? -pb : pb;
    pc = pc < 0 ? -pc : pc;
    row[i] = lines[at + i] + (pa <= pb && pa <= pc ? a : pb <= pc ? b : c);
  }
}
