import { bladesOf, spineOf, type Blade, type PinnedBlade, type SourceRef, type TuftParams } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import { useBenchStore } from '../../stores/bench.store';
import { usePieceStore } from '../../stores/piece.store';
import type { PressPoint, PressTool } from '../stage/press-tool';

/** How near a press must be to a blade, CSS pixels. */
const NEAR = 9;
const DEGREES = 180 / Math.PI;

interface Tuft {
  source: SourceRef;
  params: TuftParams;
  /** Texels of a width of the card, and height over width. */
  width: number;
  ratio: number;
}

interface Grip {
  tuft: Tuft;
  blade: Blade;
  /** Its pin before, or the one that it would get. */
  pin: PinnedBlade;
  wasPinned: boolean;
  /** The half towards the root moves it, the other turns and stretches it. */
  byRoot: boolean;
  from: { x: number; y: number };
}

/** While a tuft is selected, a blade that is pressed on is pinned: kept as it is while the others grow from another seed. */
export function useTakingBlades() {
  const piece = usePieceStore();
  const bench = useBenchStore();
  const actions = useRecipeActions();
  let grip: Grip | null = null;
  let now: PinnedBlade | null = null;

  function tuft(): Tuft | null {
    const { selection } = bench;
    if (selection.kind !== 'source') return null;
    const source = piece.sources.find((s) => s.id === selection.id);
    if (source?.recipe?.kind !== 'tuft') return null;
    const { width, height, params } = source.recipe;
    return { source, params, width, ratio: height / width };
  }
  const ready = computed(() => tuft() !== null);

  function begin(at: PressPoint, perTexel: number): void {
    const its = tuft();
    if (!its) return;
    const from = { x: at.x / its.width, y: at.y / its.width };
    const { seed } = its.source.recipe!;
    let nearest = NEAR / (perTexel * its.width);
    for (const blade of bladesOf(its.params, seed, its)) {
      const spine = spineOf(blade);
      for (const [k, p] of spine.entries()) {
        const far = Math.max(0, Math.hypot(p.x - from.x, p.y - from.y) - blade.half);
        if (far > nearest) continue;
        nearest = far;
        const old = its.params.pinned.find((q) => q.blade === blade.index);
        const pin = old ?? {
          blade: blade.index,
          seed: blade.seed,
          x: blade.x,
          y: blade.y / its.ratio,
          turn: 0,
          stretch: 1,
        };
        grip = { tuft: its, blade, pin, wasPinned: old !== undefined, byRoot: k < spine.length / 2, from };
      }
    }
    now = null;
  }

  function move(points: readonly PressPoint[]): void {
    const last = points.at(-1);
    if (!grip || !last) return;
    const to = { x: last.x / grip.tuft.width, y: last.y / grip.tuft.width };
    now = grip.byRoot ? moved(grip, to) : turned(grip, to);
    actions.preview(grip.tuft.source, { pinned: withPin(grip, now) });
  }

  function end(): void {
    if (!grip) return;
    const { tuft: its, blade, pin, wasPinned } = grip;
    const name = `blade ${blade.index + 1}`;
    if (now) actions.set(its.source, { pinned: withPin(grip, now) }, `${name} ${grip.byRoot ? 'moved' : 'turned'}`);
    else if (wasPinned) {
      actions.set(its.source, { pinned: its.params.pinned.filter((p) => p.blade !== blade.index) }, `${name} released`);
    } else actions.set(its.source, { pinned: withPin(grip, pin) }, `${name} pinned`);
    grip = null;
  }

  /** @returns whether a blade was held. */
  function abandon(): boolean {
    if (!grip) return false;
    grip = null;
    actions.abandon();
    return true;
  }

  const tool: PressTool = { ready, underlay: false, begin, move, end, erase: () => undefined };
  return { tool, abandon };
}

function withPin({ tuft: { params } }: Grip, pin: PinnedBlade): PinnedBlade[] {
  return [...params.pinned.filter((p) => p.blade !== pin.blade), pin].sort((a, b) => a.blade - b.blade);
}

const shareOf = (v: number) => Math.round(Math.min(2, Math.max(-1, v)) * 10_000) / 10_000;

function moved({ tuft: { ratio }, pin, from }: Grip, to: { x: number; y: number }): PinnedBlade {
  return { ...pin, x: shareOf(pin.x + to.x - from.x), y: shareOf(pin.y + (to.y - from.y) / ratio) };
}

/** As the line from the root to the press turns and grows. */
function turned({ blade, pin, from }: Grip, to: { x: number; y: number }): PinnedBlade {
  const angle = (p: { x: number; y: number }) => Math.atan2(p.x - blade.x, blade.y - p.y) * DEGREES;
  const far = (p: { x: number; y: number }) => Math.max(1e-6, Math.hypot(p.x - blade.x, p.y - blade.y));
  let turn = pin.turn + angle(to) - angle(from);
  if (turn > 180) turn -= 360;
  else if (turn < -180) turn += 360;
  const stretch = Math.min(4, Math.max(0.1, (pin.stretch * far(to)) / far(from)));
  return { ...pin, turn: Math.round(turn * 10) / 10, stretch: Math.round(stretch * 1000) / 1000 };
}
