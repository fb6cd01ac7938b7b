import type { PieceDoc } from '../piece/piece-doc.ts';
import { TARGET_AT_FIRST, type Target } from '../piece/target.ts';
import { profileOf } from './profile.ts';

/** What the profile of a piece says of its target. */
export function targetOf({ handOff, levels }: Pick<PieceDoc, 'handOff' | 'levels'>): Target {
  if (handOff.profile === 'own-packing') return handOff.target ?? TARGET_AT_FIRST;
  const { target } = profileOf(handOff.profile);
  // what the levels are made by is a setting of the piece, where its profile leaves it open
  const own = levels.madeBy === 'target' ? { levels: levels.averages } : {};
  return { ...TARGET_AT_FIRST, ...own, ...target };
}
