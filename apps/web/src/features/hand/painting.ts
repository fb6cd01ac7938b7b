import {
  FULL_PRESSURE,
  POINT_UNIT,
  STROKE_LIMITS,
  type BrushStroke,
  type OutlineStroke,
  type RegionStroke,
  type Stroke,
} from '@lithe-sieve/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { makeId } from '../../document/ids';
import { useHandStore } from '../../stores/hand.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { PressPoint, PressTool } from '../stage/press-tool';
import { useOutline } from './outline';
import { Steady } from './steady';

const whole = (v: number) => Math.round(v * POINT_UNIT);

/**
 * What presses on a view do while a step of strokes is selected: idle, drawing, or an outline under way. A stroke that
 * loses its pointer ends where it is; only Escape takes it back.
 */
export function usePainting() {
  const piece = usePiece();
  const engine = useEngine();
  const hand = useHandStore();
  let stroke: BrushStroke | null = null;
  /** The step that the stroke under way belongs to, whatever is selected meanwhile. */
  let stepId = '';
  let steady: Steady | null = null;
  /** A drag that changes the brush or the mirror and draws nothing. */
  let drag: { from: PressPoint; diameter: number } | null = null;
  /** Drawn with lines: where the next one begins. */
  const anchor = shallowRef<PressPoint | null>(null);
  const line = useOutline((path) =>
    commit({ ...header(), kind: 'outline', path } satisfies OutlineStroke, 'an outline'),
  );
  const drawing = ref(false);
  const ready = computed(() => hand.step !== null && engine.mask !== null);

  watch([() => hand.tool, () => hand.step?.id], () => {
    if (stroke) end();
    anchor.value = null;
    line.forget();
  });

  /** @param perTexel - CSS pixels of one texel, by which steadying is measured. */
  function begin(at: PressPoint, perTexel: number): void {
    if (!ready.value) return;
    hand.trouble = '';
    if (hand.dragging !== 'nothing') {
      drag = { from: at, diameter: hand.brush.diameter };
      return;
    }
    if (hand.tool === 'brush') beginBrush(at, perTexel);
    else if (hand.tool === 'line') drawLine(at);
    else if (hand.tool === 'outline') drawing.value = line.begin(at, perTexel);
    else takeRegion(at);
  }

  function move(points: readonly PressPoint[], perTexel: number): void {
    if (drag) dragTo(points[points.length - 1]);
    else if (stroke) extend(points, perTexel);
    else if (drawing.value && hand.tool === 'outline') line.draw(points, perTexel);
  }

  function end(): void {
    drawing.value = false;
    drag = null;
    if (stroke) {
      const done = stroke;
      stroke = null;
      steady = null;
      engine.engine().paintEnd(done);
      commit(done, done.brush.tip === 'ragged' ? 'with a ragged brush' : 'with a brush', stepId);
    } else if (hand.tool === 'outline') line.lift();
  }

  /** To the right is larger by twice as much, so that the rim follows the pointer. */
  function dragTo({ x, y }: PressPoint): void {
    if (!drag) return;
    if (hand.dragging === 'diameter') hand.resize(drag.diameter + 2 * (x - drag.from.x));
    else if (hand.dragging === 'mirror' && hand.mirror) hand.mirror = { ...hand.mirror, x, y };
  }

  /** Takes back what is under way. @returns whether there was anything. */
  function abandon(): boolean {
    const any = stroke !== null || line.outline.value.length > 0 || anchor.value !== null;
    if (stroke) engine.engine().paintEnd(null);
    stroke = null;
    steady = null;
    drawing.value = false;
    line.forget();
    anchor.value = null;
    return any;
  }

  function header(): Pick<Stroke, 'id' | 'effect' | 'mirror'> {
    return { id: makeId(), effect: hand.now, ...(hand.mirror ? { mirror: { ...hand.mirror } } : {}) };
  }

  function makeBrushStroke(points: readonly PressPoint[]): BrushStroke {
    const brush = { ...hand.brush, ...(hand.brush.tip === 'whole texels' ? { diameter: 1 } : {}) };
    const seed = Math.floor(Math.random() * 0x7fffffff);
    return { ...header(), kind: 'brush', brush, seed, path: pathOf(points) };
  }

  function beginBrush(at: PressPoint, perTexel: number): void {
    if (!piece.doc || !hand.step) return;
    if (hand.brush.tip === 'piece' && !hand.brush.picture) {
      hand.trouble = 'Choose the piece whose mask is the tip.';
      return;
    }
    drawing.value = true;
    stepId = hand.step.id;
    steady = new Steady(hand.steadying / perTexel, at);
    stroke = makeBrushStroke([at]);
    const mine = stroke;
    void engine
      .engine()
      .paintBegin(piece.doc, hand.step.id, mine)
      .then((error) => {
        if (!error) return;
        hand.trouble = `${error.message} ${error.remedy}`;
        if (stroke === mine) abandon();
      });
  }

  function extend(points: readonly PressPoint[], perTexel: number): void {
    const own = stroke!;
    const fresh = pathOf(points.flatMap((p) => steady?.pull(p) ?? [p]));
    const path = withoutRepeats(fresh, own.path);
    if (path.length === 0) return;
    own.path.push(...path);
    engine.engine().paintPoints(Int32Array.from(path));
    if (own.path.length > STROKE_LIMITS.path - 3000) {
      const last = points[points.length - 1];
      end(); // longer than one stroke may be: another goes on from here
      beginBrush(last, perTexel);
    }
  }

  function drawLine(at: PressPoint): void {
    const from = anchor.value;
    anchor.value = at;
    commit(makeBrushStroke(from ? [from, at] : [at]), from ? 'a line' : 'a point');
  }

  function takeRegion({ x, y }: PressPoint): void {
    if (!engine.size) return;
    const at: [number, number] = [Math.floor(x), Math.floor(y)];
    if (at[0] < 0 || at[1] < 0 || at[0] >= engine.size.width || at[1] >= engine.size.height) return;
    commit(
      { ...header(), kind: 'region', at, ...hand.region } satisfies RegionStroke,
      `a region of the ${hand.region.of}`,
    );
  }

  function commit(done: Stroke, what: string, to = hand.step?.id): void {
    if (to) piece.addStroke(to, done, `${done.effect === 'cut' ? 'Cut' : 'Restore'} ${what}`);
  }

  const erase = (on: boolean) => void (hand.swapped = on);

  const tool: PressTool = { ready, underlay: true, begin, move, end, erase };
  return { tool, ready, drawing, anchor, outline: line.outline, abandon, closeOutline: line.close };
}

function pathOf(points: readonly PressPoint[]): number[] {
  return points.flatMap(({ x, y, pressure }) => [
    whole(x),
    whole(y),
    Math.round(Math.min(1, Math.max(0, pressure)) * FULL_PRESSURE),
  ]);
}

/** Without points that are where the one before was. */
function withoutRepeats(path: readonly number[], before: readonly number[]): number[] {
  const out: number[] = [];
  let [x, y] = [before[before.length - 3], before[before.length - 2]];
  for (let i = 0; i < path.length; i += 3) {
    if (path[i] === x && path[i + 1] === y) continue;
    [x, y] = [path[i], path[i + 1]];
    out.push(path[i], path[i + 1], path[i + 2]);
  }
  return out;
}
