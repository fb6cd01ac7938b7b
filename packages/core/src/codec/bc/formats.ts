/**
 * Formats of 4 × 4 texel blocks, Khronos Data Format Specification 1.3: S3TC (§18), RGTC (§19), BPTC (§20), under the names
 * that DDS files give them.
 */
export const BLOCK_FORMATS = {
  BC1: { bytes: 8, channels: 4, hint: 'Colour and 1 bit of alpha, 4 bits a texel' },
  BC3: { bytes: 16, channels: 4, hint: 'Colour and alpha, 8 bits a texel' },
  BC4: { bytes: 8, channels: 1, hint: 'One channel, 4 bits a texel' },
  BC5: { bytes: 16, channels: 2, hint: 'Two channels, 8 bits a texel' },
  BC7: { bytes: 16, channels: 4, hint: 'Colour and alpha, finer, 8 bits a texel' },
} as const;

export type BlockFormat = keyof typeof BLOCK_FORMATS;
export const BLOCK_FORMAT_NAMES = Object.keys(BLOCK_FORMATS) as BlockFormat[];

/** A compressed picture: blocks row by row, those at the right and bottom border filled up beyond it. */
export interface Blocks {
  format: BlockFormat;
  width: number;
  height: number;
  data: Uint8Array;
}

export function blockBytes(format: BlockFormat, width: number, height: number): number {
  return BLOCK_FORMATS[format].bytes * Math.ceil(width / 4) * Math.ceil(height / 4);
}

/** How long the two colours of a block are sought. */
export const EFFORTS = ['quick', 'fine'] as const;
export type Effort = (typeof EFFORTS)[number];
