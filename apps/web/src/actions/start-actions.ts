import type { Start } from '@lithe-sieve/contract';
import {
  endOfStretch,
  isHandStep,
  makeStep,
  stepKind,
  takeStart,
  type PieceDoc,
  type StepEntry,
} from '@lithe-sieve/core';
import { ref } from 'vue';
import { makeId } from '../document/ids';
import { useBenchStore } from '../stores/bench.store';
import { usePiece, useProposals } from '../stores/open-piece/open-piece';
import type { ShownProposal } from '../stores/open-piece/proposals';

/** Masks to start from and starts that were kept: shown while they are pointed at, taken up by a press. */
export function useStartActions() {
  const piece = usePiece();
  const proposals = useProposals();
  const bench = useBenchStore();
  /** Labels of steps that a start was taken up without. */
  const leftOut = ref<string[]>([]);

  function take(label: string, change: (doc: PieceDoc) => PieceDoc): void {
    piece.glanceAt(null);
    leftOut.value = [];
    piece.edit(label, change);
  }

  function takeProposal(proposal: ShownProposal): void {
    const run = proposal.run.map((step) => ({ ...step, id: makeId() })); // taken twice, its steps are others
    take(`Start from: ${proposal.title}`, withMask(run));
    bench.selection = { kind: 'step', id: run[0].id };
  }

  function startHere(start: Start, doc: PieceDoc) {
    const runs = (proposals.now?.ofKinds ?? []).map(({ run }) => run);
    const facts = piece.facts.get(doc.sources[0]?.sha256);
    return takeStart(start.doc, doc, { facts, runs }, makeId);
  }

  async function takeKept(start: Start, name: string): Promise<void> {
    const { id } = piece;
    const endLook = proposals.look(); // also where the tray is left meanwhile
    await proposals.settled(); // its scribbles and colours are found in this picture
    if (piece.id !== id) return endLook();
    let left: string[] = [];
    take(`Start from: ${name}`, (doc) => {
      const taken = startHere(start, doc);
      left = taken.leftOut;
      return taken.doc;
    });
    leftOut.value = left;
    endLook();
  }

  return {
    leftOut,
    showProposal: ({ run }: ShownProposal) => piece.glanceAt(withMask(run)),
    showStart: (start: Start) => piece.glanceAt((doc) => startHere(start, doc).doc),
    showNone: () => piece.glanceAt(null),
    takeProposal,
    takeKept,
  };
}

/** These steps in place of those that make the mask; what was drawn by hand stays, and a fringe gets the kept colour. */
function withMask(mask: readonly StepEntry[]) {
  return (doc: PieceDoc): PieceDoc => {
    const rest = doc.run.filter((step) => stepKind(step.kind).stretch !== 'mask' || isHandStep(step));
    const run = [...mask, ...rest];
    if (!run.some(({ kind }) => kind === 'bleed'))
      run.splice(endOfStretch(run, 'bleed'), 0, makeStep(makeId(), 'bleed'));
    return { ...doc, run };
  };
}
