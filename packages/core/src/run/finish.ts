import type { PieceDoc } from '../piece/piece-doc.ts';
import type { RunState } from '../raster/run-state.ts';
import { holdAtDistance } from '../sieve/hold/hold.ts';
import { holds } from '../sieve/levels.ts';

/** What is handed off: the run's result, its mask reshaped where the clip asks for it. */
export function finished(doc: Pick<PieceDoc, 'material' | 'levels'>, state: RunState): RunState {
  if (!holds(doc.material, doc.levels)) return state;
  const { cutoff, opacity } = doc.material;
  const { strength, downTo } = doc.levels;
  return { ...state, mask: holdAtDistance(state.mask, { cutoff, opacity, strength, downTo }).mask };
}
