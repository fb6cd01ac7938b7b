import { SieveError } from '../../errors.ts';
import { asWords, type Raster } from '../../raster/raster.ts';
import { thresholdByte } from '../../math/threshold.ts';
import { encodeBc7, texelBlock, type TexelBlock } from './bc7-encode.ts';
import { colourBlock, type ColourBlock } from './colour-write.ts';
import { encodeColourFinely } from './colour-fine.ts';
import { encodeColour } from './colour.ts';
import { BLOCK_FORMATS, blockBytes, type BlockFormat, type Blocks, type Effort } from './formats.ts';
import { encodeRamp } from './ramp.ts';

export interface EncodeOptions {
  format: BlockFormat;
  /** 0–1: no texel changes side of it (clip-exact). Without it the nearest value is taken, BC1 cuts at one half. */
  cutoff?: number;
  /** The material's opacity factor, 0–1. */
  opacity?: number;
  /** How long the colours of BC1 and BC3 are sought: `fine` takes ten to fifteen times as long. */
  effort?: Effort;
  /** Called after each row of blocks with the share done; cancels by throwing. */
  progress?: (share: number) => void;
}

/** What a colour counts: of a dropped texel only filters that reach across the edge see it. */
const KEPT_WEIGHT = 16;
const DROPPED_WEIGHT = 1;

/**
 * Compresses a picture into blocks of 4 × 4 texels.
 *
 * @param raster - BC1, BC3 and BC7 take RGBA, or RGB and grey as opaque. BC4 takes one channel; of others their alpha. BC5
 * takes two; of RGBA red and green. A side that is no multiple of 4 is filled up with its border texels.
 * @throws {@link SieveError} `out-of-range` for a cutoff or an opacity outside 0–1.
 */
export function encodeBlocks(
  raster: Raster,
  { format, cutoff, opacity = 1, effort = 'quick', progress }: EncodeOptions,
): Blocks {
  for (const [name, value] of Object.entries({ cutoff: cutoff ?? 0, opacity })) {
    if (!(value >= 0 && value <= 1))
      throw new SieveError('out-of-range', `The ${name} is ${value}.`, 'Take one of 0 to 1.');
  }
  const { width, height, channels, data } = raster;
  const out = new Uint8Array(blockBytes(format, width, height));
  const threshold = cutoff === undefined ? null : thresholdByte(cutoff, opacity);
  const encode = encoderOf(format, threshold, effort === 'fine');
  const size = BLOCK_FORMATS[format].bytes;
  const read = channels === 4 && data.byteOffset % 4 === 0 ? wordReader(raster) : byteReader(raster, format === 'BC4');
  const texels = new Uint32Array(16);
  const values = new Uint8Array(16);
  const oneChannel = format === 'BC4' && channels === 1;
  for (let y = 0, at = 0; y < height; y += 4) {
    for (let x = 0; x < width; x += 4, at += size) {
      if (oneChannel && x + 4 <= width && y + 4 <= height) {
        readValues(raster, x, y, values);
        encodeRamp(values, threshold ?? 0, out, at);
      } else {
        read(x, y, texels);
        encode(texels, out, at);
      }
    }
    progress?.(Math.min(1, (y + 4) / height));
  }
  return { format, width, height, data: out };
}

/** Reads sixteen texels, RGBA from the lowest byte, the border repeated beyond it. */
type ReadBlock = (x: number, y: number, out: Uint32Array) => void;

function wordReader({ width, height, data }: Raster): ReadBlock {
  const words = asWords(data);
  return (x0, y0, out) => {
    for (let y = 0, o = 0; y < 4; y++, o += 4) {
      const row = Math.min(height - 1, y0 + y) * width;
      if (x0 + 4 <= width) {
        const i = row + x0;
        out[o] = words[i];
        out[o + 1] = words[i + 1];
        out[o + 2] = words[i + 2];
        out[o + 3] = words[i + 3];
      } else for (let x = 0; x < 4; x++) out[o + x] = words[row + Math.min(width - 1, x0 + x)];
    }
  };
}

/** @param asAlpha - One channel is the alpha, not the colour. */
function byteReader({ width, height, channels, data }: Raster, asAlpha: boolean): ReadBlock {
  return (x0, y0, out) => {
    for (let y = 0, o = 0; y < 4; y++) {
      const row = Math.min(height - 1, y0 + y) * width;
      for (let x = 0; x < 4; x++, o++) {
        const i = (row + Math.min(width - 1, x0 + x)) * channels;
        const red = data[i];
        const green = channels > 1 ? data[i + 1] : red;
        const blue = channels > 2 ? data[i + 2] : red;
        const alpha = channels === 4 ? data[i + 3] : channels === 2 ? green : channels === 1 && asAlpha ? red : 255;
        out[o] = red | (green << 8) | (blue << 16) | (alpha << 24);
      }
    }
  };
}

