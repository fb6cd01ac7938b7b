import {
  changesLevels,
  CLIP_DRAWING_DEFAULTS,
  findSnags,
  fingerprint,
  LEVEL_DEFAULTS,
  suggestCutoffs,
  thresholdByte,
  toPlainError,
  type Fringe,
  type LevelBreaks,
  type LevelSettings,
  type LevelSummary,
  type MethodFigures,
  type Picture,
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
import { useReplacingSources } from './replacing-sources';

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
  const replacing = useReplacingSources(settings);
  const changes = computed(() => Boolean(piece.material && changesLevels(piece.material, settings.value)));
  const drawing = computed(() => piece.doc?.drawn ?? CLIP_DRAWING_DEFAULTS);
  const isDrawn = computed(() => piece.material?.mode === 'mask' && drawing.value.by !== 'hard');
  const asksFor = (kind: 'levels' | 'breaks') => bench.selection.kind === kind;
  /** All that decides on the levels; empty where they are the plain ones and nobody asks, or they are not to be had yet. */
  const wanted = computed(() => {
    const { material } = piece;
    if (
      !material ||
      !engine.mask ||
      !engine.maskIsFull ||
      !(changes.value || isDrawn.value || settings.value.madeBy === 'file' || asksFor('levels') || asksFor('breaks'))
    )
      return '';
    const { mode, cutoff, opacity } = material;
    const own = { ...settings.value, fieldOfView: 0, screenHeight: 0 }; // from where they are looked at changes none
    const { by, samples } = drawing.value;
    const drawnAs = isDrawn.value ? [cutoff, opacity, by, samples] : [];
    return JSON.stringify([
      engine.mask.key,
      engine.mask.turn,
      mode,
      thresholdByte(cutoff, opacity),
      own,
      replacing.loaded.value,
      ...drawnAs,
    ]);
  });
  /** The result where it is of what is shown: `shown` where it is not plain. While something is dragged it is not, and plain levels show. */
  const current = computed(() => (result.value && result.value.of === wanted.value ? result.value : null));
  const shown = computed(() => (changes.value ? current.value : null));
  /** Each level as it is drawn; null where that is hard, or not known yet. */
  const drawn = computed(() => (isDrawn.value ? (current.value?.drawn ?? null) : null));
  const figures = shallowRef<ClipFigures | null>(null);
  const busy = computed(() => wanted.value !== '' && !current.value && !failure.value);

  /** What is shown is of a smaller size, or of what was there before the last change: figures of it are not final. */
  const provisional = computed(() => engine.mask === null || !engine.maskIsFull || engine.busy || busy.value);

  const levels = computed<Mask[] | null>(() => shown.value?.levels ?? engine.mask?.levels ?? null);
  const summaries = computed<readonly LevelSummary[]>(() => shown.value?.summary.levels ?? engine.levels);

  const snags = computed<Snag[]>((before) => {
    const summary = engine.mask?.summary;
    if (!summary || !piece.doc) return [];
    const { border, middle } = summary;
    const levels = changes.value && busy.value ? [] : summaries.value; // those that are dragged past would come and go
    const { counts } = summary.levels[0];
    const { surface } = engine;
    const cardShare = engine.mask?.frame.share ?? 1;
    const doubts = engine.maps?.doubts ?? [];
    const failures = engine.steps.flatMap(({ stepId, error }) =>
      error && !error.code.startsWith('size-') ? [{ stepId, error }] : [],
    ); // a source of another size is a snag of its own
    const found = findSnags({
      doc: piece.doc,
      facts: piece.facts,
      counts,
      border,
      middle,
      levels,
      surface,
      doubts,
      failures,
      cardShare,
    });
    const same =
      before?.length === found.length &&
      found.every((s, i) => s.text === before[i].text && s.where === before[i].where);
    return same ? before : found; // a drag that changes none must not render them again
  });

  watch(wanted, (of) => {
    failure.value = null;
    if (of === '') {
      clipEngine?.forget();
      return;
    }
    if (result.value?.of === of) return;
    asked = {
      turn: ensure().request({
        plain: [...engine.mask!.levels],
        clip: piece.material!,
        settings: settings.value,
        drawn: drawing.value,
        sources: replacing.pictures.value,
      }),
      of,
    };
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
  watch([current, () => asksFor('levels')], async ([made, open]) => {
    figures.value = null;
    if (!made || !open) return;
    const found = await ensure()
      .figures(made.turn)
      .catch(() => null);
    if (current.value === made) figures.value = found;
  });

  /** The colour of levels of our own; null where the target averages it, or where it is not there yet. */
  const coloured = shallowRef<{ of: string; levels: Picture[] } | null>(null);
  /** All that decides on it: not the cutoff, a drag of which must not bring every texel to the Stand again. */
  const colourBasis = computed(() => {
    const { madeBy, filter, wrapAcross, wrapDown, replaced } = settings.value;
    const colour = engine.levelsOf('colour')?.[0];
    const mask = engine.maskIsFull ? engine.mask : null;
    if (madeBy === 'target' || !mask || !colour || colour.width !== mask.levels[0].width) return '';
    const own = [filter, wrapAcross, wrapDown, replaced, replacing.loaded.value];
    return JSON.stringify([engine.maps!.key, mask.key, mask.turn, own]);
  });
  const colours = computed(() => (coloured.value?.of === colourBasis.value ? coloured.value.levels : null));
  watch([current, colourBasis], async ([made, of]) => {
    if (!made || of === '' || coloured.value?.of === of) return; // the levels of the mask come first
    const colour = engine.levelsOf('colour')![0] as Picture;
    const request = { colour, mask: engine.mask!.levels[0], levels: settings.value, sources: replacing.pictures.value };
    try {
      const found = await ensure().colours(request);
      if (found && colourBasis.value === of) coloured.value = { of, levels: found };
    } catch (error) {
      if (current.value === made) failure.value = toPlainError(error);
    }
  });

  /** What breaks on the levels, where that is looked at. */
  const breaks = shallowRef<LevelBreaks[] | null>(null);
  const breaksFailure = ref<{ message: string; remedy: string } | null>(null);
  watch([current, () => asksFor('breaks')], async ([made, open]) => {
    breaks.value = null;
    breaksFailure.value = null;
    if (!made || !open) return;
    try {
      const found = await ensure().breaks(made.turn);
      if (current.value === made) breaks.value = found;
    } catch (error) {
      if (current.value === made) breaksFailure.value = toPlainError(error);
    }
  });

  /** The mask, and the alpha at which its thinnest connection breaks. */
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

  /** The soft edge at the cutoff, while the material is looked at. */
  const fringe = shallowRef<Fringe | null>(null);
  const measured = computed(() => {
    const { cutoff, opacity } = piece.saidMaterial ?? {};
    const mask = settledMask.value;
    if (!mask || cutoff === undefined || opacity === undefined || bench.selection.kind !== 'material') return null;
    if (busy.value) return null; // the levels come first
    return { mask: mask.levels[0], threshold: thresholdByte(cutoff, opacity) };
  });
  watch(measured, async (now) => {
    if (!now) return; // what was measured stays until there is something new
    const found = await ensure()
      .fringe(now.mask, now.threshold)
      .catch(() => null); // one line less
    if (measured.value === now) fringe.value = found;
  });

  /** What of the mask and its settings another way to make the levels depends on; empty where it is not to be had. */
  const methodBasis = computed(() => {
    const { cutoff, opacity } = piece.saidMaterial ?? {};
    const mask = settledMask.value;
    if (!mask || piece.material?.mode !== 'mask') return '';
    const { filter, averages, wrapAcross, wrapDown, strength, downTo } = settings.value;
    return JSON.stringify([keyOf(mask), cutoff, opacity, filter, averages, wrapAcross, wrapDown, strength, downTo]);
  });
  function methodOf(method: Partial<LevelSettings>): Promise<MethodFigures | null> {
    return ensure().method(engine.mask!.levels, piece.material!, settings.value, method);
  }

  /** Fingerprint of the mask that is handed off instead of the run's; null where it is that one, or not known. */
  function fingerprintOfMask(): string | null {
    return shown.value?.held ? fingerprint(shown.value.levels[0]) : null;
  }

  function reset(): void {
    clipEngine?.stop();
    clipEngine = null;
    result.value = null;
    thinnest.value = null;
    fringe.value = null;
    coloured.value = null;
    failure.value = null;
  }

  return {
    settings,
    shown,
    colours,
    drawn,
    figures,
    breaks,
    breaksFailure,
    busy,
    provisional,
    failure,
    levels,
    summaries,
    suggestions,
    methodBasis,
    methodOf,
    fringe,
    snags,
    fingerprintOfMask,
    reset,
  };
});
