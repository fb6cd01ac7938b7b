import type { Mask, Picture } from '@lithe-sieve/core';
import { computed, ref, type ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngineStore } from '../../stores/engine.store';
import { useHandStore } from '../../stores/hand.store';
import { usePieceStore } from '../../stores/piece.store';
import { usePainting } from '../hand/painting';
import { usePicking } from './picking';
import type { Point } from './poses';
import type { Stage } from './stage';

/** Mouse, pen, wheel and arrow keys on both views: idle, pressed, dragged; and the texel that both views mark. */
export function usePointers(stage: ShallowRef<Stage | null>) {
  const piece = usePieceStore();
  const engine = useEngineStore();
  const bench = useBenchStore();
  const picking = usePicking();
  const hand = useHandStore();
  /** Under the pointer, in texels of the full picture, and the view it was found on. */
  const hovered = ref<(Point & { on: 'sheet' | 'stand' }) | null>(null);
  const moved = ref(0); // the cameras are not reactive: this tells that one moved
  /** The same with its fraction, while a step takes strokes. */
  const tip = ref<(Point & { on: 'sheet' | 'stand' }) | null>(null);
  const painting = usePainting();
  let press: {
    view: 'sheet' | 'stand';
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

  function texelOnSheet(at: Point): Point | null {
    const s = stage.value;
    if (!s || !engine.size) return null;
    const t = s.sheet.texelAt(at.x, at.y, s.view('sheet'));
    const inside = t.x >= 0 && t.y >= 0 && t.x < engine.size.width && t.y < engine.size.height;
    return inside ? { x: Math.floor(t.x), y: Math.floor(t.y) } : null;
  }

  function texelOnStand(at: Point): Point | null {
    const s = stage.value;
    const hit = s && engine.size && s.stand.pictureAt(at.x, at.y, s.view('stand'));
    if (!hit || !engine.size) return null;
    return {
      x: Math.min(engine.size.width - 1, Math.floor(hit.u * engine.size.width)),
      y: Math.min(engine.size.height - 1, Math.floor(hit.v * engine.size.height)),
    };
  }

  /** Texels with their fraction, beside the picture too; null where the card is not seen. */
  function exactOn(view: 'sheet' | 'stand', at: Point): Point | null {
    const s = stage.value;
    if (!s || !engine.size) return null;
    if (view === 'sheet') return s.sheet.texelAt(at.x, at.y, s.view('sheet'));
    const hit = s.stand.pictureAt(at.x, at.y, s.view('stand'));
    return hit && { x: hit.u * engine.size.width, y: hit.v * engine.size.height };
  }

  /** CSS pixels of one texel around a place. */
  function perTexel(view: 'sheet' | 'stand', { x, y }: Point): number {
    const s = stage.value;
    if (!s || !engine.size) return 1;
    if (view === 'sheet') return s.sheet.scale;
    const { width, height } = engine.size;
    const [a, b] = [0, 8].map((d) => s.stand.pointOf((x + d) / width, y / height, s.view('stand')));
    return Math.max(0.01, Math.hypot(b.x - a.x, b.y - a.y) / 8);
  }

  function paintMove(view: 'sheet' | 'stand', element: HTMLElement, event: PointerEvent): void {
    const box = element.getBoundingClientRect();
    const events = event.getCoalescedEvents?.() ?? [];
    const points = (events.length > 0 ? events : [event]).flatMap((e) => {
      const at = exactOn(view, { x: e.clientX - box.left, y: e.clientY - box.top });
      return at ? [{ ...at, pressure: pressureOf(e) }] : [];
    });
    if (points.length > 0) painting.move(points, perTexel(view, points[0]));
  }

  /** What ends a stroke ends it where it is: nothing that was drawn is lost. */
  function letGo(): void {
    if (press?.does === 'paints') {
      painting.end();
      if (press.eraser) hand.swapped = false;
    }
    press = null;
  }

  function drag(view: 'sheet' | 'stand', dx: number, dy: number): void {
    const s = stage.value;
    if (!s) return;
    if (view === 'sheet') s.sheet.panBy(dx, dy);
    else s.stand.orbitBy(dx, dy);
    s.invalidate(view);
    refresh();
  }

  function handlers(view: 'sheet' | 'stand') {
    const find = view === 'sheet' ? texelOnSheet : texelOnStand;
    return {
      pointerdown(event: PointerEvent) {
        const eraser = event.button === ERASER;
        if (event.button > 2 && !eraser) return;
        const second = press !== null && press.id !== event.pointerId; // another finger ends the stroke, and pans
        letGo();
        (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
        const at = localPoint(event);
        const first = (event.button === 0 || eraser) && !second; // the other buttons pan and turn all the same
        const texel = bench.picking && first ? find(at) : null;
        const place = !bench.picking && first && painting.ready.value && find(at) ? exactOn(view, at) : null;
        press = { view, last: at, id: event.pointerId, does: texel ? 'picks' : place ? 'paints' : 'drags', eraser };
        if (texel) picking.begin(texel);
        if (place && eraser) hand.swapped = true;
        if (place) painting.begin({ ...place, pressure: pressureOf(event) }, perTexel(view, place));
      },
      pointermove(event: PointerEvent) {
        const at = localPoint(event);
        const found = find(at);
        hovered.value = found && { ...found, on: view };
        const exact = painting.ready.value ? exactOn(view, at) : null;
        tip.value = exact && { ...exact, on: view };
        if (press?.view !== view || press.id !== event.pointerId) return;
        if (press.does === 'drags') drag(view, at.x - press.last.x, at.y - press.last.y);
        else if (press.does === 'paints') paintMove(view, event.currentTarget as HTMLElement, event);
        else if (found) picking.move(found);
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
        if (painting.ready.value) (event.currentTarget as HTMLElement).focus({ preventScroll: true });
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
      keydown(event: KeyboardEvent) {
        if (event.key === 'Enter' && painting.ready.value && !bench.picking && event.target === event.currentTarget) {
          pressMiddle(view, event.currentTarget as HTMLElement);
          event.preventDefault();
          return;
        }
        if (event.key === 'Enter' && bench.picking && event.target === event.currentTarget) {
          const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
          const texel = find({ x: box.width / 2, y: box.height / 2 });
          if (texel) picking.begin(texel);
          void picking.end();
          event.preventDefault();
          return;
        }
        const far = event.shiftKey ? 120 : 24;
        const moves: Record<string, [number, number]> = {
          ArrowLeft: [far, 0],
          ArrowRight: [-far, 0],
          ArrowUp: [0, far],
          ArrowDown: [0, -far],
        };
        const by = moves[event.key];
        if (!by || event.altKey || event.target !== event.currentTarget) return;
        event.preventDefault();
        drag(view, by[0], by[1]);
      },
    };
  }

  /** What a press in the middle of the view would do: painting by keys. An outline with corners is closed. */
  function pressMiddle(view: 'sheet' | 'stand', element: HTMLElement): void {
    const box = element.getBoundingClientRect();
    const place = exactOn(view, { x: box.width / 2, y: box.height / 2 });
    if (!place) return;
    painting.begin({ ...place, pressure: 1 }, perTexel(view, place));
    painting.end();
  }

  /** Zooms about the middle of the Sheet. */
  function zoomSheet(factor: number): void {
    const s = stage.value;
    if (!s) return;
    const view = s.view('sheet');
    s.sheet.zoomAt(factor, view.width / 2, view.height / 2, view);
    s.invalidate('sheet');
    refresh();
  }

  const readout = computed(() => {
    const at = hovered.value;
    const mask = engine.mask?.levels[0];
    const colour = engine.colour?.levels[0];
    const m = piece.material;
    if (!at || !mask || !colour || !m || !engine.size) return '';
    const rgb = sampleColour(colour, at, engine.size);
    const alpha = sampleMask(mask, at, engine.size);
    const kept = m.mode === 'opaque' || (alpha / 255) * m.opacity >= m.cutoff;
    return `texel ${at.x}, ${at.y}  RGB ${rgb.join(' ')}  alpha ${(alpha / 255).toFixed(3)}  ${kept ? 'kept' : 'dropped'}`;
  });

  const zoomText = computed(() => {
    void moved.value;
    const s = stage.value;
    return s ? `${Math.round(100 * s.sheet.scale * s.pixelRatio)} %` : '';
  });

  const standText = computed(() => {
    void moved.value;
    const s = stage.value;
    if (!s || !engine.size) return '';
    const level = s.stand.mipLevel(engine.size.height, s.view('stand'), s.pixelRatio);
    return `${s.stand.seesFront ? 'front' : 'back'} ${s.stand.azimuthDegrees}°  mip ${level.toFixed(1)}`;
  });

  /** The texel under the pointer, marked on the other view. */
  const marks = computed(() => {
    void moved.value;
    const at = hovered.value;
    const s = stage.value;
    if (!at || !s || !engine.size) return { sheet: null, stand: null };
    const place = (p: Point) => ({ left: `${p.x}px`, top: `${p.y}px` });
    const { width, height } = engine.size;
    return at.on === 'stand'
      ? { sheet: place(s.sheet.pointOf(at.x + 0.5, at.y + 0.5, s.view('sheet'))), stand: null }
      : { sheet: null, stand: place(s.stand.pointOf((at.x + 0.5) / width, (at.y + 0.5) / height, s.view('stand'))) };
  });

  return {
    sheet: handlers('sheet'),
    stand: handlers('stand'),
    zoomSheet,
    refresh,
    moved,
    trail: picking.trail,
    painting,
    tip,
    readout,
    zoomText,
    standText,
    marks,
  };
}

/** The other end of a pen (Pointer Events, W3C, chorded buttons). */
const ERASER = 5;

/** Only a pen tells its pressure; others count as full (Pointer Events, W3C: a mouse says 0.5). */
function pressureOf(event: PointerEvent): number {
  return event.pointerType === 'pen' ? event.pressure : 1;
}

/** While only the view size is there, its nearest texel stands in. */
function texelIndex(
  { width, height }: { width: number; height: number },
  at: Point,
  size: { width: number; height: number },
): number {
  return Math.floor((at.y * height) / size.height) * width + Math.floor((at.x * width) / size.width);
}

function sampleMask(mask: Mask, at: Point, size: { width: number; height: number }): number {
  return mask.data[texelIndex(mask, at, size)];
}

function sampleColour(colour: Picture, at: Point, size: { width: number; height: number }): number[] {
  const i = 4 * texelIndex(colour, at, size);
  return [colour.data[i], colour.data[i + 1], colour.data[i + 2]];
}
