import type { PieceDoc, SourceRef, SourceRole } from '@lithe-sieve/core';
import { usePiece } from '../stores/open-piece/open-piece';

/** Changes of the sources of a piece. */
export function useSourceActions() {
  const piece = usePiece();

  function edit(what: string, change: (sources: PieceDoc['sources']) => PieceDoc['sources']): void {
    piece.edit(what, (doc) => ({ ...doc, sources: change(doc.sources) }));
  }

  /** Steps that are inserted later choose their source by this. */
  function setRole({ id, fileName }: SourceRef, role: SourceRole): void {
    edit(`${fileName} is used as ${role}`, (all) => all.map((s) => (s.id === id ? { ...s, role } : s)));
  }

  function makeColour(source: SourceRef): void {
    edit(`Colour picture: ${source.fileName}`, (all) => [source, ...all.filter((s) => s.id !== source.id)]);
  }

  function remove({ id, fileName }: SourceRef): void {
    edit(`Remove ${fileName}`, (all) => all.filter((s) => s.id !== id));
  }

  return { setRole, makeColour, remove };
}
