/*
 * One channel of a block, Khronos Data Format Specification 1.3, RGTC (§19): two ends of 8 bits, and sixteen indices of
 * 3 bits into eight values between them, or into six and 0 and 255.
 */

/** Values of a block's palette in rising order, and the index that stands for each. */
const palette = new Uint8Array(8);
const codes = new Uint8Array(8);
const places = new Uint8Array(16);
const best = new Uint8Array(16);
const bestCodes = new Uint8Array(8);

const { imul } = Math;
const EIGHT = [1, 7, 6, 5, 4, 3, 2, 0];
const SIX = [6, 0, 2, 3, 4, 5, 1, 7];

/**
 * Encodes sixteen values into eight bytes.
 *
 * @param threshold - Byte, 1–255: every value stays on its side of it; 0 or 256: the nearest is taken.
 */
export function encodeRamp(values: Uint8Array, threshold: number, out: Uint8Array, at: number): void {
  let least = 255;
  let most = 0;
  let innerLeast = 255;
  let innerMost = 0;
  for (let i = 0; i < 16; i++) {
    const v = values[i];
    if (v < least) least = v;
    if (v > most) most = v;
    if (v !== 0 && v !== 255) {
      if (v < innerLeast) innerLeast = v;
      if (v > innerMost) innerMost = v;
    }
  }
  if (least === most) return writeRamp(out, at, least, least, null);
  eightBetween(least, most);
  const error = place(values, threshold);
  keepBest();
  if (error > 0 && (least === 0 || most === 255)) {
    const low = innerLeast < innerMost ? innerLeast : innerMost; // none between: both 0
    sixBetween(low, innerMost);
    if (place(values, threshold) < error) {
      keepBest();
      return writeRamp(out, at, low, innerMost, best);
    }
  }
  writeRamp(out, at, most, least, best);
}

function eightBetween(least: number, most: number): void {
  const span = most - least;
  for (let p = 0; p < 8; p++) palette[p] = least + (((imul(2 * p, span) + 7) / 14) | 0);
  for (let p = 0; p < 8; p++) codes[p] = EIGHT[p];
}

function sixBetween(least: number, most: number): void {
  const span = most - least;
  palette[0] = 0;
  palette[7] = 255;
  for (let p = 0; p < 6; p++) palette[p + 1] = least + (((imul(2 * p, span) + 5) / 10) | 0);
  for (let p = 0; p < 8; p++) codes[p] = SIX[p];
}

/** Gives each value the nearest of the palette on its side. @returns the sum of squared errors. */
function place(values: Uint8Array, threshold: number): number {
  const b0 = palette[0] + palette[1];
  const b1 = palette[1] + palette[2];
  const b2 = palette[2] + palette[3];
  const b3 = palette[3] + palette[4];
  const b4 = palette[4] + palette[5];
  const b5 = palette[5] + palette[6];
  const b6 = palette[6] + palette[7];
  let firstKept = 0;
  while (firstKept < 8 && palette[firstKept] < threshold) firstKept++;
  const sided = firstKept > 0 && firstKept < 8;
  let error = 0;
  for (let i = 0; i < 16; i++) {
    const v = values[i];
    const t = v << 1;
    let p =
      ((b0 - t) >>> 31) +
      ((b1 - t) >>> 31) +
      ((b2 - t) >>> 31) +
      ((b3 - t) >>> 31) +
      ((b4 - t) >>> 31) +
      ((b5 - t) >>> 31) +
      ((b6 - t) >>> 31);
    if (sided) {
      if (v >= threshold) p = p < firstKept ? firstKept : p;
      else p = p >= firstKept ? firstKept - 1 : p;
    }
    places[i] = p;
    const off = palette[p] - v;
    error = (error + imul(off, off)) | 0;
  }
  return error;
}

function keepBest(): void {
  for (let i = 0; i < 16; i++) best[i] = places[i];
  for (let p = 0; p < 8; p++) bestCodes[p] = codes[p];
}

function writeRamp(out: Uint8Array, at: number, a: number, b: number, indices: Uint8Array | null): void {
  out[at] = a;
  out[at + 1] = b;
  for (let half = 0; half < 2; half++) {
    let bits = 0;
    if (indices) for (let i = 7; i >= 0; i--) bits = (bits << 3) | bestCodes[indices[8 * half + i]];
    out[at + 2 + 3 * half] = bits & 255;
    out[at + 3 + 3 * half] = (bits >> 8) & 255;
    out[at + 4 + 3 * half] = bits >> 16;
  }
}
