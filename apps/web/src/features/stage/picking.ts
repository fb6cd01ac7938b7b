import type { Box, Rgb, Scribble, StepEntry, TexelAt } from '@lithe-sieve/core';
import { computed, shallowRef } from 'vue';
import { useBenchStore, type Picking } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { useRunActions } from '../../actions/run-actions';
import type { Point } from '../../drawing/poses';

/** More points than this add nothing to a scribble; every other one is left out until they fit. */
const MOST_POINTS = 1000;
/** A press that went less far than this, in texels, is a point and not an area. */
const AREA_FROM = 3;

/** What a press on a view means while a step asks for colours, points or scribbles: it begins, moves and ends. */
export function usePicking() {
  const bench = useBenchStore();
  const piece = usePiece();
  const engine = useEngine();
  const actions = useRunActions();
  /** Texels of the press under way, in order. */
  const trail = shallowRef<TexelAt[]>([]);
  const step = computed(() => piece.run.find((s) => s.id === bench.picking?.stepId));

  function begin({ x, y }: Point): void {
    trail.value = [[x, y]];
  }

  function move({ x, y }: Point): void {
    const last = trail.value.at(-1);
    if (!last || (last[0] === x && last[1] === y)) return;
    const longer: TexelAt[] = [...trail.value, [x, y]];
    trail.value = longer.length > MOST_POINTS ? longer.filter((_, i) => i % 2 === 0) : longer;
  }

  function cancel(): void {
    trail.value = [];
  }

  async function end(): Promise<void> {
    const points = trail.value;
    trail.value = [];
    const { picking } = bench;
    if (points.length === 0 || !picking || !step.value) return;
    if (picking.gives === 'swatch') await takeSwatch(step.value, picking, points);
    else if (picking.gives === 'texel') takeTexel(step.value, picking, points[0]);
    else if (picking.gives === 'stop') await takeStop(step.value, picking, points);
    else takeScribble(step.value, picking, points);
  }

  /** Colour of the picture as it came. */
  async function colourAt(points: readonly TexelAt[]): Promise<Rgb | null> {
    const first = piece.sources[0];
    return first ? meanColour(await engine.engine().picture(first.sha256), boxOf(points)) : null;
  }

  async function takeStop(to: StepEntry, { index }: Picking & { gives: 'stop' }, points: TexelAt[]): Promise<void> {
    const colour = await colourAt(points);
    if (!colour || !('stops' in to.params)) return;
    const stops = to.params.stops.map((s, i) => (i === index ? { ...s, colour } : s));
    actions.setParams(to, { stops }, 'colour of a stop');
  }

  async function takeSwatch(to: StepEntry, { list }: Picking & { gives: 'swatch' }, points: TexelAt[]): Promise<void> {
    const colour = await colourAt(points);
    if (!colour || to.kind !== 'from-colour') return;
    actions.setParams(to, { [list]: [...to.params[list], colour] }, `${list} a colour`);
  }

  function takeTexel(to: StepEntry, { list }: Picking & { gives: 'texel' }, texel: TexelAt): void {
    const before = (to.params as Record<string, TexelAt[]>)[list];
    actions.setParams(to, { [list]: [...before, texel] }, `touch at ${texel.join(', ')}`);
  }

  function takeScribble(to: StepEntry, picking: Picking & { gives: 'scribble' }, at: TexelAt[]): void {
    if (to.kind !== 'from-strokes') return;
    const scribble: Scribble = { effect: picking.effect, radius: picking.radius, at };
    actions.setParams(to, { strokes: [...to.params.strokes, scribble] }, `${picking.effect} here`);
  }

  return { trail, begin, move, cancel, end };
}

/** The box around a dragged area; of a touch, the texel alone. */
function boxOf(points: readonly TexelAt[]): Box {
  const [first, last] = [points[0], points[points.length - 1]];
  const far = Math.abs(first[0] - last[0]) + Math.abs(first[1] - last[1]);
  const other = far < AREA_FROM ? first : last;
  return {
    x0: Math.min(first[0], other[0]),
    y0: Math.min(first[1], other[1]),
    x1: Math.max(first[0], other[0]) + 1,
    y1: Math.max(first[1], other[1]) + 1,
  };
}

function meanColour({ width, data }: { width: number; data: Uint8Array }, { x0, y0, x1, y1 }: Box): Rgb {
  const sums = [0, 0, 0];
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const i = 4 * (y * width + x);
      for (let c = 0; c < 3; c++) sums[c] += data[i + c];
    }
  }
  const n = (x1 - x0) * (y1 - y0);
  return sums.map((sum) => Math.round(sum / n)) as Rgb;
}
