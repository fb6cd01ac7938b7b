import { readDdsLevels } from '../../codec/dds/read.ts';
import { readKtx2Levels } from '../../codec/ktx2/read.ts';
import { allLevelBytes } from '../../codec/texture-format.ts';
import { thresholdByte } from '../../math/threshold.ts';
import type { PieceDoc } from '../../piece/piece-doc.ts';
import type { Raster } from '../../raster/raster.ts';
import type { RunState } from '../../raster/run-state.ts';
import { withMaskAsAlpha } from '../../run/compose.ts';
import { equalSamples } from '../compare.ts';
import type { Add, FileFormat, PackTools } from '../file-format.ts';
import { isColour, type TexturePlan } from '../file-plan.ts';
import { maskChannel, packedLevels } from '../packed-levels.ts';
import { missingWords, notHeldBy, packedRaster } from '../packed.ts';
import { storeLevels, textureLevels } from '../texture-levels.ts';

/** Every mip level of one file: colour and alpha, or channels that a person fills. */
export const TEXTURE_FORMAT: FileFormat<TexturePlan> = {
  write(plan, { doc, state }, tools, progress) {
    const wanted = levelsOf(plan, doc, state, tools);
    const clipped = clippedChannel(plan, doc);
    const { cutoff, opacity } = doc.material;
    const holds = isColour(plan) ? 'colour' : 'values';
    const sides = clipped === null ? {} : { cutoff, opacity };
    const { bytes, levels: read } = storeLevels(wanted, { ...plan, holds }, sides, doc.handOff.effort, progress);
    return Promise.resolve({
      bytes,
      check(found, piece, _, add) {
        checkLevels(found, plan, { wanted, read, clipped }, piece, add);
        if (plan.packed) add('channels', true, `${plan.contents}${missingWords(plan.packed, state.maps)}`);
      },
    });
  },
  isWritten: () => true,
  leavesOut: (plan, maps, doc) => notHeldBy(plan, maps, doc),
  picture: (plan, state, doc) => (plan.packed ? packedRaster(plan.packed, state, doc.handOff) : withMaskAsAlpha(state)),
  onCard: (plan, size) => allLevelBytes(plan.texels, ...sidesOf(plan, size)),
  estimate: (plan, { colour }) => ({ bytes: allLevelBytes(plan.texels, ...sidesOf(plan, colour)) }),
};

function sidesOf({ packed }: TexturePlan, { width, height }: { width: number; height: number }): [number, number] {
  const halvings = packed?.halvings ?? 0;
  return [Math.max(1, width >> halvings), Math.max(1, height >> halvings)];
}

function levelsOf({ packed }: TexturePlan, doc: PieceDoc, state: RunState, { sourceOf }: PackTools): Raster[] {
  return packed ? packedLevels(packed, state, doc, sourceOf) : textureLevels(doc, state, sourceOf);
}

/** The channel in which no texel may change side, where the blocks can promise that: alpha, or the only one. */
function clippedChannel({ packed, texels }: TexturePlan, { material }: PieceDoc): number | null {
  if (material.mode !== 'mask') return null;
  const channel = packed ? maskChannel(packed) : 3;
  if (channel < 0 || texels === 'BC5') return null;
  const isExact = channel === 3 || packed?.as === 'grey' || texels === 'rgba8';
  return isExact ? channel : null;
}

/** @param read - What must be read out of its blocks. */
function checkLevels(
  bytes: Uint8Array,
  { texels, extension, packed }: TexturePlan,
  { wanted, read, clipped }: { wanted: Raster[]; read: Raster[]; clipped: number | null },
  { material }: PieceDoc,
  add: Add,
): void {
  const found = extension === 'dds' ? readDdsLevels(bytes) : readKtx2Levels(bytes);
  const [first] = found.levels;
  add('format', found.format === texels, found.format);
  add('size', first.width === read[0].width && first.height === read[0].height, `${first.width} × ${first.height}`);
  add('mip levels', found.levels.length === read.length, String(found.levels.length));
  const pairs = read.map((level, i) => [level, found.levels[i]] as const);
  const different = pairs.filter(([level, is]) => !is || !equalSamples(is, level)).length;
  add('texels', different === 0, different === 0 ? 'every level as it was encoded' : `${different} levels differ`);
  if (clipped === null) {
    const says = packed && material.mode === 'mask' && maskChannel(packed) >= 0;
    if (says) add('clip', true, 'opacity is beside other channels in its blocks: texels may change side');
    return;
  }
  const threshold = thresholdByte(material.cutoff, material.opacity);
  const flips = wanted.reduce(
    (sum, level, i) => sum + countFlips(level, found.levels[i] ?? level, clipped, threshold),
    0,
  );
  add('clip', flips === 0, flips === 0 ? 'every texel of every level on its side' : `${flips} texels changed side`);
}

function countFlips(wanted: Raster, found: Raster, channel: number, threshold: number): number {
  let flips = 0;
  for (
    let i = channel, k = Math.min(channel, found.channels - 1);
    i < wanted.data.length;
    i += wanted.channels, k += found.channels
  ) {
    if (wanted.data[i] >= threshold !== found.data[k] >= threshold) flips++;
  }
  return flips;
}
