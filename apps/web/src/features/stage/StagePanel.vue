<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, shallowRef, useTemplateRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine } from '../../stores/open-piece/open-piece';
import FoundMarks from './FoundMarks.vue';
import TexelMarks from './TexelMarks.vue';
import OutlineMarks from './OutlineMarks.vue';
import PickMarks from './PickMarks.vue';
import PlacementMarks from './PlacementMarks.vue';
import { usePointers } from './pointers';
import type { OverView, PressTool } from './press-tool';
import SheetControls from './SheetControls.vue';
import { glassIn, theStage, type Stage } from './stage';
import { useStageFeed } from './stage-feed';
import UvMarks from './UvMarks.vue';
import StandControls from './StandControls.vue';
import StagePoster from './StagePoster.vue';

/** Sheet and Stand, side by side. */
const props = defineProps<{
  /** Takes presses on the views while it is ready for them; what it draws over them is the slot's. */
  tool: PressTool;
}>();
defineSlots<{ over(props: { stage: Stage; over: OverView }): unknown }>();
const engine = useEngine();
const bench = useBenchStore();

const root = useTemplateRef<HTMLElement>('root');
const sheetBox = useTemplateRef<HTMLElement>('sheetBox');
const standBox = useTemplateRef<HTMLElement>('standBox');
const stage = shallowRef<Stage | null>(null);
const pointers = usePointers(stage, props.tool);
const takes = props.tool.ready;
/** What is pressed on must be seen, where it is dropped too. */
const pressedOn = computed(() => (takes.value && props.tool.underlay) || bench.picking !== null);
const { shownSource, bringAll } = useStageFeed(stage, pressedOn, pointers.refresh);
const over = (view: OverView['view']): OverView => ({ view, moved: pointers.moved.value, at: pointers.tip.value });

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
  stage.value.stand.setFieldOfView(bench.fieldOfView);
  stage.value.markSoft(bench.softMarked);
  layOut();
  bringAll();
});
onBeforeUnmount(() => {
  observer?.disconnect();
  stage.value?.holder.remove();
});

const pickingHint = computed(() => {
  const { picking } = bench;
  if (picking?.gives === 'swatch') return `Touch a colour to ${picking.list}, or drag over an area of it.`;
  return picking?.gives === 'scribble' ? `Scribble on what to ${picking.effect}.` : 'Touch the region.';
});

const glassPlace = computed(() => {
  void pointers.moved.value;
  const { x, y, width, height } = glassIn(stage.value!.view('stand'));
  return { left: `${x}px`, top: `${y}px`, width: `${width}px`, height: `${height}px` };
});

/** Until a view is drawn. */
const posterOf = (view: OverView['view']) =>
  stage.value && !stage.value.seen[view] && !fault.value && engine.size ? engine.poster : null;

/** What keeps the views from being drawn, in plain words. */
const fault = computed(() => {
  switch (stage.value?.graphics.fault) {
    case 'none':
      return 'This browser offers no WebGL 2, which draws the Sheet and the Stand.';
    case 'lost':
      return 'The browser lost the graphics device. Your work is saved. The views come back with it, or after a reload.';
    default:
      return engine.failure && `${engine.failure.message} ${engine.failure.remedy}`;
  }
});

function startDivider(event: PointerEvent): void {
  const bar = event.currentTarget as HTMLElement;
  bar.setPointerCapture(event.pointerId);
  const move = (e: PointerEvent) => {
    const box = root.value!.getBoundingClientRect();
    setSplit((e.clientX - box.left) / box.width);
  };
  const end = () => bar.removeEventListener('pointermove', move);
  bar.addEventListener('pointermove', move);
  bar.addEventListener('pointerup', end, { once: true });
  bar.addEventListener('pointercancel', end, { once: true });
}
const columns = computed(() =>
  bench.standAlone ? '0 0 minmax(0, 1fr)' : `minmax(0, ${bench.split}fr) 7px minmax(0, ${1 - bench.split}fr)`,
);
const setSplit = (share: number) => (bench.split = Math.min(0.8, Math.max(0.2, share)));
</script>

<template>
  <div ref="root" class="stage" :class="{ alone: bench.standAlone }" :style="{ gridTemplateColumns: columns }">
    <section
      ref="sheetBox"
      class="view"
      :class="{ picking: bench.picking, painting: takes && tool.underlay, placing: takes && !tool.underlay }"
      tabindex="0"
      aria-label="Sheet: the picture laid flat. Arrow keys pan, plus and minus zoom."
      data-test="sheet"
      v-on="pointers.sheet"
    >
      <StagePoster
        v-if="posterOf('sheet')"
        :stage="stage!"
        view="sheet"
        :moved="pointers.moved.value"
        :poster="posterOf('sheet')!"
      />
      <p v-if="bench.picking" class="note" role="status">{{ pickingHint }} Esc ends it.</p>
      <p v-else-if="shownSource" class="note" role="status">Showing the source {{ shownSource.fileName }}</p>
      <PickMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" :trail="pointers.trail.value" />
      <slot v-if="stage" name="over" :stage="stage" :over="over('sheet')" />
      <TexelMarks v-if="stage && engine.size" :stage="stage" :moved="pointers.moved.value" :size="engine.size" />
      <OutlineMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" />
      <UvMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" />
      <FoundMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" />
      <i v-if="pointers.marks.value.sheet" class="mark" :style="pointers.marks.value.sheet" />
      <SheetControls
        :stage="stage"
        :readout="pointers.readout.value"
        :zoom="pointers.zoomText.value"
        @moved="pointers.refresh"
        @zoomed="pointers.zoomSheet"
      />
    </section>
    <div
      class="divider"
      role="separator"
      aria-orientation="vertical"
      aria-label="Divider of Sheet and Stand"
      :aria-valuenow="Math.round(bench.split * 100)"
      tabindex="0"
      @pointerdown="startDivider"
      @keydown.left.prevent="setSplit(bench.split - 0.05)"
      @keydown.right.prevent="setSplit(bench.split + 0.05)"
    />
    <section
      ref="standBox"
      class="view"
      tabindex="0"
      aria-label="Stand: the card lit in space. Arrow keys go round it."
      data-test="stand"
      v-on="pointers.stand"
    >
      <StagePoster
        v-if="posterOf('stand')"
        :stage="stage!"
        view="stand"
        :moved="pointers.moved.value"
        :poster="posterOf('stand')!"
      />
      <slot v-if="stage" name="over" :stage="stage" :over="over('stand')" />
      <p v-if="stage && bench.glass" class="glass" :style="glassPlace" data-test="glass-view">8 ×</p>
      <PlacementMarks v-if="stage" :stage="stage" :moved="pointers.moved.value" />
      <i v-if="pointers.marks.value.stand" class="mark" :style="pointers.marks.value.stand" />
      <StandControls :stage="stage" :readout="pointers.standText.value" @moved="pointers.refresh" />
    </section>
    <p v-if="fault" class="fault" role="alert" data-test="fault">
      {{ fault }}
      <ElButton v-if="engine.failure" class="again" data-test="compute-again" @click="engine.tryAgain()"
        >Compute again</ElButton
      >
    </p>
    <p v-else-if="!engine.mask && !engine.first && !engine.poster" class="fault quiet" role="status">
      Reading the picture…
    </p>
    <span v-if="engine.first || (engine.busy && engine.mask)" class="busy" role="status"
      >computing in full…<template v-if="engine.progress > 0">
        {{ Math.round(100 * engine.progress) }} %</template
      ></span
    >
  </div>
</template>

<style scoped src="./stage-panel.css"></style>
