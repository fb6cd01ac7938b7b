import { SieveError } from '../../errors.ts';
import type { Raster } from '../../raster/raster.ts';
import { decodeBc7 } from '../dds/bc7.ts';
import { decodeBc1, decodeBc3, decodeBc4, decodeBc5 } from '../dds/blocks.ts';
import { BLOCK_FORMATS, blockBytes, type BlockFormat, type Blocks } from './formats.ts';

const DECODERS: Record<BlockFormat, (block: Uint8Array, at: number, out: Uint8Array) => void> = {
  BC1: decodeBc1,
  BC3: decodeBc3,
  BC4: decodeBc4,
  BC5: decodeBc5,
  BC7: decodeBc7,
};

/**
 * The picture that a graphics card reads out of blocks.
 *
 * @returns RGBA; one channel of BC4, two of BC5.
 * @throws {@link SieveError} `truncated` where there are too few bytes for the size.
 */
export function decodeBlocks({ format, width, height, data }: Blocks): Raster {
  const { bytes, channels } = BLOCK_FORMATS[format];
  const expected = blockBytes(format, width, height);
  if (data.length < expected) {
    throw new SieveError(
      'truncated',
      `${format} of ${width} × ${height} takes ${expected} bytes; here are ${data.length}.`,
    );
  }
  const out = new Uint8Array(width * height * channels);
  const texels = new Uint8Array(64);
  const decode = DECODERS[format];
  for (let y0 = 0, at = 0; y0 < height; y0 += 4) {
    for (let x0 = 0; x0 < width; x0 += 4, at += bytes) {
      decode(data, at, texels);
      const x1 = Math.min(width, x0 + 4);
      for (let y = y0; y < Math.min(height, y0 + 4); y++) {
        for (let x = x0; x < x1; x++) {
          const from = 4 * (4 * (y - y0) + x - x0);
          const to = (y * width + x) * channels;
          for (let c = 0; c < channels; c++) out[to + c] = texels[from + c];
        }
      }
    }
  }
  return { width, height, channels, data: out };
}
