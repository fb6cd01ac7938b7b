import { makeMask, makePicture, type Mask, type Picture } from '../raster/raster.ts';
import { resize } from '../raster/resize.ts';
import { withMaskAsAlpha } from '../run/compose.ts';
import { decodeBlocks } from '../codec/bc/decode.ts';
import { encodeBlocks } from '../codec/bc/encode.ts';
import { blockBytes, type BlockFormat, type Effort } from '../codec/bc/formats.ts';
import { distanceField, FIELD_THRESHOLD, magnified, type FieldDivisor } from '../sieve/distance-field.ts';
import { maskMips } from '../sieve/mips.ts';

/** Ways to store colour with its mask, or the mask alone. */
export const STORAGES = {
  rgba8: { label: 'RGBA 8 bits', plain: '', holds: 'both' },
  BC7: { label: 'BC7', plain: 'plain encoder', holds: 'both' },
  BC3: { label: 'BC3', plain: 'plain encoder', holds: 'both' },
  BC1: { label: 'BC1', plain: 'plain encoder', holds: 'both' },
  mask8: { label: 'mask, 8 bits', plain: '', holds: 'mask' },
  BC4: { label: 'mask, BC4', plain: 'plain encoder', holds: 'mask' },
  mask1: { label: 'mask, 1 bit', plain: 'cut at one half', holds: 'mask' },
  field2: { label: 'distances, ½', plain: 'alpha, ½', holds: 'mask', divisor: 2 },
  field4: { label: 'distances, ¼', plain: 'alpha, ¼', holds: 'mask', divisor: 4 },
  field8: { label: 'distances, ⅛', plain: 'alpha, ⅛', holds: 'mask', divisor: 8 },
} as const satisfies Record<string, { label: string; plain: string; holds: 'both' | 'mask'; divisor?: FieldDivisor }>;
export type Storage = keyof typeof STORAGES;
export const STORAGE_NAMES = Object.keys(STORAGES) as Storage[];

/** What comes out of a way to store a piece, beside what went in. */
export interface StorageFigures {
  /** Bytes of level 0. */
  bytes: number;
  /** Texels that are on the other side of the cutoff. */
  flips: number;
  /**
   * Root of the mean squared error, in steps of a byte: of alpha, null where what is stored is no alpha; and of colour
   * where it is kept, null without colour.
   */
  alphaError: number | null;
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
  /** Effort of our encoder; a plain one is quick. */
  effort?: Effort | undefined;
  progress?: (share: number) => void;
}

/** What is read out of a way to store a piece. */
interface Stored {
  bytes: number;
  /** Null where colour is not stored with it. */
  colour: Picture | null;
  mask: Mask;
  /** Where the mask read out is clipped. */
  threshold: number;
  /** Whether that is a distance instead of alpha. */
  field?: boolean;
}

/** Stores a piece, reads it back and compares. */
export function storageFigures(colour: Picture, mask: Mask, storage: Storage, options: StoreOptions): StorageFigures {
  return compare(colour, mask, options.threshold, stored(colour, mask, storage, options));
}

export interface StoredLevels {
  /** Null where colour is not stored with it. */
  colour: Picture[] | null;
  mask: Mask[];
  /** Cutoff at which what is read out is clipped; null: as the piece is. */
  cutoff: number | null;
}

/** Every mip level stored and read back. @param colours - Level 0 first. @param masks - Of the same sizes. */
export function storedLevels(
  colours: readonly Picture[],
  masks: readonly Mask[],
  storage: Storage,
  options: StoreOptions,
): StoredLevels {
  const { divisor } = STORAGES[storage] as { divisor?: FieldDivisor };
  if (divisor) {
    const small = smallAlpha(masks[0], divisor, options);
    const smaller = [small, ...maskMips(small)];
    const mask = masks.map(({ width, height }) => {
      const whole = smaller.find((level) => level.width <= width && level.height <= height) ?? smaller[0];
      return magnified(whole, width, height);
    });
    return { colour: null, mask, cutoff: options.exact ? FIELD_CUTOFF : null };
  }
  const whole = masks.reduce((sum, { data }) => sum + data.length, 0);
  let done = 0;
  const read = masks.map((mask, i) => {
    const share = mask.data.length / whole;
    const progress = (part: number) => options.progress?.(done + share * part);
    const level = stored(colours[i], mask, storage, { ...options, progress });
    done += share;
    return level;
  });
  const [{ colour }] = read;
  return { colour: colour && read.map((level) => level.colour!), mask: read.map((level) => level.mask), cutoff: null };
}

