<script setup lang="ts">
import { mapKind, type MapName } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, onMounted, shallowRef, useTemplateRef } from 'vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngineStore } from '../../stores/engine.store';
import { usePieceStore } from '../../stores/piece.store';
import { useKeys } from '../keys/keys';
import { MODES, useMaterialActions } from '../material/material-actions';
import type { Backdrop, SheetMode } from './drawing/messages';
import HandLoupe from '../hand/HandLoupe.vue';
import HandMarks from '../hand/HandMarks.vue';
import { useHandKeys } from '../hand/hand-keys';
import FoundMarks from './FoundMarks.vue';
import PickMarks from './PickMarks.vue';
import { usePointers } from './pointers';
import { theStage, type Stage } from './stage';
import { useStageFeed } from './stage-feed';

const piece = usePieceStore();
const engine = useEngineStore();
const bench = useBenchStore();
const material = useMaterialActions();

const root = useTemplateRef<HTMLElement>('root');
const sheetBox = useTemplateRef<HTMLElement>('sheetBox');
const standBox = useTemplateRef<HTMLElement>('standBox');
const stage = shallowRef<Stage | null>(null);

/** Colour and mask, what the clip makes of them, then every other map that the run makes. */
const sheetModes = computed(() => {
  const others = engine.maps?.maps.map((m) => m.map).filter((m) => m !== 'colour') ?? [];
  const asMap = (map: MapName) => ({ label: mapKind(map).label, value: map as SheetMode });
  const clipped = (['kept', 'fringe'] as const).map((mode) => ({ label: mode, value: mode }));
  return [asMap('colour'), asMap('mask'), ...clipped, ...others.map(asMap)];
});
const BACKDROPS: Backdrop[] = ['shore', 'pale', 'dark'];
const SIDES = [
  { label: 'one side', value: 'one' },
  { label: 'two sides', value: 'two' },
];

const pointers = usePointers(stage);
useHandKeys(pointers.painting);
const { shownSource, bringAll } = useStageFeed(stage, pointers.painting.ready, pointers.refresh);

function layOut(): void {
  const box = root.value?.getBoundingClientRect();
  if (!box || !stage.value || !sheetBox.value || !standBox.value) return;
  const place = (element: HTMLElement) => {
    const r = element.getBoundingClientRect();
    return { x: r.left - box.left, y: r.top - box.top, width: r.width, height: r.height };
  };
  const first = stage.value.view('sheet').width === 0;
  stage.value.layOut(box.width, box.height, { sheet: place(sheetBox.value), stand: place(standBox.value) });
  if (first) stage.value.sheet.fit(stage.value.view('sheet'));
  pointers.refresh();
}

let observer: ResizeObserver | undefined;
onMounted(() => {
  stage.value = theStage();
  root.value!.prepend(stage.value.holder);
  observer = new ResizeObserver(layOut);
  observer.observe(sheetBox.value!);
  observer.observe(standBox.value!);
  stage.value.stand.setDistance(bench.distance);
  stage.value.setBackdrop(bench.backdrop);
  layOut();
  bringAll();
});
onBeforeUnmount(() => {
  observer?.disconnect();
  stage.value?.holder.remove();
});

const mode = computed(() => piece.material?.mode);
const doubleSided = computed(() => piece.material?.doubleSided);
const cardWidth = computed(() => piece.doc?.cardWidth ?? 1);

const pickingHint = computed(() => {
  const { picking } = bench;
  if (picking?.gives === 'swatch') return `Touch a colour to ${picking.list}, or drag over an area of it.`;
  return picking?.gives === 'scribble' ? `Scribble on what to ${picking.effect}.` : 'Touch the region.';
});

/** What keeps the views from being drawn, in plain words. */
const fault = computed(() => {
  switch (stage.value?.graphics.fault) {
    case 'none':
      return 'This browser offers no WebGL 2, which the Sheet and the Stand draw with.';
    case 'lost':
      return 'The graphics card was taken away. Your work is saved; the views come back with it, or after a reload.';
    default:
      return engine.failure && `${engine.failure.message} ${engine.failure.remedy}`;
  }
});

