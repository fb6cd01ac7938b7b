import {
  changesLevels,
  CLIP_DRAWING_DEFAULTS,
  findSnags,
  fingerprint,
  LEVEL_DEFAULTS,
  thresholdByte,
  type LevelSettings,
  type LevelSummary,
  type Mask,
  type Snag,
  type SnagContext,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, reactive, ref, shallowRef, watch } from 'vue';
import { ClipEngine } from '../../engine/clip-engine';
import { tellTiming } from '../../engine/timing';
import type { ClipResult } from '../../workers/clip.worker';
import { useClipColours } from './clip-colours';
import { useClipLooks, type ClipLook } from './clip-looks';
import { useCardMesh } from './card-mesh';
import { useCardOutline } from './card-outline';
import { useCardShape } from './card-shape';
import type { EngineStore } from './engine';
import type { PieceStore } from './piece';
import { useReplacingSources } from './replacing-sources';

/** The mip levels as the target will have them, where these are not plain averages. Session state: computed again. */
function makeClip(piece: PieceStore, engine: EngineStore) {
  const result = shallowRef<(ClipResult & { of: string }) | null>(null);
  const failure = ref<{ message: string; remedy: string } | null>(null);
  let clipEngine: ClipEngine | null = null;
  /** What the turn under way is for. */
  let asked = { turn: 0, of: '' };

  const settings = computed<LevelSettings>(() => piece.doc?.levels ?? LEVEL_DEFAULTS);
  const replacing = useReplacingSources(piece, engine, settings);
  const changes = computed(() => Boolean(piece.material && changesLevels(piece.material, settings.value)));
  const drawing = computed(() => piece.doc?.drawn ?? CLIP_DRAWING_DEFAULTS);
  const isDrawn = computed(() => piece.material?.mode === 'mask' && drawing.value.by !== 'hard');
  const looksAsked = reactive<Record<ClipLook, boolean>>({
    levels: false,
    breaks: false,
    fringe: false,
    outlines: false,
  });
  /** All that decides on the levels; empty where they are the plain ones and nobody asks, or they are not to be had yet. */
  const wanted = computed(() => {
    const { material } = piece;
    if (
      !material ||
      !engine.mask ||
      !engine.maskIsFull ||
      !(changes.value || isDrawn.value || settings.value.madeBy === 'file' || looksAsked.levels || looksAsked.breaks)
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
  const busy = computed(() => wanted.value !== '' && !current.value && !failure.value);

  /** What is shown is of a smaller size, or of what was there before the last change: figures of it are not final. */
  const provisional = computed(() => engine.mask === null || !engine.maskIsFull || engine.busy || busy.value);

  const levels = computed<Mask[] | null>(() => shown.value?.levels ?? engine.mask?.levels ?? null);
  const summaries = computed<readonly LevelSummary[]>(() => shown.value?.summary.levels ?? engine.levels);

  /** What checks look at; null until there is a mask. */
  const facts = computed<SnagContext | null>(() => {
    const summary = engine.mask?.summary;
    if (!summary || !piece.doc) return null;
    const failures = engine.steps.flatMap(({ stepId, error }) =>
      error && !error.code.startsWith('size-') ? [{ stepId, error }] : [],
    ); // a source of another size is a snag of its own
    return {
      doc: piece.doc,
      facts: piece.facts,
      counts: summary.levels[0].counts,
      border: summary.border,
      middle: summary.middle,
      levels: changes.value && busy.value ? [] : summaries.value, // those that are dragged past would come and go
      surface: engine.surface,
      doubts: engine.maps?.doubts ?? [],
      failures,
      ...(engine.wholeSize && { size: engine.wholeSize }),
      cardShare: engine.mask?.frame.share ?? 1,
      mesh: mesh.loaded.value?.sha256 === piece.doc.mesh?.sha256 ? (mesh.loaded.value?.facts ?? null) : null,
      field: looks.field.value,
      ...(outline.shown.value && { keptOutside: outline.shown.value.outside }),
    };
  });
  const snags = computed<Snag[]>((before) => {
    if (!facts.value) return [];
    const found = findSnags(facts.value);
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

  const looks = useClipLooks({ piece, engine, settings, made: current, busy, clipEngine: ensure, asked: looksAsked });
  const outline = useCardOutline({ piece, engine, clipEngine: ensure, asked: looksAsked });
  const mesh = useCardMesh(piece);
  const surface = useCardShape(piece, engine, outline.shown, mesh.loaded);
  const colours = useClipColours({
    engine,
    settings,
    made: current,
    replacing,
    clipEngine: ensure,
    failed: (error) => (failure.value = error),
  });

  /** Fingerprint of the mask that is handed off instead of the run's; null where it is that one, or not known. */
  function fingerprintOfMask(): string | null {
    return shown.value?.held ? fingerprint(shown.value.levels[0]) : null;
  }

  /** Where the mesh lies in the picture, as a PNG of its size; null where there is none. */
  async function uvs(): Promise<Uint8Array | null> {
    const { size } = engine;
    const { wrapAcross: across, wrapDown: down } = settings.value;
    if (!surface.value || !size) return null;
    const { uvs: own, indices } = surface.value.mesh;
    const { width, height } = size;
    return ensure().uvs({ mesh: { uvs: own, indices }, size: { width, height }, wraps: { across, down } });
  }

  function reset(): void {
    clipEngine?.stop();
    clipEngine = null;
    result.value = null;
    looks.forget();
    outline.forget();
    colours.forget();
    failure.value = null;
  }

  const { figures, breaks, breaksFailure, suggestions, fringe, methodBasis, methodOf } = looks;
  return {
    settings,
    shown,
    colours: colours.colours,
    drawn,
    looksAsked,
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
    surface,
    mesh: mesh.loaded,
    meshFailure: mesh.failure,
    meshAgain: mesh.again,
    outline: outline.shown,
    outlineBusy: outline.busy,
    outlineFailure: outline.failure,
    outlines: outline.curve,
    outlineRegions: outline.regions,
    outlineChanged: outline.changed,
    uvs,
    facts,
    snags,
    fingerprintOfMask,
    reset,
  };
}

export const defineClip = (scope: string, usePiece: () => PieceStore, useEngine: () => EngineStore) =>
  defineStore(`clip ${scope}`, () => makeClip(usePiece(), useEngine()));
export type ClipStore = ReturnType<ReturnType<typeof defineClip>>;
