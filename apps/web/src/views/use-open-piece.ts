import { ref, watch } from 'vue';
import type { ApiError } from '../api/http';
import { useEngineStore } from '../stores/engine.store';
import { usePieceStore } from '../stores/piece.store';

/** Keeps the piece of the route open. */
export function useOpenPiece(id: () => string) {
  const piece = usePieceStore();
  const engine = useEngineStore();
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
