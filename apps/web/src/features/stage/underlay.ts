import { computed, watch, type ComputedRef, type ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { Stage } from './stage';

/** Up to this many texels a second picture on the graphics card is no burden. */
const MOST_UNDERLAY = 4096 * 4096;

/**
 * The picture that the Sheet shows instead of the result, or beneath it.
 *
 * @param painting - Strokes are drawn or points are given: bled colour would hide what was there.
 */
export function useUnderlay(stage: ShallowRef<Stage | null>, painting: ComputedRef<boolean>) {
  const piece = usePiece();
  const engine = useEngine();
  const bench = useBenchStore();

  /** The picture under a selected source's tile; the result otherwise. */
  const shownSource = computed(() => {
    const { selection } = bench;
    if (selection.kind !== 'source') return undefined;
    const source = piece.sources.find((s) => s.id === selection.id);
    return source?.recipe ? undefined : source; // what is grown is seen in the result, with its handles
  });
  const underlay = computed(() => {
    const { width, height } = engine.size ?? { width: 0, height: 0 };
    return shownSource.value ?? (painting.value && width * height <= MOST_UNDERLAY ? piece.sources[0] : undefined);
  });

  async function bringUnderlay(): Promise<void> {
    const source = underlay.value;
    if (!source) return stage.value?.setSource(null);
    const picture = await engine.engine().picture(source.sha256);
    if (underlay.value?.sha256 === source.sha256) stage.value?.setSource(picture);
  }
  watch(() => underlay.value?.sha256, bringUnderlay);

  return { shownSource, bringUnderlay };
}
