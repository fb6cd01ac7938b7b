import type { Snag } from '@lithe-sieve/core';
import { makeId } from '../document/ids';
import { useBenchStore } from '../stores/bench.store';
import { usePiece } from '../stores/open-piece/open-piece';

/** What of a document the Card tray sets. */
const CARD_FIELDS = ['mesh', 'outline', 'sides'] as const;

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
    else if (piece.doc && CARD_FIELDS.some((field) => piece.doc![field] !== doc[field]))
      bench.selection = { kind: 'card' };
    else if (piece.doc?.levels !== doc.levels) bench.selection = { kind: 'levels' };
    else if (piece.doc?.material !== doc.material) bench.selection = { kind: 'material' };
  }

  return { mend };
}
