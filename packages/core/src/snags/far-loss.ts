import type { PieceDoc } from '../piece/piece-doc.ts';
import { coverageAt } from '../sieve/histogram.ts';
import { HELD_NEWLY } from '../sieve/levels.ts';
import { levelDistance } from '../sieve/level-distance.ts';
import { thresholdByte } from '../math/threshold.ts';
import type { Remedy, Snag, SnagCheck, SnagContext } from './snag.ts';

/** Levels of fewer texels than this on their longer side are a dot on the screen. */
const SMALLEST = 16;
/** Share of what is kept near by that may be lost, or come on top of it, unnoticed; and the same of all texels. */
const OF_KEPT = 0.25;
const OF_ALL = 0.01;

/** The clip of far levels keeps much less, or more, than that of level 0. */
export const farLoss: SnagCheck = (context) => changedFar(context, (off, near) => off > OF_ALL && off > OF_KEPT * near);

/** The same of what is seen by looking for it: as in the ladder of mip levels. */
export const farDrift: SnagCheck = (context) => changedFar(context, (off) => off > SEEN);

/** Share of all texels. */
const SEEN = 0.015;

function changedFar(
  { doc, levels, cardShare = 1 }: SnagContext,
  isMuch: (off: number, near: number) => boolean,
): Snag | null {
  const { mode, cutoff, opacity } = doc.material;
  const [first] = levels;
  const { by } = doc.drawn;
  if (mode !== 'mask' || !first || by === 'hashed' || by === 'ordered') return null; // these keep as much as alpha says
  const threshold = thresholdByte(cutoff, opacity);
  const near = coverageAt(first.counts, threshold);
  const changed = levels.find(({ width, height, counts }) => {
    return Math.max(width, height) >= SMALLEST && isMuch(Math.abs(coverageAt(counts, threshold) - near), near);
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
}

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
