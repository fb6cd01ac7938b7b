import { onPlane, type MeshPlacement } from '@lithe-sieve/core';
import { computed } from 'vue';
import { usePlacementActions } from '../../actions/placement-actions';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';
import type { PressPoint, PressTool } from './press-tool';

type UV = readonly [number, number];

/** While it is chosen in the Card tray, presses on the Stand move, turn or size the picture on its mesh, or fit it to a face. */
export function useLaying() {
  const piece = usePiece();
  const clip = useClip();
  const bench = useBenchStore();
  const actions = usePlacementActions();
  let grip: { from: UV; before: MeshPlacement } | null = null;
  let change: Partial<MeshPlacement> | null = null;

  const ready = computed(() => bench.laying !== null && piece.doc?.mesh !== undefined && clip.surface !== null);

  function begin({ hit }: PressPoint): void {
    if (!hit) return;
    if (bench.laying === 'fit') actions.fitTo(hit);
    else grip = { from: hit.own, before: actions.now() };
    change = null;
  }

  function move(points: readonly PressPoint[]): void {
    const hit = points.findLast((p) => p.hit)?.hit;
    if (!grip || !hit || !bench.laying || bench.laying === 'fit') return;
    change = CHANGES[bench.laying](grip.before, grip.from, hit.own);
    if (change) actions.preview(change);
  }

  function end(): void {
    if (grip && change) actions.set(change, SAID[bench.laying ?? 'move']);
    grip = null;
  }

  /** Back to where it was. @returns whether something was being moved. */
  function abandon(): boolean {
    if (!grip) return false;
    grip = null;
    piece.abandon();
    return true;
  }

  const tool: PressTool = { ready, on: 'stand', underlay: false, begin, move, end, erase: () => undefined };
  return { tool, abandon };
}

const SAID = { move: 'moved', turn: 'turned', size: 'sized', fit: 'fitted' } as const;

type Changing = (before: MeshPlacement, from: UV, to: UV) => Partial<MeshPlacement> | null;

const CHANGES: Record<'move' | 'turn' | 'size', Changing> = {
  move: ({ middle }, from, to) => ({ middle: [middle[0] + to[0] - from[0], middle[1] + to[1] - from[1]] }),
  turn(before, from, to) {
    const [a, b] = [from, to].map((place) => onPlane(before, before.middle, place));
    // down is down: counter-clockwise is the other way round
    const by = ((Math.atan2(a[1], a[0]) - Math.atan2(b[1], b[0])) * 180) / Math.PI;
    return { turn: withinTurn(before.turn + by) };
  },
  size(before, from, to) {
    const [was, is] = [from, to].map((place) => Math.hypot(...onPlane(before, before.middle, place)));
    if (was === 0 || is === 0) return null;
    const by = Math.min(100, Math.max(0.01, is / was));
    return { size: [before.size[0] * by, before.size[1] * by] };
  },
};

/** From −180 to 180. */
function withinTurn(degrees: number): number {
  return ((((degrees + 180) % 360) + 360) % 360) - 180;
}
