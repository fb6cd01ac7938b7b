import { ref, watch } from 'vue';
import type { ApiError } from '../api/http';
import { openPiece, providePiece } from '../stores/open-piece/open-piece';

/** Keeps the piece of the route open, for all components below. */
export function useOpenPiece(id: () => string) {
  const open = openPiece();
  providePiece(open);
  const { piece, engine } = open;
  const failure = ref<ApiError | null>(null);
  watch(
    id,
    async (wanted) => {
      failure.value = null;
      try {
        engine.expect(wanted);
        await piece.open(wanted);
      } catch (error) {
        if (id() === wanted) failure.value = error as ApiError;
      }
    },
    { immediate: true },
  );
  return { failure };
}
