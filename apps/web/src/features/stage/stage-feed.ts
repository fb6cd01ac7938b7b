import { CLIP_DRAWING_DEFAULTS, LEVEL_DEFAULTS, tintOf, type Change } from '@lithe-sieve/core';
import { watch, type ComputedRef, type ShallowRef } from 'vue';
import { useComparison } from '../../actions/comparison';
import { tellTiming } from '../../engine/timing';
import { useBenchStore } from '../../stores/bench.store';
import { useHandStore } from '../../stores/hand.store';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { useStorageStore } from '../../stores/storage.store';
import { useSheetShown } from './sheet-shown';
import { useLooks } from './looks';
import type { Stage } from './stage';
import { useUnderlay } from './underlay';
import { useBehind } from './use-behind';

/** What a picture at rest is made of; none while something is computed, which needs the processors. */
const AT_REST = 256;

function standLookOf(
  { backdrop, light, overlay, asSeen, refines, copies, filter, blendOrder, behind }: ReturnType<typeof useBenchStore>,
  isComputing: boolean,
) {
  return {
    environment: backdrop,
    light,
    overlay,
    asSeen,
    atRest: refines && !isComputing ? AT_REST : 0,
    copies,
    filter,
    blendOrder,
    behind,
  };
}

/** Brings the stage what is computed, and how it is to be looked at. */
export function useStageFeed(stage: ShallowRef<Stage | null>, painting: ComputedRef<boolean>, refresh: () => void) {
  const piece = usePiece();
  const engine = useEngine();
  const clip = useClip();
  const bench = useBenchStore();
  const hand = useHandStore();
  const storage = useStorageStore();
  const { shown } = useComparison();
  const { shown: sheetShown } = useSheetShown();
  const { lookAgain, lookAsLeft } = useLooks();
  useBehind(stage);
  const { shownSource, bringUnderlay } = useUnderlay(stage, painting);

  /** Another piece than before: it is looked at as it was left, or from the front and framed. */
  function bringPiece(): void {
    if (stage.value) lookAgain(stage.value, engine.opened);
  }

  /** With how textures go on beyond their sides, as the GLB has it. */
  function bringSurface(): void {
    const { sides, levels } = piece.doc ?? {};
    const { wrapAcross: across, wrapDown: down } = levels ?? LEVEL_DEFAULTS;
    if (clip.surface) stage.value?.setSurface(clip.surface, sides ? tintOf(sides) : null, { across, down });
  }

  function bringSize(): void {
    if (!engine.size || !stage.value) return;
    const { width: across, height: down } = engine.size;
    if (stage.value.sheet.setPicture(across, down)) stage.value.sheet.fit(stage.value.view('sheet'));
    lookAsLeft(stage.value, engine.opened);
    if (clip.surface) bringSurface();
    refresh();
    stage.value.invalidate('sheet', 'stand');
  }

  /** The material and what the Sheet shows: uniforms only, nothing is computed. */
  function bringLook(): void {
    const m = shown.value;
    if (!m || !stage.value) return;
    const cutoff = storage.preview?.cutoff;
    const clipped = typeof cutoff === 'number' ? { ...m, cutoff, opacity: 1 } : m; // of what is stored instead of alpha
    const mode = shownSource.value ? 'colour' : hand.peek === 'mask' ? 'mask' : sheetShown.value;
    stage.value.setLook(
      mode,
      bench.mapLook,
      clipped,
      piece.doc?.drawn ?? CLIP_DRAWING_DEFAULTS,
      painting.value && !shownSource.value,
    );
  }

  function sendMask(change: Change = 'whole'): void {
    const { mask } = engine;
    if (mask) stage.value?.setMap('mask', mask.levels, engine.maskIsFull ? change : 'whole', mask.turn);
  }

  /** Before anything is computed. */
  function bringFirst(): void {
    const { first } = engine;
    if (!first || engine.mask) return;
    stage.value?.setMap('mask', first.mask);
    stage.value?.setMap('colour', first.colour);
  }

  function bringMaps(): void {
    if (!engine.maps) return;
    stage.value?.keepMaps(engine.maps.maps.map((m) => m.map));
    for (const { map, levels, id } of engine.maps?.maps ?? []) {
      if (map === 'colour' && clip.colours) stage.value?.setMap(map, clip.colours);
      else stage.value?.setKnown(map, levels, id);
    }
  }

  /** What a target has instead of the run's mask and its averages. */
  function bringClip(): void {
    stage.value?.setClip(hand.peek === 'before' ? null : (clip.shown?.levels ?? null));
  }

  /** What is read out of a way to store the piece, instead of the piece. */
  function bringStored(): void {
    const { preview } = storage;
    bringLook();
    if (!preview) {
      sendMask();
      bringMaps();
      bringClip();
      return;
    }
    stage.value?.setClip(null);
    stage.value?.setMap('mask', preview.mask);
    if (preview.colour) stage.value?.setMap('colour', preview.colour);
  }

  /** Sends what was computed before the stage was there. */
  function bringAll(): void {
    if (stage.value) {
      stage.value.whenStandDrawn = () => engine.first && engine.drawn();
      stage.value.whenRefined = (summed) => (bench.refined = summed);
    }
    bringPiece();
    bringLook();
    bringSize();
    bringFirst();
    sendMask();
    bringMaps();
    bringClip();
    void bringUnderlay();
  }

  watch(() => engine.opened, bringPiece, { flush: 'sync' });
  watch(() => engine.first, bringFirst);
  watch([() => engine.size, () => clip.surface], bringSize);
  watch([() => piece.doc?.levels.wrapAcross, () => piece.doc?.levels.wrapDown], bringSurface);
  watch(
    [
      shown,
      () => piece.doc?.drawn,
      sheetShown,
      () => bench.mapLook,
      () => shownSource.value?.id,
      painting,
      () => hand.peek,
    ],
    bringLook,
  );
  watch(
    () => engine.mask,
    (mask) => {
      if (!mask || !stage.value) return;
      if (hand.peek !== 'before') sendMask(mask.change);
      bringClip();
      tellTiming(engine.maskIsFull ? 'mask' : 'view', mask.turn);
    },
  );
  watch(
    () => engine.painted,
    (news) => {
      if (!news) return;
      // the Stand shows a stroke on the mask at once; its levels are made when it has ended
      if (news.map === 'mask') stage.value?.setClip(null);
      stage.value?.patchMap(news.map, news.level, news.change);
    },
  );
  watch([() => engine.maps, () => clip.colours], bringMaps);
  watch(() => storage.preview, bringStored);
  watch(() => clip.shown, bringClip);
  watch(
    () => hand.peek,
    async (now, before) => {
      if (before === 'before') sendMask();
      bringClip();
      if (now !== 'before' || !piece.doc || !hand.step) return;
      const levels = await engine.engine().maskBefore(piece.doc, hand.step.id);
      if (levels && hand.peek === 'before') stage.value?.setMap('mask', levels);
    },
  );
  watch(
    () => bench.distance,
    (sides) => {
      stage.value?.stand.setDistance(sides);
      refresh();
      stage.value?.invalidate('stand');
    },
  );
  watch(
    () => bench.softMarked,
    (marked) => stage.value?.markSoft(marked),
  );
  watch(
    () => bench.side,
    (side) => {
      if (side) stage.value?.stand.seenFrom(side.from);
      refresh();
      stage.value?.invalidate('stand');
    },
  );
  watch(
    () => bench.fieldOfView,
    (degrees) => {
      const further = stage.value?.stand.setFieldOfView(degrees) ?? 1;
      bench.distance *= further; // it is seen as large as before, and redrawn
      refresh();
      stage.value?.invalidate('stand');
    },
  );
  // after the field of view, which moves the camera, too
  watch(
    () => bench.place,
    (place) => {
      if (!place) return;
      stage.value?.stand.takeUp(place);
      bench.distance = place.distance * bench.wholeCard;
      refresh();
      stage.value?.invalidate('stand');
    },
  );
  watch([stage, () => bench.glass] as const, ([on, isOn]) => on?.setGlass(isOn));
  watch([stage, () => standLookOf(bench, engine.busy)], ([on, look]) => on?.setStandLook(look));
  watch(
    () => bench.look,
    (place) => {
      const s = stage.value;
      if (!place || !s) return;
      s.sheet.lookAt(place, s.view('sheet'));
      refresh();
      s.invalidate('sheet');
    },
  );

  return { shownSource, bringAll };
}
