import { useBenchStore } from '../../stores/bench.store';
import { HAND_TOOLS, useHandStore } from '../../stores/hand.store';
import { useKeys } from '../keys/keys';
import type { usePainting } from './painting';

/** Keys of painting by hand: they do something only while a step of strokes is selected. */
export function useHandKeys(painting: ReturnType<typeof usePainting>): void {
  const hand = useHandStore();
  const bench = useBenchStore();
  useKeys('Strokes by hand', [
    { key: 'Enter', says: 'Press in the middle of the view, while held; arrows steer' },
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
    {
      key: 'v',
      says: 'The mask alone, while held',
      run: () => void (hand.peek = 'mask'),
      release: () => (hand.peek = 'nothing'),
    },
    {
      key: 'y',
      says: 'Without the strokes, while held',
      run: () => void (hand.peek = 'before'),
      release: () => (hand.peek = 'nothing'),
    },
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
