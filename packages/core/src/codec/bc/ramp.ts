/*
 * One channel of a block, Khronos Data Format Specification 1.3, RGTC (§19): two ends of 8 bits, and sixteen indices of
 * 3 bits into eight values between them, or into six and 0 and 255.
 */

/** Values of a block's palette in rising order as they are rounded, and the index that stands for each. */
const palette = new Uint8Array(8);
/**
 * The same cut off and rounded up: decoders round, cut off, or keep the exact value between (the standard says which, not
 * all do so), and none comes to less or to more than these.
 */
const floors = new Uint8Array(8);
const ceilings = new Uint8Array(8);
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
 * @param threshold - Byte, 1–255: every value stays on its side of it, however a decoder rounds; 0 or 256: the nearest is
 *   taken.
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
  for (let p = 0; p < 8; p++) {
    const sevenths = imul(p, span);
    palette[p] = least + (((2 * sevenths + 7) / 14) | 0);
    floors[p] = least + ((sevenths / 7) | 0);
    ceilings[p] = least + (((sevenths + 6) / 7) | 0);
  }
  for (let p = 0; p < 8; p++) codes[p] = EIGHT[p];
}

function sixBetween(least: number, most: number): void {
  const span = most - least;
  palette[0] = floors[0] = ceilings[0] = 0;
  palette[7] = floors[7] = ceilings[7] = 255;
  for (let p = 0; p < 6; p++) {
    const fifths = imul(p, span);
    palette[p + 1] = least + (((2 * fifths + 5) / 10) | 0);
    floors[p + 1] = least + ((fifths / 5) | 0);
    ceilings[p + 1] = least + (((fifths + 4) / 5) | 0);
  }
  for (let p = 0; p < 8; p++) codes[p] = SIX[p];
}

/**
 * Gives each value the nearest of the palette on its side; there is always one, since the ends are values themselves.
 *
 * @returns the sum of squared errors.
 */
function place(values: Uint8Array, threshold: number): number {
  const b0 = palette[0] + palette[1];
  const b1 = palette[1] + palette[2];
  const b2 = palette[2] + palette[3];
  const b3 = palette[3] + palette[4];
  const b4 = palette[4] + palette[5];
  const b5 = palette[5] + palette[6];
  const b6 = palette[6] + palette[7];
  // what lies between the two is on one side for one decoder, and on the other for the next
  let firstKept = 0;
  while (firstKept < 8 && floors[firstKept] < threshold) firstKept++;
  let lastDropped = 7;
  while (lastDropped >= 0 && ceilings[lastDropped] >= threshold) lastDropped--;
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
    if (v >= threshold) p = p < firstKept ? firstKept : p;
    else p = p > lastDropped ? lastDropped : p;
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
