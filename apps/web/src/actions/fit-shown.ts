import { stepKind } from '@lithe-sieve/core';
import { computed, onScopeDispose, watch } from 'vue';
import { useBenchStore } from '../stores/bench.store';
import { useEngine, usePiece } from '../stores/open-piece/open-piece';

/**
 * The Bench shows the fit, but while a source or a step before it is selected: what is picked, touched and drawn there is
 * in texels of the picture.
 */
export function useFitShown(): void {
  const piece = usePiece();
  const engine = useEngine();
  const bench = useBenchStore();
  const shows = computed(() => {
    const { selection } = bench;
    if (!('id' in selection)) return true;
    const step = piece.run.find((s) => s.id === selection.id);
    return step ? stepKind(step.kind).stretch === 'fit' : false;
  });
  watch(shows, (now) => (engine.showsFit = now), { immediate: true, flush: 'sync' });
  onScopeDispose(() => (engine.showsFit = true));
}
