import {
  changesLevels,
  findSnags,
  fingerprint,
  LEVEL_DEFAULTS,
  suggestCutoffs,
  thresholdByte,
  type LevelSettings,
  type LevelSummary,
  type Mask,
  type Snag,
  type Suggestion,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { ClipEngine } from '../engine/clip-engine';
import { tellTiming } from '../engine/timing';
import type { ClipFigures, ClipResult } from '../workers/clip.worker';
import { useBenchStore } from './bench.store';
import { useEngineStore } from './engine.store';
import { usePieceStore } from './piece.store';

/** The mip levels as the target will have them, where these are not plain averages. Session state: computed again. */
export const useClipStore = defineStore('clip', () => {
  const piece = usePieceStore();
  const engine = useEngineStore();
  const bench = useBenchStore();
  const result = shallowRef<(ClipResult & { of: string }) | null>(null);
  const failure = ref<{ message: string; remedy: string } | null>(null);
  let clipEngine: ClipEngine | null = null;
  /** What the turn under way is for. */
  let asked = { turn: 0, of: '' };

  const settings = computed<LevelSettings>(() => piece.doc?.levels ?? LEVEL_DEFAULTS);
  const changes = computed(() => Boolean(piece.material && changesLevels(piece.material, settings.value)));
  /** All that decides on the levels; empty where they are the plain ones and nobody asks, or they are not to be had yet. */
  const wanted = computed(() => {
    const { material } = piece;
    if (!material || !engine.mask || !engine.maskIsFull || !(changes.value || bench.selection.kind === 'levels'))
      return '';
    const { mode, cutoff, opacity } = material;
    const { madeBy, filter, keep, wrapAcross, wrapDown, hold, strength, downTo } = settings.value;
    const own = [madeBy, filter, keep, wrapAcross, wrapDown, hold, strength, downTo];
    return JSON.stringify([engine.mask.key, engine.mask.turn, mode, thresholdByte(cutoff, opacity), own]);
  });
  /** The result where it is of what is shown: `shown` where it is not plain. While something is dragged it is not, and plain levels show. */
  const current = computed(() => (result.value && result.value.of === wanted.value ? result.value : null));
  const shown = computed(() => (changes.value ? current.value : null));
  const figures = shallowRef<ClipFigures | null>(null);
  const busy = computed(() => wanted.value !== '' && !current.value && !failure.value);

  const levels = computed<Mask[] | null>(() => shown.value?.levels ?? engine.mask?.levels ?? null);
  const summaries = computed<readonly LevelSummary[]>(() => shown.value?.summary.levels ?? engine.levels);

  const snags = computed<Snag[]>((before) => {
    const summary = engine.mask?.summary;
    if (!summary || !piece.doc) return [];
    const { border, middle } = summary;
    const levels = changes.value && busy.value ? [] : summaries.value; // those that are dragged past would come and go
    const { counts } = summary.levels[0];
    const found = findSnags({ doc: piece.doc, facts: piece.facts, counts, border, middle, levels });
    const same = before?.length === found.length && found.every((s, i) => s.text === before[i].text);
    return same ? before : found; // a drag that changes none must not render them again
  });

  watch(wanted, (of) => {
    failure.value = null;
    if (of === '') {
      clipEngine?.forget();
      return;
    }
    if (result.value?.of === of) return;
    asked = { turn: ensure().request(engine.mask!.levels, piece.material!, settings.value), of };
  });

  function ensure(): ClipEngine {
    clipEngine ??= new ClipEngine({
      made(made) {
        if (made.turn !== asked.turn) return;
        result.value = { ...made, of: asked.of };
        tellTiming('clipped');
      },
      failed: (error) => (failure.value = error),
    });
    return clipEngine;
  }

  // only where they are looked at: to show the levels comes first
  watch([current, () => bench.selection.kind === 'levels'], async ([made, open]) => {
    figures.value = null;
    if (!made || !open) return;
    const found = await ensure()
      .figures(made.turn)
      .catch(() => null);
    if (current.value === made) figures.value = found;
  });

  /** Of which mask, and the alpha at which its thinnest connection breaks. */
  const thinnest = shallowRef<{ of: string; byte: number | null } | null>(null);
  const settledMask = computed(() => (engine.maskIsFull && !engine.busy && engine.mask ? engine.mask : null));
  const keyOf = ({ key, turn }: { key: string; turn: number }) => `${key} ${turn}`;
  watch(settledMask, async (mask) => {
    if (!mask || thinnest.value?.of === keyOf(mask)) return;
    const mine = ensure();
    const byte = await mine.thinnest(mask.levels[0]).catch(() => null); // one suggestion less
    if (mine === clipEngine) thinnest.value = { of: keyOf(mask), byte };
  });
  const suggestions = computed<Suggestion[]>(() => {
    const mask = settledMask.value;
    const { opacity } = piece.saidMaterial ?? {};
    if (!mask || opacity === undefined) return [];
    const byte = thinnest.value?.of === keyOf(mask) ? thinnest.value.byte : null;
    return suggestCutoffs({ levels: engine.levels, opacity, thinnest: byte });
  });

  /** Of the mask that is handed off instead of the run's; null where it is that one, or not known. */
  function fingerprintOfMask(): string | null {
    return shown.value?.held ? fingerprint(shown.value.levels[0]) : null;
  }

  function reset(): void {
    clipEngine?.stop();
    clipEngine = null;
    result.value = null;
    thinnest.value = null;
    failure.value = null;
  }

  return { settings, shown, figures, busy, failure, levels, summaries, suggestions, snags, fingerprintOfMask, reset };
});
