import type { Mask, Picture } from '@lithe-sieve/core';
import { computed, ref, type ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngineStore } from '../../stores/engine.store';
import { usePieceStore } from '../../stores/piece.store';
import { usePicking } from './picking';
import type { Point } from './poses';
import type { Stage } from './stage';

/** Mouse, pen, wheel and arrow keys on both views: idle, pressed, dragged; and the texel that both views mark. */
export function usePointers(stage: ShallowRef<Stage | null>) {
  const piece = usePieceStore();
  const engine = useEngineStore();
  const bench = useBenchStore();
  const picking = usePicking();
  /** Under the pointer, in texels of the full picture, and the view it was found on. */
  const hovered = ref<(Point & { on: 'sheet' | 'stand' }) | null>(null);
  const moved = ref(0); // the cameras are not reactive: this tells that one moved
  let press: { view: 'sheet' | 'stand'; last: Point; picks: boolean } | null = null;

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
        if (event.button > 1) return;
        (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
        const at = localPoint(event);
        const texel = bench.picking && event.button === 0 ? find(at) : null; // the middle button pans all the same
        if (texel) picking.begin(texel);
        press = { view, last: at, picks: Boolean(texel) };
      },
      pointermove(event: PointerEvent) {
        const at = localPoint(event);
        const found = find(at);
        hovered.value = found && { ...found, on: view };
        if (press?.view !== view) return;
        if (!press.picks) drag(view, at.x - press.last.x, at.y - press.last.y);
        else if (found) picking.move(found);
        press.last = at;
      },
      pointerup() {
        if (press?.view === view && press.picks) void picking.end();
        press = null;
      },
      pointercancel() {
        press = null;
        picking.cancel();
      },
      pointerleave() {
        hovered.value = null;
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
    readout,
    zoomText,
    standText,
    marks,
  };
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
