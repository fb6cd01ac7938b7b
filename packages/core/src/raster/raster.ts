import { SieveError } from '../errors.ts';

export type Samples = Uint8Array | Uint16Array;

/**
 * A picture: row-major, origin top left, channels interleaved, alpha straight.
 * 1 grey, 2 grey + alpha, 3 RGB, 4 RGBA. 8-bit samples run 0–255, 16-bit ones 0–65535, in sRGB encoding.
 */
export interface Raster<S extends Samples = Uint8Array> {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 2 | 3 | 4;
  readonly data: S;
}

/** One 8-bit channel: 0 dropped, 255 kept. */
export type Mask = Raster & { readonly channels: 1 };
/** 8-bit RGBA. */
export type Picture = Raster & { readonly channels: 4 };

/** Where samples come from: `SharedArrayBuffer` in the browser (never detached, shared by threads), heap elsewhere. */
export type Allocate = (bytes: number) => Uint8Array;
export const allocateHeap: Allocate = (bytes) => new Uint8Array(bytes);

/** Samples of 16 bits from where bytes come from. */
export function allocate16(length: number, allocate: Allocate): Uint16Array {
  const bytes = allocate(2 * length);
  return new Uint16Array(bytes.buffer, bytes.byteOffset, length);
}

export function makeMask(width: number, height: number, data: Uint8Array): Mask {
  assertSize('mask', data, width * height);
  return { width, height, channels: 1, data };
}

export function makePicture(width: number, height: number, data: Uint8Array): Picture {
  assertSize('picture', data, width * height * 4);
  return { width, height, channels: 4, data };
}

export function assertSize(name: string, data: ArrayLike<number>, expected: number): void {
  if (data.length !== expected) {
    throw new SieveError('size-mismatch', `${name} has ${data.length} samples, expected ${expected}.`);
  }
}

export function assertSameSize(name: string, a: Raster<Samples>, b: Raster<Samples>): void {
  if (a.width !== b.width || a.height !== b.height) {
    throw new SieveError('size-mismatch', `${name}: ${a.width} × ${a.height} against ${b.width} × ${b.height}.`);
  }
}

/** 16 bits rounded to the nearest of 8, v · 255 / 65535; bytes as they are. */
export function toEightBits(data: Samples): Uint8Array {
  if (data instanceof Uint8Array) return data;
  const out = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i++) out[i] = (data[i] * 255 + 32767) / 65535;
  return out;
}

/** The same bytes as 32-bit words; the samples must start on a word (all of ours do). */
export function asWords(data: Uint8Array): Uint32Array {
  return new Uint32Array(data.buffer, data.byteOffset, data.byteLength >> 2);
}
