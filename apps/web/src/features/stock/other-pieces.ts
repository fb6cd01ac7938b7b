import type { PieceSummary } from '@lithe-sieve/contract';
import { PIECES_AT_ONCE } from '@lithe-sieve/contract';
import { cutText, isHandStep, LIMITS, mapKind, type MapName, type PieceDoc, type Stroke } from '@lithe-sieve/core';
import { onMounted, ref, shallowRef } from 'vue';
import { fetchStrokes, listPieces, openPiece } from '../../api/pieces.api';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';

/** Another piece, as it is now. */
export interface OtherPiece {
  id: string;
  doc: PieceDoc;
  revision: number;
  byHand: Stroke[];
}

/** Other pieces, to take something of: copied as they are now, so that nothing changes behind this piece's back. */
export function useOtherPieces() {
  const piece = usePiece();
  const others = shallowRef<PieceSummary[]>([]);
  const busy = ref(false);
  const trouble = ref('');

  /** The first pieces, newest change first, whose name holds these words. */
  async function find(words = ''): Promise<void> {
    try {
      const { pieces } = await listPieces(0, PIECES_AT_ONCE, words);
      others.value = pieces.filter((p) => p.id !== piece.id && !p.problem);
    } catch (error) {
      trouble.value = (error as Error).message;
    }
  }
  onMounted(() => find());

  async function take(id: string, use: (other: OtherPiece) => Promise<void>): Promise<void> {
    busy.value = true;
    trouble.value = '';
    try {
      const { doc, revision } = await openPiece(id);
      await use({ id, doc, revision, byHand: doc.run.some(isHandStep) ? await fetchStrokes(id) : [] });
    } catch (error) {
      trouble.value = (error as Error).message;
    } finally {
      busy.value = false;
    }
  }

  return { others, find, busy, trouble, take };
}

/** A map of another piece as a file, and how wide it is, metres: a fit leaves less of the card. */
export function useMapFile(): (other: OtherPiece, map?: MapName) => Promise<{ file: File; metres: number }> {
  const engine = useEngine();
  return async ({ doc, byHand }, map = 'mask') => {
    const { bytes, share } = await engine.engine().others.mapFileOf(doc, byHand, map);
    const { label } = mapKind(map);
    const file = new File([bytes as BlobPart], `${cutText(doc.name, LIMITS.fileName - 30)}, ${label}.png`);
    return { file, metres: doc.cardWidth * share };
  };
}
