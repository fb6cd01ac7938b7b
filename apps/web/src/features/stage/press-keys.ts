import { useBenchStore } from '../../stores/bench.store';
import { BY_KEYS, type usePress } from './press';
import type { PressTool } from './press-tool';
import type { ViewName } from './stage';

const ARROWS: Partial<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * Enter is a press in the middle of a view, for as long as it is held; arrows move the picture under it.
 *
 * @param texelSide - The least that a view is moved by, CSS pixels.
 */
export function usePressKeys(
  press: ReturnType<typeof usePress>,
  tool: PressTool,
  texelSide: (view: ViewName) => number,
) {
  const bench = useBenchStore();
  const takes = () => bench.picking !== null || tool.ready.value;
  const lift = () => {
    if (press.now()?.id === BY_KEYS) press.lift();
  };

  return (view: ViewName) => ({
    keydown(event: KeyboardEvent) {
      if (event.target !== event.currentTarget) return;
      const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
      const middle = { x: box.width / 2, y: box.height / 2, pressure: 1 };
      if (event.key === 'Enter' && takes()) {
        event.preventDefault();
        if (event.repeat || press.now()) return;
        press.point(view, middle);
        press.begin(view, middle, BY_KEYS, true);
        return;
      }
      const way = ARROWS[event.key];
      if (!way || event.altKey) return; // with Alt a step of the run is moved
      event.preventDefault();
      const far = event.ctrlKey || event.metaKey ? texelSide(view) : event.shiftKey ? 120 : 24;
      press.drag(view, -far * way[0], -far * way[1]);
      if (takes()) press.point(view, middle);
      const now = press.now();
      if (now?.id === BY_KEYS && now.view === view) press.goOn(view, [middle]);
    },
    keyup(event: KeyboardEvent) {
      if (event.key === 'Enter') lift();
    },
    blur: lift,
  });
}
