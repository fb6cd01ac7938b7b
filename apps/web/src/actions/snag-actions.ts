import type { Snag } from '@lithe-sieve/core';
import { makeId } from '../document/ids';
import { useBenchStore } from '../stores/bench.store';
import { usePiece } from '../stores/open-piece/open-piece';

/** What is done about a snag. */
export function useSnagActions() {
  const piece = usePiece();
  const bench = useBenchStore();

  /** Does what its remedy says, and selects what that made or changed. */
  function mend({ remedy }: Snag): void {
    const { doc } = piece;
    if (!remedy || !doc) return;
    piece.edit(remedy.label, (d) => remedy.apply(d, makeId));
    const changed = piece.run.find((s) => !doc.run.includes(s)); // made, or set otherwise
    if (changed) bench.selection = { kind: 'step', id: changed.id };
    else if (piece.doc?.levels !== doc.levels) bench.selection = { kind: 'levels' };
    else if (piece.doc?.material !== doc.material) bench.selection = { kind: 'material' };
  }

  return { mend };
}
