/** ITU-R BT.709 luma weights, applied to encoded values as a mask painter sees them. They sum to 1. */
export const REC709 = { r: 0.2126, g: 0.7152, b: 0.0722 } as const;

/** The weights in 1/65536, rounded so that they sum to 65536: white stays 255. */
export const REC709_FIXED = { r: 13933, g: 46871, b: 4732 } as const;

/** Luma of an R8 G8 B8 A8 texel read as a little-endian word, 0–255, rounded to nearest. */
export function luminanceOfWord(w: number): number {
  const redAndGreen = Math.imul(w & 255, RED) + Math.imul((w >>> 8) & 255, GREEN);
  return (redAndGreen + Math.imul((w >>> 16) & 255, BLUE) + 32768) >>> 16;
}

const { r: RED, g: GREEN, b: BLUE } = REC709_FIXED;

/** Luma of 8-bit R, G, B, 0–255, rounded to nearest. */
export function luminance8(r: number, g: number, b: number): number {
  return (REC709_FIXED.r * r + REC709_FIXED.g * g + REC709_FIXED.b * b + 32768) >>> 16;
}
