import { ref, type ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import type { Point } from '../../drawing/poses';
import { usePicking } from './picking';
import { usePlaces, type SeenPlace } from './places';
import type { PressTool } from './press-tool';
import type { Stage, ViewName } from './stage';

/** The press that is done by keys; the number of what is no pointer (Pointer Events, W3C). */
export const BY_KEYS = -1;

/** A place of a view, CSS pixels, and how hard it is pressed, 0–1. */
export interface Pressed extends Point {
  pressure: number;
}

/**
 * What a press on a view does, whatever it is made with: it picks, paints or moves the view; and the texel that both views
 * mark.
 *
 * @param tool - Takes the presses while it is ready.
 */
export function usePress(stage: ShallowRef<Stage | null>, tool: PressTool) {
  const bench = useBenchStore();
  const picking = usePicking();
  const { exactOn, texelOn, perTexel } = usePlaces(stage);
  /** Under the pointer, in texels of the full picture, and the view it was found on. */
  const hovered = ref<SeenPlace | null>(null);
  /** The same with its fraction, while a step takes strokes. */
  const tip = ref<SeenPlace | null>(null);
  const moved = ref(0); // the cameras are not reactive: this changes when one moved
  let press: { view: ViewName; id: number; does: 'drags' | 'picks' | 'paints'; eraser: boolean } | null = null;

  const refresh = () => void moved.value++;
  const takes = (view: ViewName) => tool.ready.value && (tool.on ?? view) === view;

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
    const exact = takes(view) ? exactOn(view, at) : null;
    tip.value = exact && { ...exact, on: view };
  }

  function leave(): void {
    hovered.value = null;
    tip.value = null;
  }

  /** @param first - Others only move the view. */
  function begin(view: ViewName, at: Pressed, id: number, first: boolean, eraser = false): void {
    const texel = first ? texelOn(view, at) : null;
    const picks = texel !== null && bench.picking !== null;
    const place = texel && !picks && takes(view) ? exactOn(view, at) : null;
    press = { view, id, does: picks ? 'picks' : place ? 'paints' : 'drags', eraser };
    if (picks) picking.begin(texel);
    if (place && eraser) tool.erase(true);
    if (place) tool.begin({ ...place, pressure: at.pressure }, perTexel(view, place));
  }

  /** A press that paints or picks goes on, after {@link point}. */
  function goOn(view: ViewName, way: readonly Pressed[]): void {
    if (press?.does === 'picks' && hovered.value) picking.move(hovered.value);
    if (press?.does !== 'paints') return;
    const points = way.flatMap((at) => {
      const exact = exactOn(view, at);
      return exact ? [{ ...exact, pressure: at.pressure }] : [];
    });
    if (points.length > 0) tool.move(points, perTexel(view, points[0]));
  }

  /** It ends in order: what it picks is taken. */
  function lift(): void {
    if (press?.does === 'picks') void picking.end();
    letGo();
  }

  function cancel(): void {
    letGo();
    picking.cancel();
  }

  return {
    hovered,
    tip,
    moved,
    trail: picking.trail,
    now: () => press,
    refresh,
    point,
    leave,
    drag,
    begin,
    goOn,
    lift,
    letGo,
    cancel,
  };
}
