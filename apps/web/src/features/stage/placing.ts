import { stepKind, type StepEntry, type StepParams } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useRunActions } from '../../actions/run-actions';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { PressPoint, PressTool } from './press-tool';

/**
 * While a step *place* is selected, what is pressed is moved. Only where no step of the fit comes after it: a texel that is
 * seen is then one of its own.
 */
export function usePlacing() {
  const piece = usePiece();
  const engine = useEngine();
  const actions = useRunActions();
  let grip: { step: StepEntry; from: PressPoint; x: number; y: number } | null = null;
  let now: { x: number; y: number } | null = null;

  function placed(): StepEntry | null {
    const step = actions.selectedStep();
    const last = piece.run.findLast((s) => s.on && stepKind(s.kind).stretch === 'fit');
    return step?.kind === 'place' && step.id === last?.id ? step : null;
  }
  const ready = computed(() => placed() !== null && engine.mask !== null);

  function begin(from: PressPoint): void {
    const step = placed();
    if (!step) return;
    const { x, y } = step.params as StepParams['place'];
    grip = { step, from, x, y };
    now = null;
  }

  function move(points: readonly PressPoint[]): void {
    const to = points.at(-1);
    if (!grip || !to) return;
    now = { x: Math.round(grip.x + to.x - grip.from.x), y: Math.round(grip.y + to.y - grip.from.y) };
    actions.previewParams(grip.step, now);
  }

  function end(): void {
    if (grip && now) actions.setParams(grip.step, now, `${now.x} to the right, ${now.y} down`);
    grip = null;
  }

  /** Back to where it was. @returns whether something was being moved. */
  function abandon(): boolean {
    if (!grip) return false;
    grip = null;
    piece.abandon();
    return true;
  }

  const tool: PressTool = { ready, underlay: false, begin, move, end, erase: () => undefined };
  return { tool, abandon };
}

/** The first of some tools that is ready; a press stays with the one that it began with. */
export function firstReady(tools: readonly PressTool[]): PressTool {
  let held: PressTool | undefined;
  const found = computed(() => tools.find((t) => t.ready.value));
  return {
    ready: computed(() => found.value !== undefined),
    get on() {
      return found.value?.on;
    },
    get underlay() {
      return found.value?.underlay ?? false;
    },
    begin(at, perTexel) {
      held = found.value;
      held?.begin(at, perTexel);
    },
    move: (points, perTexel) => held?.move(points, perTexel),
    end: () => held?.end(),
    erase: (on) => found.value?.erase(on),
  };
}
