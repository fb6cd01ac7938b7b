import { ref, type ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import type { ViewName } from '../../drawing/messages';
import { usePicking } from './picking';
import { usePlaces, type SeenPlace } from './places';
import type { Point } from '../../drawing/poses';
import type { PressTool } from './press-tool';
import { useReadout } from './readout';
import type { Stage } from './stage';

/**
 * Mouse, pen, wheel and arrow keys on both views: idle, pressed, dragged; and the texel that both views mark.
 *
 * @param tool - Takes the presses while it is ready.
 */
export function usePointers(stage: ShallowRef<Stage | null>, tool: PressTool) {
  const bench = useBenchStore();
  const picking = usePicking();
  /** Under the pointer, in texels of the full picture, and the view it was found on. */
  const hovered = ref<SeenPlace | null>(null);
  const moved = ref(0); // the cameras are not reactive: this changes when one moved
  /** The same with its fraction, while a step takes strokes. */
  const tip = ref<SeenPlace | null>(null);
  const { exactOn, texelOn, perTexel } = usePlaces(stage);
  let press: {
    view: ViewName;
    last: Point;
    id: number;
    does: 'drags' | 'picks' | 'paints';
    eraser: boolean;
  } | null = null;

  const refresh = () => void moved.value++;

  function localPoint(event: MouseEvent): Point {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  }

  function paintMove(view: ViewName, element: HTMLElement, event: PointerEvent): void {
    const box = element.getBoundingClientRect();
    const events = event.getCoalescedEvents?.() ?? [];
    const points = (events.length > 0 ? events : [event]).flatMap((e) => {
      const at = exactOn(view, { x: e.clientX - box.left, y: e.clientY - box.top });
      return at ? [{ ...at, pressure: pressureOf(e) }] : [];
    });
    if (points.length > 0) tool.move(points, perTexel(view, points[0]));
  }

  /** What ends a stroke ends it where it is: nothing that was drawn is lost. */
  function letGo(): void {
    if (press?.does === 'paints') {
      tool.end();
      if (press.eraser) tool.erase(false);
    }
    press = null;
  }

  function drag(view: ViewName, dx: number, dy: number): void {
    const s = stage.value;
    if (!s) return;
    if (view === 'sheet') s.sheet.panBy(dx, dy);
    else s.stand.orbitBy(dx, dy);
    s.invalidate(view);
    refresh();
  }

  /** The pointer, or the middle of the view that stands for it by keys, is here. */
  function point(view: ViewName, at: Point): void {
    const found = texelOn(view, at);
    hovered.value = found && { ...found, on: view };
    const exact = tool.ready.value ? exactOn(view, at) : null;
    tip.value = exact && { ...exact, on: view };
  }

  /** A press begins: it picks, paints or moves the view. @param first - Others only move it. */
  function begin(view: ViewName, at: Point, id: number, pressure: number, first: boolean, eraser = false): void {
    const texel = first ? texelOn(view, at) : null;
    const picks = texel !== null && bench.picking !== null;
    const place = texel && !picks && tool.ready.value ? exactOn(view, at) : null;
    press = { view, last: at, id, does: picks ? 'picks' : place ? 'paints' : 'drags', eraser };
    if (picks) picking.begin(texel);
    if (place && eraser) tool.erase(true);
    if (place) tool.begin({ ...place, pressure }, perTexel(view, place));
  }

  function handlers(view: ViewName) {
    return {
      pointerdown(event: PointerEvent) {
        const eraser = event.button === ERASER;
        if (event.button > 2 && !eraser) return;
        const second = press !== null && press.id !== event.pointerId; // another finger ends the stroke, and pans
        letGo();
        (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
        const first = (event.button === 0 || eraser) && !second; // the other buttons pan and turn all the same
        begin(view, localPoint(event), event.pointerId, pressureOf(event), first, eraser);
      },
      pointermove(event: PointerEvent) {
        if (press?.id === BY_KEYS) return; // a mouse that is left lying on the view
        const at = localPoint(event);
        point(view, at);
        if (press?.view !== view || press.id !== event.pointerId) return;
        if (press.does === 'drags') drag(view, at.x - press.last.x, at.y - press.last.y);
        else if (press.does === 'paints') paintMove(view, event.currentTarget as HTMLElement, event);
        else if (hovered.value) picking.move(hovered.value);
        press.last = at;
      },
      pointerup(event: PointerEvent) {
        if (press && press.id !== event.pointerId) return;
        if (press?.view === view && press.does === 'picks') void picking.end();
        letGo();
      },
      pointercancel() {
        letGo();
        picking.cancel();
      },
      lostpointercapture: letGo,
      contextmenu(event: MouseEvent) {
        event.preventDefault(); // its button turns the card
      },
      pointerenter(event: PointerEvent) {
        // a field of the tray must not swallow the keys of the hand
        if (tool.ready.value) (event.currentTarget as HTMLElement).focus({ preventScroll: true });
      },
      pointerleave() {
        hovered.value = null;
        tip.value = null;
      },
      wheel(event: WheelEvent) {
        event.preventDefault();
        const factor = Math.pow(1.0016, -event.deltaY * (event.deltaMode === 1 ? 16 : 1));
        if (view === 'stand') {
          bench.distance = Math.min(120, Math.max(0.5, bench.distance / factor));
          return;
        }
        const at = localPoint(event);
        stage.value?.sheet.zoomAt(factor, at.x, at.y, stage.value.view('sheet'));
        stage.value?.invalidate('sheet');
        refresh();
      },
      ...keyHandlers(view),
    };
  }

  /** Enter is a press in the middle of the view, for as long as it is held; arrows move the picture under it. */
  function keyHandlers(view: ViewName) {
    const lift = () => {
      if (press?.id !== BY_KEYS) return;
      if (press.does === 'picks') void picking.end();
      letGo();
    };
    return {
      keydown(event: KeyboardEvent) {
        if (event.target !== event.currentTarget) return;
        const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
        const middle = { x: box.width / 2, y: box.height / 2 };
        if (event.key === 'Enter' && (bench.picking || tool.ready.value)) {
          event.preventDefault();
          if (event.repeat || press) return;
          point(view, middle);
          begin(view, middle, BY_KEYS, 1, true);
          return;
        }
        const way = ARROWS[event.key];
        if (!way || event.altKey) return; // with Alt a step of the run is moved
        event.preventDefault();
        const far = event.ctrlKey || event.metaKey ? texelSide(view) : event.shiftKey ? 120 : 24;
        drag(view, -far * way[0], -far * way[1]);
        if (bench.picking || tool.ready.value) point(view, middle);
        if (press?.id !== BY_KEYS || press.view !== view) return;
        if (press.does === 'picks' && hovered.value) picking.move(hovered.value);
        const exact = press.does === 'paints' && exactOn(view, middle);
        if (exact) tool.move([{ ...exact, pressure: 1 }], perTexel(view, exact));
      },
      keyup(event: KeyboardEvent) {
        if (event.key === 'Enter') lift();
      },
      blur: lift,
    };
  }

  /** CSS pixels of a texel on the Sheet; the Stand is turned by the least that it can be. */
  const texelSide = (view: ViewName) => (view === 'sheet' ? (stage.value?.sheet.scale ?? 1) : 1);

  /** Zooms about the middle of the Sheet. */
  function zoomSheet(factor: number): void {
    const s = stage.value;
    if (!s) return;
    const view = s.view('sheet');
    s.sheet.zoomAt(factor, view.width / 2, view.height / 2, view);
    s.invalidate('sheet');
    refresh();
  }

  return {
    sheet: handlers('sheet'),
    stand: handlers('stand'),
    zoomSheet,
    refresh,
    moved,
    trail: picking.trail,
    tip,
    ...useReadout(stage, hovered, moved),
  };
}

/** The other end of a pen (Pointer Events, W3C, chorded buttons). */
const ERASER = 5;

/** The press that is done by keys; the number of what is no pointer (Pointer Events, W3C). */
const BY_KEYS = -1;
const ARROWS: Partial<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Only a pen reports its pressure; others count as full (Pointer Events, W3C: a mouse says 0.5). */
function pressureOf(event: PointerEvent): number {
  return event.pointerType === 'pen' ? event.pressure : 1;
}
