import {
  stepKind,
  type Histogram,
  type MapName,
  type PieceDoc,
  type StepEntry,
  type SurfaceFacts,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { lackOfBench } from '../../engine/capabilities';
import { Engine } from '../../engine/engine';
import { tellTiming } from '../../engine/timing';
import type { MapLevels, MapsResult, MaskResult, PaintedMessage, StepReport } from '../../workers/types';
import { underWayNotes } from '../../engine/under-way';
import { useHeldBackStore } from '../held-back.store';
import { useNoticesStore } from '../notices.store';
import type { PieceStore } from './piece';
import { useOpening } from './opening';
import { useSourceThumbs } from './source-thumbs';
import { useShownSize } from './shown-size';
import { useUnderWay } from './under-way';

/** What was computed of an open piece. Session state: none of it is saved. */
function makeEngine(piece: PieceStore) {
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
  const failure = ref<{ message: string; remedy: string } | null>(null);
  let engine: Engine | null = null;
  const { busy, progress, setBusy, stopAsking } = useUnderWay(
    () => piece.id,
    () => engine,
  );
  const { sourceThumbs, takeFrom } = useSourceThumbs(
    () => piece.sources,
    () => mask.value !== null,
    () => ensure(),
  );
  const { first, poster, opened, expect, firstOf, firstSeen, drawn, forget: forgetOpening } = useOpening(piece, mask);
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
        setBusy(value);
      },
      failed: (error) => (failure.value = error),
      silent: startAgain,
    });
    return engine;
  }

  /** The workers fell silent and were started again, and nothing has come of them yet. */
  let startedAgain = false;

  /** A worker ended or never comes back: both begin again, without what was computed. */
  function startAgain(): void {
    const { doc } = piece;
    const now = busy.value ? engine?.underWay : null;
    engine?.stop();
    engine = null;
    stopAsking();
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
   * Whether the fit shows. Where it does not, what is picked, touched and drawn is in texels of the picture, which lies
   * there as it came.
   */
  const showsFit = ref(true);
  const hasFit = computed(() => piece.run.some((s) => s.on && isFit(s)));
  function asShown(doc: PieceDoc): PieceDoc {
    const held = heldBack.of(piece.id, doc);
    const without = held ? { ...doc, run: doc.run.map((s) => (s.id === held.of.id ? { ...s, on: false } : s)) } : doc;
    return showsFit.value || !hasFit.value ? without : { ...without, run: without.run.filter((s) => !isFit(s)) };
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
      await takeFrom(mine, doc.sources);
      failure.value = null;
    } catch (error) {
      failure.value = { message: (error as Error).message, remedy: (error as { remedy?: string }).remedy ?? '' };
      return;
    } finally {
      loading--;
    }
    if (piece.doc && mine === engine) request(mine, piece.doc);
  }

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
      () => hasFit.value && showsFit.value,
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
    heldBack.release(piece.id);
    if (piece.doc) void show(piece.doc);
  }

  const { size, wholeSize, cardWidth, levels } = useShownSize({ piece, mask, maskIsFull, first, poster, isWhole });

  function reset(): void {
    forgetOpening();
    engine?.stop();
    engine = null;
    forgetResults();
    sourceThumbs.value = new Map();
    failure.value = null;
  }

  function forgetResults(): void {
    since = engine?.forget() ?? -1;
    stopAsking();
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
    showsFit,
  };
}

export const defineEngine = (scope: string, usePiece: () => PieceStore) =>
  defineStore(`engine ${scope}`, () => makeEngine(usePiece()));
export type EngineStore = ReturnType<ReturnType<typeof defineEngine>>;

const SILENT = {
  text: 'The computation does not answer any more; its workers were ended.',
  remedy: 'Everything you did is kept.',
};
