import { cubeRoot, fifthRoot } from '../math/roots.ts';

/** An 8-bit colour, encoded. */
export type Rgb = [r: number, g: number, b: number];

/**
 * sRGB transfer function, IEC 61966-2-1: encoded and linear values in [0, 1].
 * The powers are roots taken by Newton's method, so that every engine gives the same bits.
 */
export function srgbToLinear(encoded: number): number {
  if (encoded <= 0.04045) return encoded / 12.92;
  const x = (encoded + 0.055) / 1.055;
  const fifth = fifthRoot(x);
  return x * x * fifth * fifth; // x^2.4
}

export function linearToSrgb(linear: number): number {
  if (linear <= 0.0031308) return linear * 12.92;
  const twelfth = cubeRoot(Math.sqrt(Math.sqrt(linear)));
  return 1.055 * twelfth * twelfth * twelfth * twelfth * twelfth - 0.055; // x^(5/12)
}

/** Linear value of every 8-bit code. */
export const LINEAR_OF_BYTE = Float64Array.from({ length: 256 }, (_, code) => srgbToLinear(code / 255));
/** The same in 0–65535, rounded. */
export const LINEAR16_OF_BYTE = Uint16Array.from(LINEAR_OF_BYTE, (linear) => Math.floor(linear * 65535 + 0.5));

let byteOfLinear16: Uint8Array | undefined;

/** Nearest 8-bit code of every 16-bit linear value; 64 KiB, made on first use. */
export function byteOfLinear16Table(): Uint8Array {
  byteOfLinear16 ??= Uint8Array.from({ length: 65536 }, (_, v) => Math.floor(linearToSrgb(v / 65535) * 255 + 0.5));
  return byteOfLinear16;
}
