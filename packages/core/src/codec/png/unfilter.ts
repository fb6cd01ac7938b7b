import { SieveError } from '../../errors.ts';
import { SAVE_AGAIN } from '../byte-reader.ts';

import { paethWords, predict, subWords, upWords } from './unfilter-words.ts';

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
  const line = new Uint8Array((stride + 3) & ~3);
  const words = step === 4 ? new Uint32Array(line.buffer) : null;
  const outWords = words && new Uint32Array(out.buffer, out.byteOffset, out.length >> 2);
  let at = from;
  for (let y = 0; y < rows; y++) {
    const filter = lines[at++];
    const row = out.subarray(y * stride, (y + 1) * stride);
    if (filter > 4) {
      throw new SieveError('corrupt', `Row ${y} of the PNG names filter ${filter}; there are 0 to 4.`, SAVE_AGAIN);
    }
    if (filter === 0) row.set(lines.subarray(at, at + stride));
    else if (words && outWords && y > 0 && filter !== 3) {
      line.set(lines.subarray(at, at + stride));
      const to = y * words.length;
      if (filter === 1) subWords(words, outWords, to);
      else if (filter === 2) upWords(words, outWords, to, to - words.length);
      else paethWords(words, outWords, to, to - words.length);
    } else undo(filter, lines, at, row, y > 0 ? out.subarray((y - 1) * stride, y * stride) : zero, step);
    at += stride;
  }
}

/**
 * Reconstructs one scanline.
 *
 * @param line - Its filter byte, then its bytes.
 * @param above - The line before, unfiltered; zeros before the first.
 */
export function unfilterLine(line: Uint8Array, row: Uint8Array, above: Uint8Array, step: number, y: number): void {
  const [filter] = line;
  if (filter > 4) {
    throw new SieveError('corrupt', `Row ${y} of the PNG names filter ${filter}; there are 0 to 4.`, SAVE_AGAIN);
  }
  if (filter === 0) row.set(line.subarray(1));
  else undo(filter, line, 1, row, above, step);
}

function undo(filter: number, lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array, step: number): void {
  if (filter === 1) sub(lines, at, row, step);
  else if (filter === 2) up(lines, at, row, above);
  else if (filter === 3) average(lines, at, row, above, step);
  else paeth(lines, at, row, above, step);
}

/*
 * Sub, Average and Paeth go channel by channel, so that the neighbour to the left stays in a register: reading it back
 * from the row just written costs three times as much.
 */

function sub(lines: Uint8Array, at: number, row: Uint8Array, step: number): void {
  const n = row.length;
  for (let channel = 0; channel < step; channel++) {
    let left = 0;
    for (let i = channel; i < n; i += step) {
      left = (left + lines[at + i]) & 255;
      row[i] = left;
    }
  }
}

function up(lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array): void {
  const n = row.length;
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    row[i] = lines[at + i] + above[i];
    row[i + 1] = lines[at + i + 1] + above[i + 1];
    row[i + 2] = lines[at + i + 2] + above[i + 2];
    row[i + 3] = lines[at + i + 3] + above[i + 3];
  }
  for (; i < n; i++) row[i] = lines[at + i] + above[i];
}

function average(lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array, step: number): void {
  const n = row.length;
  for (let channel = 0; channel < step; channel++) {
    let left = 0;
    for (let i = channel; i < n; i += step) {
      left = (lines[at + i] + ((left + above[i]) >> 1)) & 255;
      row[i] = left;
    }
  }
}

function paeth(lines: Uint8Array, at: number, row: Uint8Array, above: Uint8Array, step: number): void {
  const n = row.length;
  for (let channel = 0; channel < step; channel++) {
    let left = 0;
    let corner = 0;
    for (let i = channel; i < n; i += step) {
      const b = above[i];
      left = (lines[at + i] + predict(left, b, corner)) & 255;
      row[i] = left;
      corner = b;
    }
  }
}
