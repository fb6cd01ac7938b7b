import { ref, watch } from 'vue';
import type { ApiError } from '../api/http';
import { usePieceStore } from '../stores/piece.store';

/** Opens the piece of the route, unless it is open already. */
export function useOpenPiece(id: () => string) {
  const piece = usePieceStore();
  const failure = ref<ApiError | null>(null);
  watch(
    id,
    async (wanted) => {
      failure.value = null;
      if (piece.id === wanted && piece.doc) return;
      try {
        await piece.open(wanted);
      } catch (error) {
        failure.value = error as ApiError;
      }
    },
    { immediate: true },
  );
  return { failure };
}
