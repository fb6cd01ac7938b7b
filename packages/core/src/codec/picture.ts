import type { Raster, Samples } from '../raster/raster.ts';

export const FORMAT_NAMES = ['png', 'jpeg', 'webp', 'tiff', 'dds', 'ktx2', 'tga'] as const;
export type FormatName = (typeof FORMAT_NAMES)[number];

/** A file as it was read: samples in the file's own channels and depth, palettes resolved. */
export interface DecodedPicture {
  format: FormatName;
  raster: Raster<Samples>;
  /** Bits of one sample as stored: 1, 2, 4, 5, 8 or 16. */
  bitDepth: number;
  /** Colours came through a palette. */
  palette: boolean;
  /** What a person should know about the file, in plain sentences. */
  notes: string[];
}

/** What a file claims before it is decoded. */
export interface DeclaredSize {
  width: number;
  height: number;
  /** Bytes of a decoded texel. */
  bytesPerTexel: number;
  /** Its rows can be read one after the other, so that it is never in memory whole. */
  byRows?: boolean;
}
