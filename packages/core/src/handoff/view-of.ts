import { pieceView, type PieceView } from '../material/piece-view.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { RunState } from '../raster/run-state.ts';
import type { PackTools } from './file-format.ts';
import { sceneName } from './file-name.ts';

/** A piece as it is to be written, under the names that are wanted. */
export function viewOf(doc: PieceDoc, state: RunState, { mesh, facts }: PackTools): PieceView {
  const named = { size: state.colour, ...(facts ? { facts } : {}) };
  const names = { material: sceneName(doc, 'material', named), mesh: sceneName(doc, 'mesh', named) };
  return pieceView(doc, state, mesh, names);
}
