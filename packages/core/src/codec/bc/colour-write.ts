/* The bits of a block's colour, Khronos Data Format Specification 1.3, S3TC (§18). */

/** Up to sixteen colours that are to be met, those of transparent texels left out. */
export interface ColourBlock {
  count: number;
  /** 0–255. */
  red: Int32Array;
  green: Int32Array;
  blue: Int32Array;
  /** How much each counts, 1–16. */
  weight: Int32Array;
  /** Which texel of the block each is. */
  texel: Int32Array;
}

export function colourBlock(): ColourBlock {
  const list = () => new Int32Array(16);
  return { count: 0, red: list(), green: list(), blue: list(), weight: list(), texel: list() };
}

/** Steps from the first end as the format numbers them: the ends are 0 and 1, what lies between comes after. */
const FOUR = [0, 2, 3, 1];
const FOUR_SWAPPED = [1, 3, 2, 0];
const THREE = [0, 2, 1];
const THREE_SWAPPED = [1, 2, 0];
const SAME = [0, 0, 0, 0];

/** The order of the two ends says which palette is meant. */
export function packColour(
  { count, texel }: ColourBlock,
  three: boolean,
  ends: Int32Array,
  indices: Int32Array,
  out: Uint8Array,
  at: number,
): void {
  const first = (ends[0] << 11) | (ends[1] << 5) | ends[2];
  const second = (ends[3] << 11) | (ends[4] << 5) | ends[5];
  const swap = three ? first > second : first < second;
  const numbers = first === second ? SAME : three ? (swap ? THREE_SWAPPED : THREE) : swap ? FOUR_SWAPPED : FOUR;
  let bits = count < 16 ? -1 : 0;
  for (let i = 0; i < count; i++) {
    const shift = 2 * texel[i];
    bits = (bits & ~(3 << shift)) | (numbers[indices[i]] << shift);
  }
  writeColour(out, at, swap ? second : first, swap ? first : second, bits);
}

export function writeColour(out: Uint8Array, at: number, first: number, second: number, bits: number): void {
  out[at] = first & 255;
  out[at + 1] = first >> 8;
  out[at + 2] = second & 255;
  out[at + 3] = second >> 8;
  out[at + 4] = bits & 255;
  out[at + 5] = (bits >>> 8) & 255;
  out[at + 6] = (bits >>> 16) & 255;
  out[at + 7] = bits >>> 24;
}