/** Sixteen values of one channel, away from the border. */
function readValues({ width, data }: Raster, x0: number, y0: number, out: Uint8Array): void {
  for (let y = 0, o = 0, i = y0 * width + x0; y < 4; y++, o += 4, i += width) {
    out[o] = data[i];
    out[o + 1] = data[i + 1];
    out[o + 2] = data[i + 2];
    out[o + 3] = data[i + 3];
  }
}

type EncodeBlock = (texels: Uint32Array, out: Uint8Array, at: number) => void;

/** @param threshold - Byte; null: no side to be kept. */
function encoderOf(format: BlockFormat, threshold: number | null, fine: boolean): EncodeBlock {
  const values = new Uint8Array(16);
  const ramp = (texels: Uint32Array, shift: number, limit: number, out: Uint8Array, at: number) => {
    for (let i = 0; i < 16; i++) values[i] = texels[i] >>> shift;
    encodeRamp(values, limit, out, at);
  };
  switch (format) {
    case 'BC1':
      return bc1Encoder(threshold, fine);
    case 'BC3': {
      const colours = colourBlock();
      return (texels, out, at) => {
        ramp(texels, 24, threshold ?? 0, out, at);
        const kept = fillColours(texels, threshold ?? 0, colours);
        if (fine && kept > 0) encodeColourFinely(colours, false, false, out, at + 8);
        else encodeColour(colours, false, out, at + 8, kept === 0);
      };
    }
    case 'BC4':
      return (texels, out, at) => ramp(texels, 24, threshold ?? 0, out, at);
    case 'BC5':
      return (texels, out, at) => {
        ramp(texels, 0, 0, out, at);
        ramp(texels, 8, 0, out, at + 8);
      };
    case 'BC7': {
      const block = texelBlock();
      return (texels, out, at) => {
        const kept = fillTexels(texels, threshold ?? 0, block);
        encodeBc7(block, threshold ?? 0, out, at, kept === 0);
      };
    }
  }
}

/** Without a cutoff, half an alpha is kept (common practice). */
const USUAL_THRESHOLD = 128;

/** The alpha bit is the clip itself. */
function bc1Encoder(threshold: number | null, fine: boolean): EncodeBlock {
  const colours = colourBlock();
  return (texels, out, at) => {
    fillKept(texels, threshold ?? USUAL_THRESHOLD, colours);
    const three = colours.count < 16;
    if (fine) encodeColourFinely(colours, three, true, out, at);
    else encodeColour(colours, three, out, at);
  };
}

function fillKept(texels: Uint32Array, threshold: number, block: ColourBlock): void {
  const { red, green, blue, weight, texel } = block;
  let n = 0;
  for (let i = 0; i < 16; i++) {
    const t = texels[i];
    if (t >>> 24 < threshold) continue;
    red[n] = t & 255;
    green[n] = (t >>> 8) & 255;
    blue[n] = (t >>> 16) & 255;
    weight[n] = KEPT_WEIGHT;
    texel[n++] = i;
  }
  block.count = n;
}

/** @returns how many are kept. */
function fillColours(texels: Uint32Array, threshold: number, block: ColourBlock): number {
  const { red, green, blue, weight, texel } = block;
  let kept = 0;
  for (let i = 0; i < 16; i++) {
    const t = texels[i];
    const one = 1 - (((t >>> 24) - threshold) >>> 31);
    red[i] = t & 255;
    green[i] = (t >>> 8) & 255;
    blue[i] = (t >>> 16) & 255;
    weight[i] = DROPPED_WEIGHT + one * (KEPT_WEIGHT - DROPPED_WEIGHT);
    texel[i] = i;
    kept += one;
  }
  block.count = 16;
  return kept;
}

/** @returns how many are kept. */
function fillTexels(texels: Uint32Array, threshold: number, { planes, weight }: TexelBlock): number {
  let count = 0;
  for (let i = 0; i < 16; i++) {
    const t = texels[i];
    for (let c = 0; c < 4; c++) planes[c][i] = (t >>> (8 * c)) & 255;
    const kept = t >>> 24 >= threshold;
    if (kept) count++;
    weight[i] = kept ? 1 : DROPPED_WEIGHT / KEPT_WEIGHT;
  }
  return count;
}