/** Metres between camera and card. */
const metres = computed({
  get: () => bench.distance * longestSide(),
  set: (value) => (bench.distance = value / longestSide()),
});
function longestSide(): number {
  const tall = engine.size ? engine.size.height / engine.size.width : 1;
  return cardWidth.value * Math.max(1, tall);
}

function startDivider(event: PointerEvent): void {
  const bar = event.currentTarget as HTMLElement;
  bar.setPointerCapture(event.pointerId);
  const move = (e: PointerEvent) => {
    const box = root.value!.getBoundingClientRect();
    bench.split = Math.min(0.8, Math.max(0.2, (e.clientX - box.left) / box.width));
  };
  const end = () => bar.removeEventListener('pointermove', move);
  bar.addEventListener('pointermove', move);
  bar.addEventListener('pointerup', end, { once: true });
  bar.addEventListener('pointercancel', end, { once: true });
}

function fit(): void {
  stage.value?.sheet.fit(stage.value.view('sheet'));
  pointers.refresh();
  stage.value?.invalidate('sheet');
}
function oneToOne(): void {
  stage.value?.sheet.oneToOne(stage.value.pixelRatio);
  pointers.refresh();
  stage.value?.invalidate('sheet');
}
function flip(): void {
  stage.value?.stand.flip();
  pointers.refresh();
  stage.value?.invalidate('stand');
}
const nudgeSplit = (by: number) => (bench.split = Math.min(0.8, Math.max(0.2, bench.split + by)));

useKeys('Sheet', [
  ...sheetModes.value.map(({ label, value }, i) => ({
    key: String(i + 1),
    label: `Show ${label}`,
    run: () => void (bench.sheetMode = value),
  })),
  { key: '0', label: 'Fit the picture', run: fit },
  { key: '9', label: 'One texel on one pixel', run: oneToOne },
  { key: '+', also: '=', label: 'Closer', run: () => pointers.zoomSheet(1.5) },
  { key: '-', label: 'Farther', run: () => pointers.zoomSheet(1 / 1.5) },
  { key: 'Ctrl+Arrows', label: 'By one texel' },
]);
useKeys('Stand', [
  { key: 'f', label: 'Front or back', run: flip },
  { key: 'j', label: 'Nearer', run: () => void (bench.distance = Math.max(0.5, bench.distance / 1.2)) },
  { key: 'k', label: 'Farther away', run: () => void (bench.distance = Math.min(120, bench.distance * 1.2)) },
  { key: 'm', label: 'Opaque, mask, blend', run: () => material.nextMode() },
  { key: 't', label: 'One side or two', run: () => material.toggleSides() },
  {
    key: 'g',
    label: 'Next backdrop',
    run: () => void (bench.backdrop = BACKDROPS[(BACKDROPS.indexOf(bench.backdrop) + 1) % 3]),
  },
]);
</script>

