/* The bits of a BC7 block in modes 5 and 6, Khronos Data Format Specification 1.3, BPTC (§20.1). */

/** A block as it was fitted: ends as written, first and second of each channel, and indices. */
export interface Fit {
  error: number;
  ends: Int32Array;
  /** Shared low bit of either end, mode 6. */
  low: [number, number];
  indices: Uint8Array;
  /** Indices of alpha, mode 5. */
  second: Uint8Array;
}

let bytes: Uint8Array;
let bit = 0;

/** Puts bits, lowest first, behind those put before. */
function put(value: number, count: number): void {
  for (let k = 0; k < count; k++, bit++) {
    if ((value >> k) & 1) bytes[bit >> 3] |= 1 << (bit & 7);
  }
}

function begin(out: Uint8Array, at: number, mode: number): void {
  bytes = out.subarray(at, at + 16);
  bytes.fill(0);
  bit = 0;
  put(1 << mode, mode + 1);
}

/** The first index leaves out its highest bit: where that is set, the ends change places. */
export function writeSix({ ends, low, indices }: Fit, out: Uint8Array, at: number): void {
  const swap = indices[0] >= 8 ? 1 : 0;
  begin(out, at, 6);
  for (let c = 0; c < 4; c++) {
    put(ends[2 * c + swap], 7);
    put(ends[2 * c + 1 - swap], 7);
  }
  put(low[swap], 1);
  put(low[1 - swap], 1);
  for (let i = 0; i < 16; i++) put(swap ? 15 - indices[i] : indices[i], i === 0 ? 3 : 4);
}

export function writeFive({ ends, indices, second }: Fit, out: Uint8Array, at: number): void {
  const swap = indices[0] >= 2 ? 1 : 0;
  const swapAlpha = second[0] >= 2 ? 1 : 0;
  begin(out, at, 5);
  put(0, 2); // no channel in the place of alpha
  for (let c = 0; c < 3; c++) {
    put(ends[2 * c + swap], 7);
    put(ends[2 * c + 1 - swap], 7);
  }
  put(ends[6 + swapAlpha], 8);
  put(ends[7 - swapAlpha], 8);
  for (let i = 0; i < 16; i++) put(swap ? 3 - indices[i] : indices[i], i === 0 ? 1 : 2);
  for (let i = 0; i < 16; i++) put(swapAlpha ? 3 - second[i] : second[i], i === 0 ? 1 : 2);
}
