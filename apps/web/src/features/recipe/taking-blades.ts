import { bladesOf, spineOf, type Blade, type PinnedBlade, type SourceRef, type TuftParams } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import { useBenchStore } from '../../stores/bench.store';
import { usePiece } from '../../stores/open-piece/open-piece';
import type { PressPoint, PressTool } from '../stage/press-tool';
import { movedPin, pinOf, turnedPin, withPin } from './blade-pins';

/** How near a press must be to a blade, CSS pixels: beside it there is ground. */
const NEAR = 4;

interface Tuft {
  source: SourceRef;
  params: TuftParams;
  /** Texels of a width of the card, and height over width. */
  width: number;
  ratio: number;
  version: number;
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

/**
 * While a tuft is selected, a blade that is pressed on is pinned: kept as it is while the others grow from another seed. One that is pinned
 * is selected; it is released in the list.
 */
export function useTakingBlades() {
  const piece = usePiece();
  const bench = useBenchStore();
  const actions = useRecipeActions();
  let grip: Grip | null = null;
  let now: PinnedBlade | null = null;

  function tuft(): Tuft | null {
    const { selection } = bench;
    if (selection.kind !== 'source') return null;
    const source = piece.sources.find((s) => s.id === selection.id);
    if (source?.recipe?.kind !== 'tuft') return null;
    const { width, height, params, version } = source.recipe;
    return { source, params, width, ratio: height / width, version };
  }
  const ready = computed(() => tuft() !== null);

  function begin(at: PressPoint, perTexel: number): void {
    const found = tuft();
    if (!found) return;
    const from = { x: at.x / found.width, y: at.y / found.width };
    const { seed } = found.source.recipe!;
    let nearest = NEAR / (perTexel * found.width);
    for (const blade of bladesOf(found.params, seed, found)) {
      const spine = spineOf(blade);
      for (const [k, p] of spine.entries()) {
        const far = Math.max(0, Math.hypot(p.x - from.x, p.y - from.y) - blade.half);
        if (far > nearest) continue;
        nearest = far;
        const wasPinned = found.params.pinned.some((q) => q.blade === blade.index);
        const pin = pinOf(found.params, blade, found.ratio);
        grip = { tuft: found, blade, pin, wasPinned, byRoot: k < spine.length / 2, from };
      }
    }
    now = null;
    if (!grip) bench.blade = null;
  }

  function move(points: readonly PressPoint[]): void {
    const last = points.at(-1);
    if (!grip || !last) return;
    const to = { x: last.x / grip.tuft.width, y: last.y / grip.tuft.width };
    const { pin, blade, from, tuft: of } = grip;
    now = grip.byRoot ? movedPin(pin, from, to, of.ratio) : turnedPin(blade, pin, from, to);
    actions.preview(of.source, { pinned: withPin(of.params, now) });
  }

  function end(): void {
    if (!grip) return;
    const { tuft: of, blade, pin, wasPinned } = grip;
    const name = `blade ${blade.index + 1}`;
    const set = (changed: PinnedBlade, what: string) =>
      actions.set(of.source, { pinned: withPin(of.params, changed) }, `${name} ${what}`);
    if (now) set(now, grip.byRoot ? 'moved' : 'turned');
    else if (!wasPinned) set(pin, 'pinned');
    bench.blade = blade.index;
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