<template>
  <div
    ref="root"
    class="stage"
    :style="{ gridTemplateColumns: `minmax(0, ${bench.split}fr) 7px minmax(0, ${1 - bench.split}fr)` }"
  >
    <section
      ref="sheetBox"
      class="view"
      :class="{ picking: bench.picking, painting: pointers.painting.ready.value }"
      tabindex="0"
      aria-label="Sheet: the picture laid flat. Arrow keys pan, plus and minus zoom."
      data-test="sheet"
      v-on="pointers.sheet"
    >
      <div class="top" @pointerdown.stop @wheel.stop>
        <ElSegmented v-model="bench.sheetMode" :options="sheetModes" aria-label="What the Sheet shows" />
      </div>
      <p v-if="bench.picking" class="note" role="status">{{ pickingHint }} Esc ends it.</p>
      <p v-else-if="shownSource" class="note" role="status">Showing the source {{ shownSource.fileName }}</p>
      <PickMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" :trail="pointers.trail.value" />
      <HandMarks
        v-if="stage && pointers.painting.ready.value"
        :stage="stage"
        view="sheet"
        :moved="pointers.moved.value"
        :at="pointers.tip.value?.on === 'sheet' ? pointers.tip.value : null"
        :anchor="pointers.painting.anchor.value"
        :outline="pointers.painting.outline.value"
      />
      <HandLoupe
        v-if="stage && pointers.painting.ready.value"
        :stage="stage"
        view="sheet"
        :moved="pointers.moved.value"
        :at="pointers.tip.value"
      />
      <FoundMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" />
      <i v-if="pointers.marks.value.sheet" class="mark" :style="pointers.marks.value.sheet" />
      <div class="foot">
        <span data-test="readout">{{ pointers.readout.value }}</span>
        <span class="tools" @pointerdown.stop>
          <span v-if="stage && engine.size && Math.max(engine.size.width, engine.size.height) > stage.graphics.maxSide"
            >drawn at {{ stage.graphics.maxSide }}, computed in full</span
          >
          <button title="Fit (0)" @click="fit">fit</button>
          <button title="One texel on one pixel (9)" @click="oneToOne">1:1</button>
          <span class="percent" data-test="zoom">{{ pointers.zoomText.value }}</span>
        </span>
      </div>
    </section>
    <div
      class="divider"
      role="separator"
      aria-orientation="vertical"
      aria-label="Divider of Sheet and Stand"
      :aria-valuenow="Math.round(bench.split * 100)"
      tabindex="0"
      @pointerdown="startDivider"
      @keydown.left.prevent="nudgeSplit(-0.05)"
      @keydown.right.prevent="nudgeSplit(0.05)"
    />
    <section
      ref="standBox"
      class="view"
      tabindex="0"
      aria-label="Stand: the card lit in space. Arrow keys go round it."
      data-test="stand"
      v-on="pointers.stand"
    >
      <div class="top" @pointerdown.stop @wheel.stop>
        <ElSegmented
          v-if="mode"
          :model-value="mode"
          :options="MODES"
          aria-label="Alpha mode"
          data-test="mode"
          @change="material.set({ mode: $event as never }, `${$event}`)"
        />
        <ElSegmented
          :model-value="doubleSided ? 'two' : 'one'"
          :options="SIDES"
          aria-label="Sides"
          @change="material.toggleSides()"
        />
      </div>
      <HandMarks
        v-if="stage && pointers.painting.ready.value"
        :stage="stage"
        view="stand"
        :moved="pointers.moved.value"
        :at="pointers.tip.value?.on === 'stand' ? pointers.tip.value : null"
        :anchor="pointers.painting.anchor.value"
        :outline="pointers.painting.outline.value"
      />
      <HandLoupe
        v-if="stage && pointers.painting.ready.value"
        :stage="stage"
        view="stand"
        :moved="pointers.moved.value"
        :at="pointers.tip.value"
      />
      <i v-if="pointers.marks.value.stand" class="mark" :style="pointers.marks.value.stand" />
      <div class="foot">
        <span data-test="stand-readout">{{ pointers.standText.value }}</span>
        <span class="tools" @pointerdown.stop>
          <button title="Front or back (F)" data-test="flip" @click="flip">front / back</button>
          <ElSelect v-model="bench.backdrop" size="small" aria-label="Backdrop (G)" class="backdrop">
            <ElOption v-for="b in BACKDROPS" :key="b" :value="b" :label="b" />
          </ElSelect>
        </span>
        <span class="distance" @pointerdown.stop @wheel.stop>
          <NumberSlider
            label="Distance"
            hint="How far the camera stands from the card, in metres. Farther away the renderer samples smaller mip levels."
            :model-value="metres"
            :min="0.5 * longestSide()"
            :max="120 * longestSide()"
            :digits="2"
            unit="metres"
            logarithmic
            @preview="metres = $event"
            @commit="metres = $event"
          />
        </span>
      </div>
    </section>
    <p v-if="fault" class="fault" role="alert" data-test="fault">
      {{ fault }}
      <button v-if="engine.failure" type="button" data-test="compute-again" @click="engine.tryAgain()">
        Compute again
      </button>
    </p>
    <p v-else-if="!engine.mask" class="fault quiet" role="status">Reading the picture…</p>
    <span v-if="engine.busy && engine.mask" class="busy" role="status"
      >computing in full…<template v-if="engine.progress > 0">
        {{ Math.round(100 * engine.progress) }} %</template
      ></span
    >
  </div>
</template>

<style scoped src="./stage-panel.css"></style>
