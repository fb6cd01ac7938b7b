import { MOST_MARKED, thresholdByte, type Mask, type Material } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBenchStore } from '../stores/bench.store';
import { useEngine, usePiece } from '../stores/open-piece/open-piece';
import { useMaterialActions } from './material-actions';

/** What of a material decides on which texels show. */
export type ClipOf = Pick<Material, 'mode' | 'cutoff' | 'opacity'>;

/** A and B: the clip of the piece, and another one beside it that shows while a key is held. */
export function useComparison() {
  const piece = usePiece();
  const bench = useBenchStore();
  const engine = useEngine();
  const { set } = useMaterialActions();

  const other = computed(() => bench.other);
  /** What the views show now: the material, or with the clip of B. */
  const shown = computed<Material | null>(() => {
    const { material } = piece;
    return material && bench.showOther && bench.other ? { ...material, ...bench.other } : material;
  });

  function keepAsOther(): void {
    if (!piece.material) return;
    const { mode, cutoff, opacity } = piece.material;
    bench.other = { mode, cutoff, opacity };
  }

  /** B becomes the clip of the piece, and what that was becomes B. */
  function swap(): void {
    const { other: b } = bench;
    if (!b || !piece.material) return;
    const { mode, cutoff, opacity } = piece.material;
    set({ ...b }, `B, cutoff ${b.cutoff}`);
    bench.other = { mode, cutoff, opacity };
  }

  function clear(): void {
    show(false);
    bench.other = null;
  }

  /** While a key or a button is held: B, with the texels marked that differ from A. */
  function show(on: boolean): void {
    if (on && !bench.other) return;
    bench.showOther = on;
    const mask = engine.mask?.levels[0];
    const { material } = piece;
    if (!on || !mask || !material || !bench.other) {
      bench.texelMarks = null;
      return;
    }
    bench.texelMarks = {
      width: mask.width,
      height: mask.height,
      texels: differing(mask, keptFrom(material), keptFrom(bench.other)),
    };
  }

  /** How many texels differ, as far as the mask is there in full. */
  const count = computed(() => {
    const counts = engine.maskIsFull && engine.mask?.summary.levels[0].counts;
    const { material } = piece;
    if (!counts || !material || !bench.other) return null;
    const [a, b] = [keptFrom(material), keptFrom(bench.other)];
    const texels = counts.slice(Math.min(a, b), Math.max(a, b)).reduce((sum, n) => sum + n, 0);
    return { texels, of: counts.reduce((sum, n) => sum + n, 0) };
  });

  return { other, shown, count, keepAsOther, swap, clear, show };
}

/** Smallest alpha byte that shows. */
export function keptFrom({ mode, cutoff, opacity }: ClipOf): number {
  if (mode === 'mask') return thresholdByte(cutoff, opacity);
  return mode === 'opaque' ? 0 : 1; // blended, all that has any alpha shows somewhat
}

/** Texels on which two clips disagree, the first ones, by their place. */
export function differing({ data }: Mask, a: number, b: number): Int32Array {
  const [low, high] = a < b ? [a, b] : [b, a];
  const texels: number[] = [];
  for (let i = 0; i < data.length && texels.length < MOST_MARKED; i++) {
    if (data[i] >= low && data[i] < high) texels.push(i);
  }
  return Int32Array.from(texels);
}
