import {
  fieldDivisorOf,
  suggestCutoffs,
  thresholdByte,
  toPlainError,
  type FieldLoss,
  type Fringe,
  type LevelBreaks,
  type LevelSettings,
  type MethodFigures,
  type Suggestion,
} from '@lithe-sieve/core';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import type { ClipEngine } from '../../engine/clip-engine';
import type { ClipFigures } from '../../workers/clip.worker';
import type { EngineStore } from './engine';
import type { PieceStore } from './piece';

interface Given {
  piece: PieceStore;
  engine: EngineStore;
  settings: Readonly<Ref<LevelSettings>>;
  /** The levels, where they are of what is shown; null before. */
  made: Readonly<Ref<{ turn: number } | null>>;
  /** They are under way. */
  busy: Readonly<Ref<boolean>>;
  clipEngine: () => ClipEngine;
  /** What somebody looks at. */
  asked: Readonly<Record<ClipLook, boolean>>;
}

/** What can be looked at of a clip beside its levels. */
export type ClipLook = 'levels' | 'breaks' | 'fringe' | 'outlines';

/** What takes a while and is computed only while somebody looks at it. */
export function useClipLooks({ piece, engine, settings, made, busy, clipEngine, asked }: Given) {
  const figures = shallowRef<ClipFigures | null>(null);
  watch([made, () => asked.levels], async ([now, open]) => {
    figures.value = null;
    if (!now || !open) return;
    const found = await clipEngine()
      .figures(now.turn)
      .catch(() => null);
    if (made.value === now) figures.value = found;
  });

  /** What breaks on the levels. */
  const breaks = shallowRef<LevelBreaks[] | null>(null);
  const breaksFailure = ref<{ message: string; remedy: string } | null>(null);
  watch([made, () => asked.breaks], async ([now, open]) => {
    breaks.value = null;
    breaksFailure.value = null;
    if (!now || !open) return;
    try {
      const found = await clipEngine().breaks(now.turn);
      if (made.value === now) breaks.value = found;
    } catch (error) {
      if (made.value === now) breaksFailure.value = toPlainError(error);
    }
  });

  /** How often all was forgotten: what comes of the time before is of no use. */
  let forgotten = 0;
  /** The mask, and the alpha at which its thinnest connection breaks. */
  const thinnest = shallowRef<{ of: string; byte: number | null } | null>(null);
  const settledMask = computed(() => (engine.maskIsFull && !engine.busy && engine.mask ? engine.mask : null));
  const keyOf = ({ key, turn }: { key: string; turn: number }) => `${key} ${turn}`;
  watch(settledMask, async (mask) => {
    if (!mask || thinnest.value?.of === keyOf(mask)) return;
    const mine = forgotten;
    const byte = await clipEngine()
      .thinnest(mask.levels[0])
      .catch(() => null); // one suggestion less
    if (mine === forgotten) thinnest.value = { of: keyOf(mask), byte };
  });
  const suggestions = computed<Suggestion[]>(() => {
    const mask = settledMask.value;
    const { opacity } = piece.saidMaterial ?? {};
    if (!mask || opacity === undefined) return [];
    const byte = thinnest.value?.of === keyOf(mask) ? thinnest.value.byte : null;
    return suggestCutoffs({ levels: engine.levels, opacity, thinnest: byte });
  });

  /** The soft edge at the cutoff. */
  const fringe = shallowRef<Fringe | null>(null);
  const measured = computed(() => {
    const { cutoff, opacity } = piece.saidMaterial ?? {};
    const mask = settledMask.value;
    if (!mask || cutoff === undefined || opacity === undefined || !asked.fringe) return null;
    if (busy.value) return null; // the levels come first
    return { mask: mask.levels[0], threshold: thresholdByte(cutoff, opacity) };
  });
  watch(measured, async (now) => {
    if (!now) return; // what was measured stays until there is something new
    const found = await clipEngine()
      .fringe(now.mask, now.threshold)
      .catch(() => null); // one line less
    if (measured.value === now) fringe.value = found;
  });

  /** What becomes of the clip where it is handed off as distances. */
  const field = shallowRef<{ of: string; loss: FieldLoss } | null>(null);
  const asField = computed(() => {
    const divisor = piece.doc && fieldDivisorOf(piece.doc);
    const mask = settledMask.value;
    const { cutoff, opacity } = piece.saidMaterial ?? {};
    if (!divisor || !mask || cutoff === undefined || opacity === undefined || busy.value) return null;
    const threshold = thresholdByte(cutoff, opacity);
    return { mask: mask.levels[0], threshold, divisor, of: `${keyOf(mask)} ${threshold} ${divisor}` };
  });
  let measuresField = false;
  /** One at a time, the newest next: it takes a second or two and cannot be given up. */
  async function measureField(): Promise<void> {
    if (measuresField) return;
    measuresField = true;
    for (let now = asField.value; now && field.value?.of !== now.of; now = asField.value) {
      const loss = await clipEngine()
        .field(now.mask, now.threshold, now.divisor)
        .catch(() => null);
      if (!loss) break; // one snag less
      field.value = { of: now.of, loss };
    }
    measuresField = false;
  }
  watch(() => asField.value?.of, measureField, { immediate: true });
  const fieldShown = computed(() => (field.value && field.value.of === asField.value?.of ? field.value.loss : null));

  /** What of the mask and its settings another way to make the levels depends on; empty where it is not to be had. */
  const methodBasis = computed(() => {
    const { cutoff, opacity } = piece.saidMaterial ?? {};
    const mask = settledMask.value;
    if (!mask || piece.material?.mode !== 'mask') return '';
    const { filter, averages, wrapAcross, wrapDown, strength, downTo } = settings.value;
    return JSON.stringify([keyOf(mask), cutoff, opacity, filter, averages, wrapAcross, wrapDown, strength, downTo]);
  });
  function methodOf(method: Partial<LevelSettings>): Promise<MethodFigures | null> {
    return clipEngine().method(engine.mask!.levels, piece.material!, settings.value, method);
  }

  function forget(): void {
    forgotten++;
    thinnest.value = null;
    fringe.value = null;
    field.value = null;
  }

  return { figures, breaks, breaksFailure, suggestions, fringe, field: fieldShown, methodBasis, methodOf, forget };
}
