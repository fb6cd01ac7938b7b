import type { ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngineStore } from '../../stores/engine.store';
import { HAND_TOOLS, useHandStore } from '../../stores/hand.store';
import { usePieceStore } from '../../stores/piece.store';
import { useKeys } from '../keys/keys';
import type { Stage } from '../stage/stage';
import type { usePainting } from './painting';

/** Keys of painting by hand: they do something only while a step of strokes is selected. */
export function useHandKeys(stage: ShallowRef<Stage | null>, painting: ReturnType<typeof usePainting>): void {
  const hand = useHandStore();
  const bench = useBenchStore();
  const piece = usePieceStore();
  const engine = useEngineStore();
  /** The mask before the step is asked for; false as soon as the key is up. */
  let before = false;

  async function showBefore(): Promise<void> {
    if (!piece.doc || !hand.step) return;
    before = true;
    const levels = await engine.engine().maskBefore(piece.doc, hand.step.id);
    if (before && levels) stage.value?.setMask(levels, engine.mask?.edit ?? 0);
  }
  function showAfter(): void {
    before = false;
    if (engine.mask) stage.value?.setMask(engine.mask.levels, engine.mask.edit);
  }
  const look = (mode: typeof bench.sheetMode) => piece.material && stage.value?.setLook(mode, piece.material);

  useKeys('Strokes by hand', [
    { key: 'd', says: 'Cut or restore', run: () => void hand.changeOver() },
    {
      key: 'e',
      says: 'The other one, while held',
      run: () => void (hand.swapped = true),
      release: () => (hand.swapped = false),
    },
    { key: 'u', says: 'Smaller brush', run: () => hand.resize(hand.brush.diameter / 1.25) },
    { key: 'i', says: 'Larger brush', run: () => hand.resize(hand.brush.diameter * 1.25) },
    {
      key: 'q',
      says: 'Drag the diameter on the Sheet, while held',
      run: () => void (hand.dragging = 'diameter'),
      release: () => (hand.dragging = 'nothing'),
    },
    {
      key: ';',
      says: 'Drag the mirror’s line, while held',
      run: () => void (hand.dragging = hand.mirror ? 'mirror' : 'nothing'),
      release: () => (hand.dragging = 'nothing'),
    },
    {
      key: 'o',
      says: 'Brush, line, outline, region',
      run: () => void (hand.tool = HAND_TOOLS[(HAND_TOOLS.indexOf(hand.tool) + 1) % HAND_TOOLS.length]),
    },
    { key: 'v', says: 'The mask alone, while held', run: () => look('mask'), release: () => look(bench.sheetMode) },
    { key: 'y', says: 'Without the strokes, while held', run: () => void showBefore(), release: showAfter },
    { key: 'z', says: 'Close the outline', run: () => painting.closeOutline() },
    {
      key: 'Escape',
      says: 'Take back what is being drawn',
      run: () => {
        if (!painting.abandon()) bench.picking = null;
      },
    },
  ]);
}
