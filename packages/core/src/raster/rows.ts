import type { Raster, Samples } from './raster.ts';

/** Takes the rows of a picture, from the top, one after the other. */
export interface RowSink {
  /**
   * @param rgba - The row as 8-bit RGBA, as words; valid for the time of the call.
   * @param samples - The row as the file has it, in its own channels and depth; of a picture without alpha perhaps wider.
   */
  row(y: number, rgba: Uint32Array, samples: Samples): void;
}

/** Makes the sink of a picture, given its size and channels, once. */
export type OpenSink = (size: { width: number; height: number; channels: 1 | 2 | 3 | 4 }) => RowSink;

/** The 8 bits nearest to 16: v / 257. */
const nearestByte = (v: number) => (v * 255 + 32895) >>> 16;

/** Turns rows of samples into rows of 8-bit RGBA, in one buffer that it uses again. */
export class RowWidener {
  private readonly bytes: Uint8Array;
  private readonly words: Uint32Array;

  private readonly narrow: Uint8Array;

  constructor(
    width: number,
    private readonly channels: number,
  ) {
    this.bytes = new Uint8Array(width * 4);
    this.narrow = new Uint8Array(width * channels);
    this.words = new Uint32Array(this.bytes.buffer);
  }

  /** As `toRgba8` does it: grey spread, a missing alpha full, 16 bits rounded to the nearest of 8. */
  widen(samples: Samples): Uint32Array {
    if (this.channels === 4 && samples instanceof Uint16Array) {
      narrowRgba(samples, this.words);
      return this.words;
    }
    const narrow = samples instanceof Uint8Array ? samples : this.narrowed(samples);
    if (this.channels === 4) this.bytes.set(narrow);
    else if (this.channels === 3) spreadRgb(narrow, this.words);
    else spreadGrey(narrow, this.words, this.channels);
    return this.words;
  }

  private narrowed(samples: Uint16Array): Uint8Array {
    const out = this.narrow;
    const count = out.length;
    for (let i = 0; i < count; i++) out[i] = nearestByte(samples[i]);
    return out;
  }
}

function narrowRgba(data: Uint16Array, out: Uint32Array): void {
  for (let x = 0, i = 0; x < out.length; x++, i += 4) {
    out[x] =
      nearestByte(data[i]) |
      (nearestByte(data[i + 1]) << 8) |
      (nearestByte(data[i + 2]) << 16) |
      (nearestByte(data[i + 3]) << 24);
  }
}

function spreadRgb(data: Uint8Array, out: Uint32Array): void {
  for (let x = 0, i = 0; x < out.length; x++, i += 3) {
    out[x] = data[i] | (data[i + 1] << 8) | (data[i + 2] << 16) | 0xff000000;
  }
}

function spreadGrey(data: Uint8Array, out: Uint32Array, channels: number): void {
  for (let x = 0, i = 0; x < out.length; x++, i += channels) {
    out[x] = (data[i] * 0x010101) | ((channels === 2 ? data[i + 1] : 255) << 24);
  }
}

/** The rows of a whole raster, without a copy of it. */
export function feedRows({ width, height, channels, data }: Raster<Samples>, sink: RowSink): void {
  const direct = channels === 4 && data instanceof Uint8Array && data.byteOffset % 4 === 0;
  const words = direct ? new Uint32Array(data.buffer, data.byteOffset, width * height) : null;
  const widener = new RowWidener(width, channels);
  for (let y = 0; y < height; y++) {
    const samples = data.subarray(y * width * channels, (y + 1) * width * channels);
    sink.row(y, words ? words.subarray(y * width, (y + 1) * width) : widener.widen(samples), samples);
  }
}
