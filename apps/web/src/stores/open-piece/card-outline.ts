import {
  outlineWanted,
  thresholdByte,
  toPlainError,
  type CardOutline,
  type FittedOutline,
  type Mask,
  type Material,
  type PlainError,
} from '@lithe-sieve/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ClipEngine } from '../../engine/clip-engine';
import type { OutlineCurve, OutlineRequest } from '../../workers/clip.worker';
import type { ClipLook } from './clip-looks';
import type { EngineStore } from './engine';
import type { PieceStore } from './piece';

interface Given {
  piece: PieceStore;
  engine: EngineStore;
  clipEngine: () => ClipEngine;
  asked: Readonly<Record<ClipLook, boolean>>;
}

/** The outline that the card is cut to. */
export interface ShownOutline {
  outline: FittedOutline;
  /** Of the mask that it was fitted to, texels. */
  width: number;
  height: number;
}

/** After the last change, before one is computed: a drag of the cutoff sends changes faster than this. */
const PAUSE_MS = 80;

/** Outlines are computed one at a time; the last one stays until the next is there. */
export function useCardOutline({ piece, engine, clipEngine, asked }: Given) {
  const shown = shallowRef<(ShownOutline & { of: string }) | null>(null);
  const curve = shallowRef<{ of: string; outlines: OutlineCurve } | null>(null);
  const failure = ref<PlainError | null>(null);
  /** How often all was forgotten: what comes of the time before is of no use. */
  let forgotten = 0;

  const fullMask = computed(() => (engine.maskIsFull && engine.mask ? engine.mask : null));
  /** All that decides on it; empty where the card is not cut, or its mask is not to be had yet. */
  const wanted = computed(() => {
    const outline = piece.doc && outlineWanted(piece.doc);
    return outline ? keyOf(outline, piece.doc!.material) : '';
  });
  /** What decides on the curve: not the corners that were chosen. */
  const curveWanted = computed(() => {
    const outline = piece.doc && outlineWanted(piece.doc);
    return outline && asked.outlines ? keyOf({ ...outline, corners: 0 }, piece.doc!.material) : '';
  });
  /** What is shown is out of date, or there is none yet. */
  const busy = computed(
    () => Boolean(piece.doc && outlineWanted(piece.doc)) && shown.value?.of !== wanted.value && !failure.value,
  );

  function keyOf(outline: CardOutline, { mode, cutoff, opacity }: Material): string {
    const mask = fullMask.value;
    return mask ? JSON.stringify([mask.key, mask.turn, mode, thresholdByte(cutoff, opacity), outline]) : '';
  }

  function requestOf(mask: Mask): OutlineRequest {
    const { mode, cutoff, opacity, doubleSided } = piece.doc!.material;
    return { mask, outline: { ...piece.doc!.outline! }, material: { mode, cutoff, opacity, doubleSided } };
  }

  const outlineTurn = newestOnly(async (of: string) => {
    const mine = forgotten;
    const mask = fullMask.value!.levels[0];
    const outline = await clipEngine().outline(requestOf(mask));
    if (mine === forgotten && outline) shown.value = { of, outline, width: mask.width, height: mask.height };
  });
  const curveTurn = newestOnly(async (of: string) => {
    const mine = forgotten;
    const outlines = await clipEngine().outlines(requestOf(fullMask.value!.levels[0]));
    if (mine === forgotten && outlines) curve.value = { of, outlines };
  });

  /** Runs for the newest of what is wanted, one after the other, after a pause. */
  function newestOnly(work: (of: string) => Promise<void>) {
    let newest = '';
    let running = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const run = async () => {
      if (running || newest === '') return;
      running = true;
      const of = newest;
      newest = '';
      await work(of).catch((error: unknown) => (failure.value = toPlainError(error)));
      running = false;
      void run();
    };
    return (of: string) => {
      clearTimeout(timer);
      newest = of;
      timer = setTimeout(() => void run(), PAUSE_MS);
    };
  }

  watch(wanted, (of) => {
    failure.value = null;
    if (piece.doc && !outlineWanted(piece.doc)) shown.value = null;
    outlineTurn(of === shown.value?.of ? '' : of);
  });
  watch(curveWanted, (of) => curveTurn(of === curve.value?.of ? '' : of));

  function forget(): void {
    forgotten++;
    outlineTurn('');
    curveTurn('');
    shown.value = null;
    curve.value = null;
    failure.value = null;
  }

  return { shown, curve, busy, failure, forget };
}
