import type { MapName } from '@lithe-sieve/core';
import { computed, type ComputedRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine } from '../../stores/open-piece/open-piece';
import type { SheetMode } from '../../drawing/flat-view';

/** Colour and mask, and what the clip makes of them: every run has these. */
export const ALWAYS_SHOWN = ['colour', 'mask', 'kept', 'fringe'] as const satisfies SheetMode[];

/** The maps beside these that the run makes, and what the Sheet shows: what is wished for, once the run makes it. */
export function useSheetShown(): { maps: ComputedRef<MapName[]>; shown: ComputedRef<SheetMode> } {
  const bench = useBenchStore();
  const engine = useEngine();
  const maps = computed(() => engine.maps?.maps.map((m) => m.map).filter((m) => m !== 'colour') ?? []);
  const shown = computed((): SheetMode => {
    const wish = bench.sheetMode;
    return ALWAYS_SHOWN.some((mode) => mode === wish) || maps.value.some((map) => map === wish) ? wish : 'kept';
  });
  return { maps, shown };
}