function stored(colour: Picture, mask: Mask, storage: Storage, options: StoreOptions): Stored {
  const { width, height, data } = mask;
  const texels = data.length;
  const { threshold, exact } = options;
  switch (storage) {
    case 'rgba8':
      return { bytes: 4 * texels, colour, mask, threshold };
    case 'mask8':
      return { bytes: texels, colour: null, mask, threshold };
    case 'mask1': {
      const alpha = data.map((v) => (v >= (exact ? threshold : 128) ? 255 : 0));
      // read back, all that is set is kept: at cutoffs that keep 0, or drop 255, that is all or nothing
      return { bytes: Math.ceil(texels / 8), colour: null, mask: makeMask(width, height, alpha), threshold };
    }
    case 'field2':
    case 'field4':
    case 'field8': {
      const small = smallAlpha(mask, STORAGES[storage].divisor, options);
      const shown = magnified(small, width, height);
      const clippedAt = exact ? FIELD_THRESHOLD : threshold;
      return { bytes: small.data.length, colour: null, mask: shown, threshold: clippedAt, field: exact };
    }
    default:
      return throughBlocks(colour, mask, storage, options);
  }
}

/** Where a distance field is clipped. */
const FIELD_CUTOFF = 0.5;

/** A distance field, or plain alpha of that size. */
function smallAlpha(mask: Mask, divisor: FieldDivisor, { threshold, exact }: StoreOptions): Mask {
  if (exact) return distanceField(mask, threshold, divisor);
  return resize(mask, Math.ceil(mask.width / divisor), Math.ceil(mask.height / divisor));
}

function throughBlocks(colour: Picture, mask: Mask, format: BlockFormat & Storage, options: StoreOptions): Stored {
  const { cutoff, opacity, exact, effort, progress, threshold } = options;
  const { width, height } = mask;
  const source = format === 'BC4' ? mask : withMaskAsAlpha({ colour, mask });
  const sides = exact ? { cutoff, opacity, ...(effort ? { effort } : {}) } : {};
  const { data } = decodeBlocks(encodeBlocks(source, { format, ...sides, ...(progress ? { progress } : {}) }));
  const bytes = blockBytes(format, width, height);
  if (format === 'BC4') return { bytes, colour: null, mask: makeMask(width, height, data), threshold };
  const alpha = new Uint8Array(width * height);
  for (let i = 0; i < alpha.length; i++) alpha[i] = data[4 * i + 3];
  return { bytes, colour: makePicture(width, height, data), mask: makeMask(width, height, alpha), threshold };
}

function compare(colour: Picture, mask: Mask, threshold: number, read: Stored): StorageFigures {
  const texels: number[] = [];
  let flips = 0;
  let alphaSum = 0;
  let colourSum = 0;
  let kept = 0;
  for (let i = 0, c = 0; i < mask.data.length; i++, c += 4) {
    const was = mask.data[i];
    const is = read.mask.data[i];
    if (was >= threshold !== is >= read.threshold) {
      flips++;
      if (texels.length < MOST_MARKED) texels.push(i);
    }
    alphaSum += (was - is) * (was - is);
    if (!read.colour || was < threshold) continue;
    kept++;
    for (let k = c; k < c + 3; k++) colourSum += (colour.data[k] - read.colour.data[k]) ** 2;
  }
  return {
    bytes: read.bytes,
    flips,
    alphaError: read.field ? null : Math.sqrt(alphaSum / mask.data.length),
    colourError: read.colour ? Math.sqrt(colourSum / Math.max(1, 3 * kept)) : null,
    texels: Int32Array.from(texels),
  };
}
