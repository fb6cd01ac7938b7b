import { useBenchStore } from '../../stores/bench.store';
import { HAND_TOOLS, useHandStore } from '../../stores/hand.store';
import { useKeys } from '../../actions/keys';
import type { usePainting } from './painting';

/** Keys of painting by hand: they do something only while a step of strokes is selected. */
export function useHandKeys(painting: ReturnType<typeof usePainting>): void {
  const hand = useHandStore();
  const bench = useBenchStore();
  useKeys('Strokes by hand', [
    { key: 'Enter', label: 'Draw from the middle of the view, while held; arrows steer' },
    { key: 'd', label: 'Cut or restore', run: () => void hand.changeOver() },
    {
      key: 'e',
      label: 'Swap cut and restore, while held',
      run: () => void (hand.swapped = true),
      release: () => (hand.swapped = false),
    },
    { key: 'u', label: 'Smaller brush', run: () => hand.resize(hand.brush.diameter / 1.25) },
    { key: 'i', label: 'Larger brush', run: () => hand.resize(hand.brush.diameter * 1.25) },
    {
      key: 'q',
      label: 'Drag the diameter on the Sheet, while held',
      run: () => void (hand.dragging = 'diameter'),
      release: () => (hand.dragging = 'nothing'),
    },
    {
      key: ';',
      label: 'Drag the mirror’s line, while held',
      run: () => void (hand.dragging = hand.mirror ? 'mirror' : 'nothing'),
      release: () => (hand.dragging = 'nothing'),
    },
    {
      key: 'o',
      label: 'Brush, line, outline, region',
      run: () => void (hand.tool = HAND_TOOLS[(HAND_TOOLS.indexOf(hand.tool) + 1) % HAND_TOOLS.length]),
    },
    {
      key: 'v',
      label: 'The mask alone, while held',
      run: () => void (hand.peek = 'mask'),
      release: () => (hand.peek = 'nothing'),
    },
    {
      key: 'y',
      label: 'Without the strokes, while held',
      run: () => void (hand.peek = 'before'),
      release: () => (hand.peek = 'nothing'),
    },
    { key: 'z', label: 'Close the outline', run: () => painting.closeOutline() },
    {
      key: 'Escape',
      label: 'Take back what is being drawn',
      run: () => {
        if (!painting.abandon()) bench.endPressing();
      },
    },
  ]);
}
