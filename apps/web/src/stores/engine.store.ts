import {
  isRecipeKey,
  stepKind,
  type LevelSummary,
  type Histogram,
  type MapName,
  type MaskSummary,
  type PieceDoc,
  type StepEntry,
  type SurfaceFacts,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { lackOfBench } from '../engine/capabilities';
import { Engine } from '../engine/engine';
import { smallRecipe } from '../engine/small-recipes';
import { tellTiming } from '../engine/timing';
import type { MapLevels, MapsResult, MaskResult, PaintedMessage, StepReport, Thumb } from '../workers/types';
import { underWayNotes } from '../engine/under-way';
import { useBenchStore } from './bench.store';
import { useHeldBackStore } from './held-back.store';
import { useNoticesStore } from './notices.store';
import { usePieceStore } from './piece.store';
import { useOpening } from './opening';

/** What was computed of the open piece. Session state: none of it is saved. */
/** Side of the small picture of a recipe. */
const THUMB_SIDE = 96;

export const useEngineStore = defineStore('engine', () => {
  const piece = usePieceStore();
  const bench = useBenchStore();
  const heldBack = useHeldBackStore();
  const notices = useNoticesStore();
  const mask = shallowRef<MaskResult | null>(null);
  /** Every map but the mask. */
  const maps = shallowRef<MapsResult | null>(null);
  /** Where a stroke under way wrote into a map last. */
  const painted = shallowRef<Omit<PaintedMessage, 'type'> | null>(null);
  /** What checks need to know of the maps. */
  const surface = shallowRef<SurfaceFacts | null>(null);
  /** False while the shown mask is at view size. */
  const maskIsFull = ref(false);
  const steps = shallowRef<StepReport[]>([]);
  const sourceThumbs = shallowRef(new Map<string, Thumb>());
  const busy = ref(false);
  /** Share of what is computed in full, 0–1; only work that takes a while is shown. */
  const progress = ref(0);
  let asking: ReturnType<typeof setInterval> | undefined;
  const failure = ref<{ message: string; remedy: string } | null>(null);
  let engine: Engine | null = null;
  const { first, poster, opened, expect, firstOf, firstSeen, drawn, forget: forgetOpening } = useOpening(mask);
  /** Results of earlier turns are of another piece. */
  let since = -1;
  /** Counts of the masks after the steps at full size, and the turn that they answer. */
  let fullCounts = { turn: -1, of: new Map<string, Histogram>() };

  /** The view size may come after the full size: what that counted stays. */
  function withFull(shown: StepReport[], turn: number): StepReport[] {
    const others = steps.value.filter(
      (s) => !shown.some((r) => r.stepId === s.stepId) && piece.run.some((r) => r.id === s.stepId),
    );
    const reports = [...shown, ...others]; // those of the fit, while it does not show
    const held = piece.doc && heldBack.of(piece.id, piece.doc);
    return reports.map((s) => ({
      ...s,
      counts: (turn === fullCounts.turn && fullCounts.of.get(s.stepId)) || s.counts,
      error: held?.of.id === s.stepId ? held.error : s.error,
    }));
  }

  function ensure(): Engine {
    const lack = lackOfBench();
    if (lack) throw Object.assign(new Error(`${lack.message} ${lack.works}`), { remedy: lack.remedy });
    engine ??= new Engine({
      view(result, thumbsOnly) {
        if (result.mask.turn < since) return;
        steps.value = withFull(result.steps, result.mask.turn);
        if (thumbsOnly || !busy.value) return; // the full size came first
        if (maskIsFull.value && mask.value?.turn === result.mask.turn) return; // its mask did, its maps are under way
        mask.value = result.mask;
        maskIsFull.value = false;
        if (!maps.value || maps.value.key !== result.maps.key) maps.value = result.maps;
      },
      mask(result) {
        if (result.turn < since) return;
        mask.value = result;
        maskIsFull.value = true;
        failure.value = null;
        startedAgain = false;
      },
      maps(result) {
        if (!mask.value) return; // of a piece that was left
        const [before, now] = [maps.value?.maps[0], result.maps[0]].map((m) => m?.levels[0].width);
        if (maps.value?.key !== result.key || before !== now) maps.value = result;
      },
      surface: (facts) => (surface.value = facts),
      counts(turn, full) {
        fullCounts = { turn, of: new Map(full.map((s) => [s.stepId, s.counts])) };
        steps.value = withFull(steps.value, turn);
      },
      painted: (news) => (painted.value = news),
      busy(value) {
        if (busy.value && !value) tellTiming('settled');
        busy.value = value;
        clearInterval(asking);
        progress.value = 0;
        if (value) asking = setInterval(ask, PROGRESS_MS);
        else underWayNotes.clear(piece.id);
        lastNoted = '';
        begunAt = performance.now();
      },
      failed: (error) => (failure.value = error),
      silent: startAgain,
    });
    return engine;
  }

  let begunAt = 0;
  /** The workers fell silent and were started again, and nothing has come of them yet. */
  let startedAgain = false;
  let lastNoted = '';
  function ask(): void {
    progress.value = engine?.progress ?? 0;
    const now = engine?.underWay;
    const noted = now ? `${piece.id} ${now.id} ${now.print}` : '';
    if (!now || noted === lastNoted || performance.now() - begunAt < NOTED_AFTER_MS) return;
    underWayNotes.note(piece.id, now);
    lastNoted = noted;
  }
  // closed or left in order: then nothing was wrong with what was computed
  addEventListener('pagehide', () => underWayNotes.clear(piece.id));

  /** A worker ended or never comes back: both begin again, without what was computed. */
  function startAgain(): void {
    const { doc } = piece;
    const now = busy.value ? engine?.underWay : null;
    engine?.stop();
    engine = null;
    clearInterval(asking);
    busy.value = false;
    underWayNotes.clear(piece.id);
    if (!doc) return;
    failure.value = { message: SILENT.text, remedy: SILENT.remedy };
    const held = now && heldBack.hold(piece.id, doc, now, 'worker', () => piece.doc && void show(piece.doc));
    if (!held) notices.tell({ id: 'silent worker', bad: true, ...SILENT });
    if (!startedAgain) void show(doc); // twice without a result: it is for the person to say
    startedAgain = true;
  }

  const isFit = (step: StepEntry) => stepKind(step.kind).stretch === 'fit';
  /**
   * Whether the fit shows. While a source or a step before it is selected it does not: what is picked, touched and drawn
   * is in texels of the picture, and it lies there as it came.
   */
  const fitted = computed(() => {
    const { selection } = bench;
    if (!bench.open || !('id' in selection)) return true;
    const step = piece.run.find((s) => s.id === selection.id);
    return step ? isFit(step) : false;
  });
  const hasFit = computed(() => piece.run.some((s) => s.on && isFit(s)));
  function asShown(doc: PieceDoc): PieceDoc {
    const held = heldBack.of(piece.id, doc);
    const without = held ? { ...doc, run: doc.run.map((s) => (s.id === held.of.id ? { ...s, on: false } : s)) } : doc;
    return fitted.value || !hasFit.value ? without : { ...without, run: without.run.filter((s) => !isFit(s)) };
  }

  /** What was asked for last, and whether all steps are in it. */
  const asked = shallowRef({ turn: -1, whole: true });
  function request(from: Engine, doc: PieceDoc): number {
    const shown = asShown(doc);
    const turn = from.request(shown);
    asked.value = { turn, whole: shown === doc };
    return turn;
  }
  /** Whether what is shown is the whole run's: with its fit, where it has one. */
  const isWhole = computed(() => asked.value.whole && mask.value?.turn === asked.value.turn);

  /** How many documents have sources that are being made ready. */
  let loading = 0;
  async function show(doc: PieceDoc): Promise<void> {
    let mine: Engine;
    loading++;
    try {
      const pieceId = piece.id;
      const left = await heldBack.takeLeft(pieceId);
      if (left) heldBack.hold(pieceId, doc, left, 'tab', () => piece.doc && void show(piece.doc));
      const held = heldBack.of(pieceId, doc);
      if (held?.of.what === 'recipe') throw Object.assign(new Error(held.error.message), held.error);
      await firstSeen(pieceId);
      if (piece.id !== pieceId) return;
      mine = ensure();
      mine.learn(piece.strokes);
      await mine.load(doc.sources);
      for (const { sha256, recipe } of doc.sources) {
        if (recipe || sourceThumbs.value.has(sha256)) continue;
        const thumb = await mine.thumb(sha256);
        if (thumb) sourceThumbs.value = new Map(sourceThumbs.value).set(sha256, thumb);
      }
      failure.value = null;
    } catch (error) {
      failure.value = { message: (error as Error).message, remedy: (error as { remedy?: string }).remedy ?? '' };
      return;
    } finally {
      loading--;
    }
    if (piece.doc && mine === engine) request(mine, piece.doc);
  }

  /** Makes the small pictures of sources that are grown, once they stay as they are for a moment. */
  let thumbTimer: ReturnType<typeof setTimeout> | undefined;
  async function thumbsOfRecipes(): Promise<void> {
    for (const { sha256, recipe } of piece.sources) {
      if (!recipe || sourceThumbs.value.has(sha256)) continue;
      const thumb = await smallRecipe(recipe, THUMB_SIDE, (part) => ensure().picture(part)).catch(() => null);
      if (!thumb) continue;
      const others = [...sourceThumbs.value].filter(([key]) => !isRecipeKey(key) || piece.sources.some((s) => s.sha256 === key)); // prettier-ignore
      sourceThumbs.value = new Map(others).set(sha256, thumb);
    }
  }
  watch(
    [() => piece.sources, () => mask.value !== null],
    ([, shows]) => {
      clearTimeout(thumbTimer);
      if (!shows) return; // the views come first
      thumbTimer = setTimeout(() => void thumbsOfRecipes(), 300);
    },
    { immediate: true },
  );

  // another piece: nothing of the one before is shown
  watch(
    () => piece.id,
    async (id, left) => {
      if (left) underWayNotes.clear(left); // it did not end its tab
      forgetResults();
      await firstOf(id);
    },
  );
  watch(mask, (made) => made && (first.value = null), { flush: 'sync' });

  // the run and the sources decide what is computed; a cutoff never does
  watch(
    [
      () => piece.id,
      () => piece.run,
      () => piece.sources,
      () => piece.doc?.cardWidth,
      () => hasFit.value && fitted.value,
    ],
    ([id, run, sources], old) => {
      const doc = piece.doc;
      if (!doc || !run || !sources?.length) return;
      if (id !== old[0] || sources !== old[2]) void show(doc);
      else if (engine && loading === 0) {
        // else it is asked for when its sources are there: a run without them would be taken for the result
        engine.learn(piece.strokes);
        tellTiming('edited', request(engine, doc));
      }
    },
    { immediate: true },
  );

  /** Fingerprints of what is shown in full; null where nothing is. */
  async function fingerprints(): Promise<Record<string, string> | null> {
    if (piece.doc && heldBack.of(piece.id, piece.doc)) return null; // the hand-off computes what is left out here
    return busy.value || failure.value || !engine ? null : engine.fingerprints();
  }

  /** Levels of a map of the result; nothing where it has none. */
  function levelsOf(map: MapName): MapLevels['levels'] | undefined {
    return map === 'mask' ? mask.value?.levels : maps.value?.maps.find((m) => m.map === map)?.levels;
  }

  /** After a failure: once more from the sources on. */
  function tryAgain(): void {
    failure.value = null;
    heldBack.release();
    if (piece.doc) void show(piece.doc);
  }

  /** Size of what is shown, at full size: as the fit leaves it, or that of the colour picture. */
  const size = computed((before?: { width: number; height: number } | null) => {
    const source = piece.sources[0];
    const shown = mask.value?.frame ?? first.value ?? poster.value ?? (source && piece.facts.get(source.sha256));
    if (!shown) return null;
    const { width, height } = shown;
    return before?.width === width && before.height === height ? before : { width, height };
  });
  /** Size of the piece itself, whichever step is looked at; null where it is not known yet. */
  const wholeSize = shallowRef<{ width: number; height: number } | null>(null);
  watch([mask, isWhole, first], ([made, whole]) => {
    const known = made && whole ? made.frame : made ? null : first.value;
    if (known) wholeSize.value = { width: known.width, height: known.height };
  });
  /** Width of the card that what is shown lies on, metres. */
  const cardWidth = computed(() => (piece.doc?.cardWidth ?? 1) * (mask.value?.frame.share ?? 1));

  /** Summaries of all mip levels; while at view size, its largest stands in for the ones above. */
  const levels = computed<LevelSummary[]>(() => {
    const summary = mask.value?.summary;
    if (!summary || !size.value) return [];
    return maskIsFull.value ? summary.levels : withMissingLevels(summary, size.value);
  });

  function reset(): void {
    forgetOpening();
    engine?.stop();
    clearInterval(asking);
    engine = null;
    forgetResults();
    sourceThumbs.value = new Map();
    failure.value = null;
  }

  function forgetResults(): void {
    since = engine?.forget() ?? -1;
    busy.value = false;
    fullCounts = { turn: -1, of: new Map() };
    wholeSize.value = null;
    first.value = null;
    mask.value = null;
    maps.value = null;
    surface.value = null;
    steps.value = [];
  }

  return {
    mask,
    first,
    poster,
    opened,
    maps,
    surface,
    levelsOf,
    painted,
    maskIsFull,
    steps,
    sourceThumbs,
    busy,
    progress,
    failure,
    size,
    wholeSize,
    cardWidth,
    isWhole,
    levels,
    fingerprints,
    tryAgain,
    expect,
    /** Both views were drawn. */
    drawn,
    reset,
    /** The engine, started at need: to decode a file while it is still being sent. */
    engine: ensure,
  };
});

/** What is computed for so long is noted in the browser. */
const NOTED_AFTER_MS = 1500;

const SILENT = {
  text: 'The computation does not answer any more; its workers were ended.',
  remedy: 'Everything you did is kept.',
};

/** How often the share done is asked for. */
const PROGRESS_MS = 250;

function withMissingLevels(summary: MaskSummary, size: { width: number; height: number }): LevelSummary[] {
  const [top] = summary.levels;
  const missing: LevelSummary[] = [];
  for (let { width, height } = size; width > top.width; width >>= 1, height = Math.max(1, height >> 1)) {
    missing.push({ ...top, width, height });
  }
  return [...missing, ...summary.levels];
}
