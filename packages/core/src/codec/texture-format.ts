import { BLOCK_FORMATS, type BlockFormat } from './bc/formats.ts';

/** How a graphics card keeps a texel: as one byte or four, or in blocks. */
export type TextureFormat = 'r8' | 'rgba8' | BlockFormat;

/** Bytes of one level. */
export function levelBytes(format: TextureFormat, width: number, height: number): number {
  if (format === 'r8') return width * height;
  if (format === 'rgba8') return 4 * width * height;
  return BLOCK_FORMATS[format].bytes * Math.ceil(width / 4) * Math.ceil(height / 4);
}

/** Of all levels, down to 1 × 1. */
export function allLevelBytes(format: TextureFormat, width: number, height: number): number {
  let sum = 0;
  for (let [w, h] = [width, height]; ; [w, h] = [Math.max(1, w >> 1), Math.max(1, h >> 1)]) {
    sum += levelBytes(format, w, h);
    if (w === 1 && h === 1) return sum;
  }
}

/** A level as it lies in a file. */
export interface StoredLevel {
  width: number;
  height: number;
  data: Uint8Array;
}
