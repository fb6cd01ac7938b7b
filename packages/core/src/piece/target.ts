import type { MipFilter } from '../sieve/mip-filters.ts';

/** Where a target takes opacity from. */
export const OPACITY_FROM = ['alpha of the colour', 'mask picture', 'transparency picture', 'a channel'] as const;
export type OpacityFrom = (typeof OPACITY_FROM)[number];

/** What a target can do, and what it wants. */
export interface Target {
  opacity: OpacityFrom;
  /** Which file and channel that is, where it is one of a packed file; by its name, and from 0. */
  channel?: { file: string; channel: number } | undefined;
  /** Who makes the levels: the target, by this filter, or the file. */
  levels: MipFilter | 'file';
  /** Whether sides must be powers of two, and the largest side, texels. */
  powerOfTwo: boolean;
  largest: number;
  /** Whether alpha is cut to one bit as it is read. */
  oneBit?: boolean | undefined;
  clips: boolean;
  blends: boolean;
  twoSided: boolean;
}

export const TARGET_SIDES = [512, 1024, 2048, 4096, 8192] as const;

export const TARGET_AT_FIRST: Target = {
  opacity: 'alpha of the colour',
  levels: 'box',
  powerOfTwo: false,
  largest: 8192,
  clips: true,
  blends: true,
  twoSided: true,
};
