import { readDdsLevels } from '../../codec/dds/read.ts';
import { bytesOfDds } from '../../codec/dds/write.ts';
import { thresholdByte } from '../../math/threshold.ts';
import type { PieceDoc } from '../../piece/piece-doc.ts';
import type { Picture, Raster } from '../../raster/raster.ts';
import { withMaskAsAlpha } from '../../run/compose.ts';
import { equalSamples } from '../compare.ts';
import type { Add, FileFormat } from '../file-format.ts';
import type { DdsPlan } from '../file-plan.ts';
import { storeLevels, textureLevels } from '../texture-levels.ts';

/** Colour and alpha of every mip level. */
export const DDS_FORMAT: FileFormat<DdsPlan> = {
  write(plan, { doc, state }, tools, progress) {
    const wanted = textureLevels(doc, state, tools.sourceOf);
    const { bytes, levels: read } = storeLevels(wanted, plan.texels, doc.material, doc.handOff.effort, progress);
    return Promise.resolve({
      bytes,
      check: (found, piece, _, add) => checkLevels(found, plan, { wanted, read }, piece, add),
    });
  },
  isWritten: () => true,
  leavesOut: () => [],
  picture: (_, state) => withMaskAsAlpha(state),
  onCard: ({ texels }, { width, height }) => bytesOfDds(texels, width, height),
  estimate: ({ texels }, { colour }) => ({ bytes: bytesOfDds(texels, colour.width, colour.height) }),
};

/** @param read - What must be read out of its blocks. */
function checkLevels(
  bytes: Uint8Array,
  { texels }: DdsPlan,
  { wanted, read }: { wanted: Picture[]; read: Picture[] },
  { material }: PieceDoc,
  add: Add,
): void {
  const found = readDdsLevels(bytes);
  const [first] = found.levels;
  add('format', found.format === texels, found.format);
  add('size', first.width === read[0].width && first.height === read[0].height, `${first.width} × ${first.height}`);
  add('mip levels', found.levels.length === read.length, String(found.levels.length));
  const pairs = read.map((level, i) => [level, found.levels[i]] as const);
  const different = pairs.filter(([level, is]) => !is || !equalSamples(is, level)).length;
  add('texels', different === 0, different === 0 ? 'every level as it was encoded' : `${different} levels differ`);
  if (material.mode !== 'mask') return;
  const threshold = thresholdByte(material.cutoff, material.opacity);
  const flips = wanted.reduce((sum, level, i) => sum + countFlips(level, found.levels[i] ?? level, threshold), 0);
  add('clip', flips === 0, flips === 0 ? 'every texel of every level on its side' : `${flips} texels changed side`);
}

function countFlips(wanted: Raster, found: Raster, threshold: number): number {
  let flips = 0;
  for (let i = 3; i < wanted.data.length; i += 4) {
    if (wanted.data[i] >= threshold !== found.data[i] >= threshold) flips++;
  }
  return flips;
}
