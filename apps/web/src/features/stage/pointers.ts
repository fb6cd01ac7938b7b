import type { ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import type { Point } from '../../drawing/poses';
import { BY_KEYS, usePress, type Pressed } from './press';
import { usePressKeys } from './press-keys';
import type { PressTool } from './press-tool';
import { useReadout } from './readout';
import type { Stage, ViewName } from './stage';

/**
 * Mouse, pen, wheel and arrow keys on both views.
 *
 * @param tool - Takes the presses while it is ready.
 */
export function usePointers(stage: ShallowRef<Stage | null>, tool: PressTool) {
  const bench = useBenchStore();
  const press = usePress(stage, tool);
  const { hovered, tip, moved, trail, refresh } = press;
  /** CSS pixels of a texel on the Sheet; the Stand is turned by the least that it can be. */
  const texelSide = (view: ViewName) => (view === 'sheet' ? (stage.value?.sheet.scale ?? 1) : 1);
  const keys = usePressKeys(press, tool, texelSide);
  /** Where the pointer was last. */
  let last: Point = { x: 0, y: 0 };

  function handlers(view: ViewName) {
    return {
      pointerdown(event: PointerEvent) {
        const eraser = event.button === ERASER;
        if (event.button > 2 && !eraser) return;
        const before = press.now();
        const second = before !== null && before.id !== event.pointerId; // another finger ends the stroke, and pans
        press.letGo();
        (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
        const first = (event.button === 0 || eraser) && !second; // the other buttons pan and turn all the same
        last = localPoint(event);
        press.begin(view, { ...last, pressure: pressureOf(event) }, event.pointerId, first, eraser);
      },
      pointermove(event: PointerEvent) {
        const now = press.now();
        if (now?.id === BY_KEYS) return; // a mouse that is left lying on the view
        const at = localPoint(event);
        press.point(view, at);
        if (now?.view !== view || now.id !== event.pointerId) return;
        if (now.does === 'drags') press.drag(view, at.x - last.x, at.y - last.y);
        else press.goOn(view, wayOf(event));
        last = at;
      },
      pointerup(event: PointerEvent) {
        const now = press.now();
        if (now && now.id !== event.pointerId) return;
        if (now?.view === view) press.lift();
        else press.letGo();
      },
      pointercancel: press.cancel,
      lostpointercapture: press.letGo,
      contextmenu(event: MouseEvent) {
        event.preventDefault(); // its button turns the card
      },
      pointerenter(event: PointerEvent) {
        // a field of the tray must not swallow the keys of the hand
        if (tool.ready.value) (event.currentTarget as HTMLElement).focus({ preventScroll: true });
      },
      pointerleave: press.leave,
      wheel(event: WheelEvent) {
        event.preventDefault();
        const factor = Math.pow(1.0016, -event.deltaY * (event.deltaMode === 1 ? 16 : 1));
        if (view === 'stand') bench.distance = Math.min(120, Math.max(0.5, bench.distance / factor));
        else zoomAt(factor, localPoint(event));
      },
      ...keys(view),
    };
  }

  function zoomAt(factor: number, { x, y }: Point): void {
    const s = stage.value;
    if (!s) return;
    s.sheet.zoomAt(factor, x, y, s.view('sheet'));
    s.invalidate('sheet');
    refresh();
  }

  /** About the middle of the Sheet. */
  function zoomSheet(factor: number): void {
    const { width, height } = stage.value?.view('sheet') ?? { width: 0, height: 0 };
    zoomAt(factor, { x: width / 2, y: height / 2 });
  }

  return {
    sheet: handlers('sheet'),
    stand: handlers('stand'),
    zoomSheet,
    refresh,
    moved,
    trail,
    tip,
    ...useReadout(stage, hovered, moved),
  };
}

/** The other end of a pen (Pointer Events, W3C, chorded buttons). */
const ERASER = 5;

function localPoint({ currentTarget, clientX, clientY }: MouseEvent): Point {
  const box = (currentTarget as HTMLElement).getBoundingClientRect();
  return { x: clientX - box.left, y: clientY - box.top };
}

/** Every place that the pointer passed since the last event. */
function wayOf(event: PointerEvent): Pressed[] {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  const events = event.getCoalescedEvents?.() ?? [];
  return (events.length > 0 ? events : [event]).map((e) => ({
    x: e.clientX - box.left,
    y: e.clientY - box.top,
    pressure: pressureOf(e),
  }));
}

/** Only a pen reports its pressure; others count as full (Pointer Events, W3C: a mouse says 0.5). */
function pressureOf(event: PointerEvent): number {
  return event.pointerType === 'pen' ? event.pressure : 1;
}
