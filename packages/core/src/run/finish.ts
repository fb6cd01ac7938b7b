import type { PieceDoc } from '../piece/piece-doc.ts';
import type { RunState } from '../raster/run-state.ts';
import { heldFor, holds } from '../sieve/levels.ts';

/** What is handed off: the run's result, its mask reshaped where the clip asks for it. */
export function finished(doc: Pick<PieceDoc, 'material' | 'levels'>, state: RunState): RunState {
  if (!holds(doc.material, doc.levels)) return state;
  return { ...state, mask: heldFor(state.mask, doc.material, doc.levels).mask };
}
