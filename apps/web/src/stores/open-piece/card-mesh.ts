import { toPlainError, type MeshFacts, type PlainError, type SlottedMesh } from '@lithe-sieve/core';
import { ref, shallowRef, watch } from 'vue';
import { fetchMesh } from '../../api/sources.api';
import type { PieceStore } from './piece';

/** A mesh as its file has it, and what it holds. */
export interface LoadedMesh {
  sha256: string;
  mesh: SlottedMesh;
  facts: MeshFacts;
}

/** The mesh that the piece lies on, brought when it names one; the last one stays until another is there. */
export function useCardMesh(piece: PieceStore) {
  const loaded = shallowRef<LoadedMesh | null>(null);
  const failure = ref<PlainError | null>(null);
  const attempt = ref(0);
  watch(
    [() => piece.doc?.mesh?.sha256, attempt],
    async ([sha256]) => {
      failure.value = null;
      if (!sha256) loaded.value = null;
      if (!sha256 || loaded.value?.sha256 === sha256) return;
      const isWanted = () => piece.doc?.mesh?.sha256 === sha256;
      try {
        const found = await fetchMesh(sha256);
        if (isWanted()) loaded.value = { sha256, ...found };
      } catch (error) {
        if (isWanted()) failure.value = toPlainError(error);
      }
    },
    { immediate: true },
  );
  return { loaded, failure, again: () => void attempt.value++ };
}
