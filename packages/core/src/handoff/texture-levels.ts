import { encodeBlocks } from '../codec/bc/encode.ts';
import type { Effort } from '../codec/bc/formats.ts';
import { decodeBlocks } from '../codec/bc/decode.ts';
import { writeDds } from '../codec/dds/write.ts';
import { writeKtx2 } from '../codec/ktx2/write.ts';
import type { StoredLevel } from '../codec/texture-format.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { allocateHeap, type Allocate, type Mask, type Picture, type Raster } from '../raster/raster.ts';
import { toRgba8 } from '../raster/to-rgba8.ts';
import type { TexturePlan } from './file-plan.ts';
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
export interface StoredTexture {
  bytes: Uint8Array;
  /** As a graphics card reads them. */
  levels: Raster[];
}

/**
 * A DDS or a KTX2 of all levels.
 *
 * @param sides - Where alpha, or the one channel, is clipped: no texel changes side; empty: the nearest values.
 */
export function storeLevels(
  levels: readonly Raster[],
  {
    extension,
    texels,
    zlib = false,
    holds,
  }: Pick<TexturePlan, 'extension' | 'texels' | 'zlib'> & { holds: 'colour' | 'values' },
  sides: { cutoff?: number; opacity?: number },
  effort: Effort = 'quick',
  progress?: (share: number) => void,
): StoredTexture {
  const whole = levels.reduce((sum, { width, height }) => sum + width * height, 0);
  const stored: StoredLevel[] = [];
  const read: Raster[] = [];
  let done = 0;
  for (const level of levels) {
    const { width, height } = level;
    const share = (width * height) / whole;
    if (texels === 'r8' || texels === 'rgba8') {
      const raster = texels === 'rgba8' ? toRgba8(level) : level;
      stored.push(raster);
      read.push(raster);
    } else {
      const report = (part: number) => progress?.(done + share * part);
      const blocks = encodeBlocks(level, { format: texels, effort, ...sides, progress: report });
      stored.push(blocks);
      read.push(decodeBlocks(blocks));
    }
    done += share;
  }
  const bytes = extension === 'dds' ? writeDds(stored, texels, holds) : writeKtx2(stored, texels, holds, zlib);
  return { bytes, levels: read };
}
