import {
  cardOf,
  cardRegions,
  outlineWanted,
  thresholdByte,
  toPlainError,
  type CardOutline,
  type CornerChange,
  type CardCut,
  type Material,
  type PlainError,
} from '@lithe-sieve/core';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ClipEngine } from '../../engine/clip-engine';
import type { ChangedOutline, OutlineCurve, OutlineRequest } from '../../workers/clip.worker';
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
export interface ShownOutline extends CardCut {
  /** Of the mask that it was fitted to, texels. */
  width: number;
  height: number;
  /** Kept texels that it leaves out. */
  outside: number;
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
  /** How the card is cut; null where it is not. */
  const cut = computed(() => (piece.doc ? outlineWanted(piece.doc) : null));
  /** Parts of an atlas that have an outline each. */
  const regions = computed(() => (piece.doc ? cardRegions(cardOf(piece.doc)) : []));
  /** All that decides on it; empty where the card is not cut, or its mask is not to be had yet. */
  const wanted = computed(() => (cut.value ? keyOf(cut.value, piece.doc!.material) : ''));
  /** What decides on the curve: not the corners that were chosen. */
  const curveWanted = computed(() =>
    cut.value && asked.outlines && regions.value.length === 0
      ? keyOf({ ...cut.value, corners: 0 }, piece.doc!.material)
      : '',
  );
  /** What is shown is out of date, or there is none yet. */
  const busy = computed(() => cut.value !== null && shown.value?.of !== wanted.value && !failure.value);

  function keyOf(outline: CardOutline, { mode, cutoff, opacity }: Material): string {
    const mask = fullMask.value;
    return mask
      ? JSON.stringify([mask.key, mask.turn, mode, thresholdByte(cutoff, opacity), outline, regions.value])
      : '';
  }

  /** null: the mask is computed again meanwhile, or the card is not cut any more. */
  function requestNow(): OutlineRequest | null {
    const full = fullMask.value;
    if (!full || !cut.value) return null;
    const { mode, cutoff, opacity, doubleSided } = piece.doc!.material;
    return {
      mask: full.levels[0],
      of: `${full.key} ${full.turn}`,
      outline: { ...cut.value },
      material: { mode, cutoff, opacity, doubleSided },
      regions: regions.value,
    };
  }

  const outlineTurn = newestOnly(async (of, request) => {
    const mine = forgotten;
    const made = await clipEngine().outline(request);
    const { width, height } = request.mask;
    if (mine === forgotten && made && cut.value) shown.value = { of, ...made, width, height };
  });
  const curveTurn = newestOnly(async (of, request) => {
    const mine = forgotten;
    const outlines = await clipEngine().outlines(request);
    if (mine === forgotten && outlines) curve.value = { of, outlines };
  });

  /** Runs for the newest of what is wanted, one after the other, after a pause. */
  function newestOnly(work: (of: string, request: OutlineRequest) => Promise<void>) {
    let newest = '';
    let running = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const run = async () => {
      const request = requestNow();
      if (running || newest === '' || !request) return;
      running = true;
      const of = newest;
      newest = '';
      await work(of, request).catch((error: unknown) => (failure.value = toPlainError(error)));
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
    outlineTurn(of === shown.value?.of ? '' : of);
  });
  watch(
    () => cut.value === null,
    (whole) => {
      if (whole) shown.value = null;
    },
  );
  watch(curveWanted, (of) => curveTurn(of === curve.value?.of ? '' : of));

  /** What a change of a corner of the outline that is shown comes to; null where it may not be, or all changed meanwhile. */
  async function changed(change: CornerChange): Promise<ChangedOutline | null> {
    const request = requestNow();
    const now = shown.value;
    if (!request || !now || now.of !== wanted.value) return null;
    const made = await clipEngine().outlineChanged({ ...request, shown: now, change });
    return now.of === wanted.value ? made : null;
  }

  function forget(): void {
    forgotten++;
    outlineTurn('');
    curveTurn('');
    shown.value = null;
    curve.value = null;
    failure.value = null;
  }

  return { shown, curve, regions, busy, failure, changed, forget };
}
