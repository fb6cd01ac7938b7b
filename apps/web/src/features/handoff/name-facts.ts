import type { NameFacts } from '@lithe-sieve/core';
import { computed, type ComputedRef } from 'vue';
import { useSavingStore } from '../../stores/saving.store';
import { usePiece } from '../../stores/open-piece/open-piece';

/** What names say of a hand-off that would begin now. */
export function useNameFacts(): ComputedRef<NameFacts> {
  const piece = usePiece();
  const saving = useSavingStore();
  return computed(() => {
    void saving.state; // the revision goes on with each save
    return { revision: piece.revision(), date: new Date().toISOString().slice(0, 10) };
  });
}
