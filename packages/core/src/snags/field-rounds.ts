import type { PieceDoc } from '../piece/piece-doc.ts';
import type { ProfileId } from '../piece/profile-id.ts';
import { slackOf } from '../receivers/judge.ts';
import type { FieldDivisor } from '../sieve/distance-field.ts';
import type { SnagCheck } from './snag.ts';

const DIVISORS: Partial<Record<ProfileId, FieldDivisor>> = { 'distance-2': 2, 'distance-4': 4, 'distance-8': 8 };
/** One size larger; where there is none, the mask itself. */
const LARGER: Partial<Record<ProfileId, { profile: ProfileId; label: string }>> = {
  'distance-8': { profile: 'distance-4', label: 'Hand off distances at ¼' },
  'distance-4': { profile: 'distance-2', label: 'Hand off distances at ½' },
  'distance-2': { profile: 'rgb-and-mask', label: 'Hand off the mask itself' },
};

/** By how much smaller the mask is handed off as distances; null where it is none, or nothing is clipped. */
export function fieldDivisorOf({ material, handOff }: PieceDoc): FieldDivisor | null {
  return material.mode === 'mask' ? (DIVISORS[handOff.profile] ?? null) : null;
}

/** Parts that are too thin for the size of the distances: the target that magnifies them will differ from the Bench. */
export const fieldRounds: SnagCheck = ({ doc, field }) => {
  const larger = LARGER[doc.handOff.profile];
  if (!field || !larger || fieldDivisorOf(doc) === null) return null;
  const { kept, shown, wrong } = field;
  const slack = slackOf(kept);
  if (wrong <= slack && Math.abs(shown - kept) <= slack) return null;
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
  return {
    id: 'field-rounds',
    text: `Distances of this size lose thin parts: ${percent(shown)} would show instead of ${percent(kept)}, ${percent(wrong)} on the wrong side.`,
    remedy: {
      label: larger.label,
      apply: (d) => ({ ...d, handOff: { ...d.handOff, profile: larger.profile } }),
    },
  };
};
