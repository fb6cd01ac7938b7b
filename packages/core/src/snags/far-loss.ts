import type { PieceDoc } from '../piece/piece-doc.ts';
import { coverageAt } from '../sieve/histogram.ts';
import { HELD_NEWLY } from '../sieve/levels.ts';
import { levelDistance } from '../sieve/level-distance.ts';
import { thresholdByte } from '../math/threshold.ts';
import type { Remedy, SnagCheck } from './snag.ts';

/** Levels of fewer texels than this on their longer side are a dot on the screen. */
const SMALLEST = 16;
/** Share of what is kept near by that may be lost, or come on top of it, unnoticed; and the same of all texels. */
const OF_KEPT = 0.25;
const OF_ALL = 0.01;

/** The clip of far levels keeps much less, or more, than that of level 0. */
export const farLoss: SnagCheck = ({ doc, levels, cardShare = 1 }) => {
  const { mode, cutoff, opacity } = doc.material;
  const [first] = levels;
  const { by } = doc.drawn;
  if (mode !== 'mask' || !first || by === 'hashed' || by === 'ordered') return null; // these keep as much as alpha says
  const threshold = thresholdByte(cutoff, opacity);
  const near = coverageAt(first.counts, threshold);
  const changed = levels.find(({ width, height, counts }) => {
    const off = Math.abs(coverageAt(counts, threshold) - near);
    return Math.max(width, height) >= SMALLEST && off > OF_ALL && off > OF_KEPT * near;
  });
  if (!changed) return null;
  const far = coverageAt(changed.counts, threshold);
  const distance = levelDistance(doc.cardWidth * cardShare, changed.width, doc.levels).toPrecision(2);
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
  const text =
    far < near
      ? `Thin parts vanish from ${Number(distance)} m on: ${percent(far)} is kept instead of ${percent(near)}.`
      : `Gaps close from ${Number(distance)} m on: ${percent(far)} is kept instead of ${percent(near)}.`;
  const remedy = remedyFor(doc);
  return { id: 'far-loss', text, ...(remedy ? { remedy } : {}) };
};

function remedyFor({ levels }: PieceDoc): Remedy | null {
  if (levels.madeBy === 'target' && (!levels.hold || levels.strength < 1)) {
    const held = { ...(levels.hold ? {} : HELD_NEWLY), strength: 1 };
    return { label: 'Hold at distance', apply: (d) => ({ ...d, levels: { ...d.levels, ...held } }) };
  }
  if (levels.madeBy === 'file' && levels.keep !== 'local') {
    return { label: 'Keep coverage locally', apply: (d) => ({ ...d, levels: { ...d.levels, keep: 'local' } }) };
  }
  return null;
}
