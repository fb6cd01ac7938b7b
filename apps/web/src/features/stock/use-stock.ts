import { PIECES_AT_ONCE, type PieceSummary } from '@lithe-sieve/contract';
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue';
import type { ApiError } from '../../api/http';
import { deletePiece, listPieces, restorePiece } from '../../api/pieces.api';
import { usePostersStore } from '../../stores/posters.store';

/** Between looks at pieces whose pictures are being computed. */
const LOOK_AGAIN_MS = 900;
/** Pause of typing in the search. */
const TYPING_MS = 150;

/** The pieces of the studio, fetched in parts as they come into view. */
export function useStock(search: Ref<string>) {
  const total = ref<number | null>(null);
  const found = ref(0);
  const parts = shallowRef(new Map<number, PieceSummary[]>());
  const failure = ref<ApiError | null>(null);
  const posters = usePostersStore();
  /** Pieces that were deleted here, and names of those that hold a copy: they keep their places until everything is fetched again, so that
   * no other card slides under the pointer. */
  const gone = shallowRef(new Map<string, readonly string[]>());
  let asked = new Set<number>();
  let shown: [from: number, to: number] = [0, 1];
  let generation = 0;
  let again: ReturnType<typeof setTimeout> | undefined;
  let typing: ReturnType<typeof setTimeout> | undefined;
  onScopeDispose(() => {
    generation++;
    clearTimeout(again);
    clearTimeout(typing);
  });

  const at = (index: number): PieceSummary | undefined =>
    parts.value.get(Math.floor(index / PIECES_AT_ONCE))?.[index % PIECES_AT_ONCE];

  /** The pieces from `from` to before `to` are looked at. */
  function show(from: number, to: number): void {
    shown = [from, Math.max(to, from + 1)];
    for (const part of shownParts()) if (!asked.has(part)) void fetchPart(part);
    lookAgain();
  }

  function shownParts(): number[] {
    const [from, to] = shown;
    const [first, last] = [Math.floor(from / PIECES_AT_ONCE), Math.floor((to - 1) / PIECES_AT_ONCE)];
    return Array.from({ length: last - first + 1 }, (_, i) => first + i);
  }

  async function fetchPart(part: number): Promise<void> {
    const mine = generation;
    asked.add(part);
    try {
      const list = await listPieces(
        Math.max(0, part * PIECES_AT_ONCE - goneBefore(part)),
        PIECES_AT_ONCE,
        search.value,
      );
      if (mine !== generation) return;
      total.value = list.total + gone.value.size;
      found.value = list.found + gone.value.size;
      posters.remember(list.pieces);
      parts.value = new Map(parts.value).set(part, withPlaces(parts.value.get(part), list.pieces));
      failure.value = null;
    } catch (error) {
      if (mine !== generation) return;
      asked.delete(part);
      failure.value = error as ApiError;
    }
    lookAgain();
  }

  const goneIn = (pieces: readonly PieceSummary[] = []) => pieces.filter((p) => gone.value.has(p.id)).length;
  const goneBefore = (part: number) =>
    [...parts.value].reduce((sum, [other, pieces]) => sum + (other < part ? goneIn(pieces) : 0), 0);

  /** A part that is fetched again while places are kept. */
  function withPlaces(before: PieceSummary[] | undefined, now: PieceSummary[]): PieceSummary[] {
    if (!before || goneIn(before) === 0) return now;
    const news = new Map(now.map((p) => [p.id, p]));
    return before.map((p) => news.get(p.id) ?? p);
  }

  /** What is in view and still being computed, or could not be fetched, is asked for again after a while. */
  function lookAgain(): void {
    clearTimeout(again);
    const wanted = shownParts().filter(
      (p) => !asked.has(p) || parts.value.get(p)?.some((piece) => !piece.fresh && !gone.value.has(piece.id)),
    );
    if (wanted.length > 0) again = setTimeout(() => wanted.forEach((p) => void fetchPart(p)), LOOK_AGAIN_MS);
  }

  /** Fetches everything again; what is shown stays until it is there. */
  async function load(): Promise<void> {
    generation++;
    asked = new Set();
    gone.value = new Map();
    const [first, ...others] = shownParts();
    await fetchPart(first);
    parts.value = new Map([...parts.value].filter(([part]) => asked.has(part)));
    for (const part of others) void fetchPart(part);
  }

  watch(search, () => {
    clearTimeout(typing);
    typing = setTimeout(() => {
      shown = [0, 1];
      void load();
    }, TYPING_MS);
  });

  async function remove(id: string): Promise<void> {
    const usedBy = await deletePiece(id);
    gone.value = new Map(gone.value).set(id, usedBy);
  }

  async function restore(id: string): Promise<void> {
    await restorePiece(id);
    gone.value = new Map([...gone.value].filter(([other]) => other !== id));
  }

  return { total, found, failure, at, show, load, gone, remove, restore };
}
