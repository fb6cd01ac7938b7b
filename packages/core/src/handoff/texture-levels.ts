import { encodeBlocks } from '../codec/bc/encode.ts';
import type { Effort } from '../codec/bc/formats.ts';
import { decodeBlocks } from '../codec/bc/decode.ts';
import { writeDds, type DdsFormat, type DdsLevel } from '../codec/dds/write.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { allocateHeap, makePicture, type Allocate, type Mask, type Picture } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import { withMaskAsAlpha } from '../run/compose.ts';
import { filteredColourMips } from '../sieve/filtered-mips.ts';
import { makeLevels, targetLevels } from '../sieve/levels.ts';
import { colourMips } from '../sieve/mips.ts';
import { withOwnColours, type SourceOf } from '../sieve/own-levels.ts';

type Piece = Pick<PieceDoc, 'material' | 'levels'>;

/**
 * The colour of every mip level: as the target averages it, or by the filter of levels of our own, in linear light and
 * weighted by the mask, so that what is dropped tints nothing.
 */
export function colourLevels(
  colour: Picture,
  mask: Mask,
  { levels }: Pick<PieceDoc, 'levels'>,
  { allocate = allocateHeap, sourceOf = () => null }: { allocate?: Allocate; sourceOf?: SourceOf } = {},
): Picture[] {
  if (levels.madeBy === 'target') return [colour, ...colourMips(colour, allocate)];
  const { filter, wrapAcross, wrapDown } = levels;
  const visible = withMaskAsAlpha({ colour, mask }, allocate);
  const made = [colour, ...filteredColourMips(visible, { filter, wrapAcross, wrapDown, allocate })];
  return levels.replaced.length > 0 ? withOwnColours(made, levels, sourceOf, allocate) : made;
}

/** The mask of every level as it is shown and handed off. @param mask - Finished: one that is to be held is. */
export function finishedMasks({ levels, material }: Piece, mask: Mask, sourceOf: SourceOf = () => null): Mask[] {
  return levels.madeBy === 'target'
    ? targetLevels(mask, levels)
    : makeLevels(mask, material, levels, { sourceOf }).levels;
}

/** Every level of the texture, colour with the mask as alpha. @param state - Finished: a mask that is to be held is. */
export function textureLevels(doc: Piece, { colour, mask }: RunState, sourceOf: SourceOf = () => null): Picture[] {
  const masks = finishedMasks(doc, mask, sourceOf);
  return colourLevels(colour, mask, doc, { sourceOf }).map((level, i) =>
    withMaskAsAlpha({ colour: level, mask: masks[i] }),
  );
}

/** A texture in its file, and what comes out of it. */
export interface StoredLevels {
  bytes: Uint8Array;
  /** As a graphics card reads them. */
  levels: Picture[];
}

/** A DDS of all levels; blocks in mode mask so that no texel changes side. */
export function storeLevels(
  levels: readonly Picture[],
  format: DdsFormat,
  { mode, cutoff, opacity }: PieceDoc['material'],
  effort: Effort = 'quick',
  progress?: (share: number) => void,
): StoredLevels {
  if (format === 'rgba8') return { bytes: writeDds(levels, format, 'colour'), levels: [...levels] };
  const whole = levels.reduce((sum, { width, height }) => sum + width * height, 0);
  const stored: DdsLevel[] = [];
  const read: Picture[] = [];
  let done = 0;
  for (const level of levels) {
    const { width, height } = level;
    const share = (width * height) / whole;
    const sides = mode === 'mask' ? { cutoff, opacity } : {};
    const blocks = encodeBlocks(level, {
      ...{ format, effort, ...sides },
      progress: (part) => progress?.(done + share * part),
    });
    done += share;
    stored.push(blocks);
    read.push(makePicture(width, height, decodeBlocks(blocks).data));
  }
  return { bytes: writeDds(stored, format, 'colour'), levels: read };
}
