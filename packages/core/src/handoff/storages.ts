import type { Mask, Picture } from '../raster/raster.ts';
import { withMaskAsAlpha } from '../run/compose.ts';
import { decodeBlocks } from '../codec/bc/decode.ts';
import { encodeBlocks } from '../codec/bc/encode.ts';
import { blockBytes, type BlockFormat } from '../codec/bc/formats.ts';

/** Ways to store colour with its mask, or the mask alone. */
export const STORAGES = {
  rgba8: { label: 'RGBA 8 bits', holds: 'both' },
  BC7: { label: 'BC7', holds: 'both' },
  BC3: { label: 'BC3', holds: 'both' },
  BC1: { label: 'BC1', holds: 'both' },
  mask8: { label: 'mask, 8 bits', holds: 'mask' },
  BC4: { label: 'mask, BC4', holds: 'mask' },
  mask1: { label: 'mask, 1 bit', holds: 'mask' },
} as const;
export type Storage = keyof typeof STORAGES;
export const STORAGE_NAMES = Object.keys(STORAGES) as Storage[];

/** What comes out of a way to store a piece, beside what went in. */
export interface StorageFigures {
  /** Of level 0. */
  bytes: number;
  /** Texels that are on the other side of the cutoff. */
  flips: number;
  /** Root of the mean squared error, in steps of a byte: of alpha, and of colour where it is kept; null without colour. */
  alphaError: number;
  colourError: number | null;
  /** The texels that have changed side, by their place row by row; the first {@link MOST_MARKED}. */
  texels: Int32Array;
}

/** More marks than this would be a grey film. */
export const MOST_MARKED = 100_000;

export interface StoreOptions {
  cutoff: number;
  opacity: number;
  /** Byte; see `thresholdByte`. */
  threshold: number;
  /** Whether the encoder keeps every texel on its side; a plain one takes the nearest value. */
  exact: boolean;
  progress?: (share: number) => void;
}

/** Stores a piece and reads it back. */
export function storageFigures(colour: Picture, mask: Mask, storage: Storage, options: StoreOptions): StorageFigures {
  const texels = mask.data.length;
  const { threshold } = options;
  switch (storage) {
    case 'rgba8':
      return compare(colour, mask, { colour: colour.data, alpha: mask.data, step: 1 }, 4 * texels, threshold);
    case 'mask8':
      return compare(null, mask, { colour: null, alpha: mask.data, step: 1 }, texels, threshold);
    case 'mask1': {
      const alpha = mask.data.map((v) => (v >= (options.exact ? threshold : 128) ? 255 : 0));
      // read back, all that is set is kept: at cutoffs that keep 0, or drop 255, that is all or nothing
      return compare(null, mask, { colour: null, alpha, step: 1 }, Math.ceil(texels / 8), threshold);
    }
    default:
      return throughBlocks(colour, mask, storage, options);
  }
}

function throughBlocks(
  colour: Picture,
  mask: Mask,
  format: BlockFormat & Storage,
  options: StoreOptions,
): StorageFigures {
  const { cutoff, opacity, exact, progress, threshold } = options;
  const source = format === 'BC4' ? mask : withMaskAsAlpha({ colour, mask });
  const sides = exact ? { cutoff, opacity } : {};
  const { data } = decodeBlocks(encodeBlocks(source, { format, ...sides, ...(progress ? { progress } : {}) }));
  const bytes = blockBytes(format, mask.width, mask.height);
  if (format === 'BC4') return compare(null, mask, { colour: null, alpha: data, step: 1 }, bytes, threshold);
  return compare(colour, mask, { colour: data, alpha: data.subarray(3), step: 4 }, bytes, threshold);
}

interface ReadBack {
  colour: Uint8Array | null;
  alpha: Uint8Array;
  /** From an alpha to the next. */
  step: number;
}

function compare(colour: Picture | null, mask: Mask, back: ReadBack, bytes: number, threshold: number): StorageFigures {
  const texels: number[] = [];
  let flips = 0;
  let alphaSum = 0;
  let colourSum = 0;
  let kept = 0;
  for (let i = 0, a = 0, c = 0; i < mask.data.length; i++, a += back.step, c += 4) {
    const was = mask.data[i];
    const is = back.alpha[a];
    if (was >= threshold !== is >= threshold) {
      flips++;
      if (texels.length < MOST_MARKED) texels.push(i);
    }
    alphaSum += (was - is) * (was - is);
    if (!colour || !back.colour || was < threshold) continue;
    kept++;
    for (let k = c; k < c + 3; k++) colourSum += (colour.data[k] - back.colour[k]) * (colour.data[k] - back.colour[k]);
  }
  const colourError = colour ? Math.sqrt(colourSum / Math.max(1, 3 * kept)) : null;
  return {
    bytes,
    flips,
    alphaError: Math.sqrt(alphaSum / mask.data.length),
    colourError,
    texels: Int32Array.from(texels),
  };
}
