import { mix32 } from '../math/mix.ts';
import { asWords, makePicture, type Picture } from './raster.ts';
import type { RowSink } from './rows.ts';

/**
 * A picture of one texel out of each cell of 2^halvings × 2^halvings, picked by a fixed scatter: what share of the texels
 * passes is estimated from these without bias, where averages of cells would take thin parts for soft ones (stratified
 * sampling, W. G. Cochran, "Sampling Techniques", 1977, ch. 5 (mem)). Not for looking at.
 */
export class RowSampler implements RowSink {
  private readonly width: number;
  private readonly height: number;
  private readonly out: Uint32Array;

  constructor(
    private readonly size: { width: number; height: number },
    halvings: number,
  ) {
    this.width = Math.max(1, size.width >> Math.max(0, halvings));
    this.height = Math.max(1, size.height >> Math.max(0, halvings));
    this.out = new Uint32Array(this.width * this.height);
  }

  row(y: number, rgba: Uint32Array): void {
    const { width, height, out, size } = this;
    const down = Math.min(height - 1, Math.floor((y * height) / size.height));
    for (let i = down * width, x = 0; x < width; x++, i++) {
      const h = scatter(i);
      if (Math.floor(((down + (h & 0xffff) / 65536) * size.height) / height) !== y) continue;
      out[i] = rgba[Math.floor(((x + (h >>> 16) / 65536) * size.width) / width)];
    }
  }

  picture(): Picture {
    return makePicture(this.width, this.height, new Uint8Array(this.out.buffer));
  }
}

/** See {@link RowSampler}. */
export function sampleTexels(picture: Picture, halvings: number): Picture {
  const sampler = new RowSampler(picture, halvings);
  const words = asWords(picture.data);
  for (let y = 0; y < picture.height; y++) sampler.row(y, words.subarray(y * picture.width, (y + 1) * picture.width));
  return sampler.picture();
}

const scatter = (i: number): number => mix32(Math.imul(i + 1, 0x9e3779b1));
