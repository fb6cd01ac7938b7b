<script setup lang="ts">
// The stops of a ramp, dragged along it: by mouse, by keys, and picked from the Sheet.
import {
  GRADIENT_BLENDS,
  gradientWords,
  MOST_STOPS,
  type RampLook,
  type Rgb,
  type StepEntry,
  type Stop,
} from '@lithe-sieve/core';
import { computed, ref, useTemplateRef, watchEffect } from 'vue';
import NumberField from '../../../components/NumberField.vue';
import { useBenchStore } from '../../../stores/bench.store';
import { hexOf, rgbOf } from '../../../components/colours';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ preview: [params: Partial<RampLook>]; commit: [params: Partial<RampLook>, what: string] }>();
const bench = useBenchStore();

const look = computed(() => props.step.params as RampLook);
const stops = computed(() => look.value.stops);
const chosen = ref(0);
const own = computed(() => stops.value[Math.min(chosen.value, stops.value.length - 1)]);
const track = useTemplateRef<HTMLElement>('track');
const strip = useTemplateRef<HTMLCanvasElement>('strip');
let dragging = false;

const STEPS = 256;
watchEffect(() => {
  const context = strip.value?.getContext('2d');
  if (!context || stops.value.length === 0) return;
  const words = gradientWords(stops.value, look.value.blend, STEPS);
  context.putImageData(new ImageData(new Uint8ClampedArray(words.buffer as ArrayBuffer), STEPS, 1), 0, 0);
});

const at = (v: number) => Math.round(1000 * Math.min(1, Math.max(0, v))) / 1000;
const moved = (place: number): Stop[] => stops.value.map((s, i) => (i === chosen.value ? { ...s, at: at(place) } : s));

function placeOf(event: PointerEvent): number {
  const { left, width } = track.value!.getBoundingClientRect();
  return (event.clientX - left) / width;
}

function begin(event: PointerEvent, i: number): void {
  chosen.value = i;
  dragging = true;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent): void {
  if (dragging) emit('preview', { stops: moved(placeOf(event)) });
}
function end(event: PointerEvent): void {
  if (!dragging) return;
  dragging = false;
  emit('commit', { stops: moved(placeOf(event)) }, `stop at ${at(placeOf(event))}`);
}

function onKey(event: KeyboardEvent, i: number): void {
  chosen.value = i;
  const step = { ArrowLeft: -0.01, ArrowDown: -0.01, ArrowRight: 0.01, ArrowUp: 0.01 }[event.key];
  if (step) {
    const by = event.shiftKey ? step * 10 : step;
    emit('commit', { stops: moved(stops.value[i].at + by) }, `stop at ${at(stops.value[i].at + by)}`);
  } else if (event.key === 'Delete' || event.key === 'Backspace') remove();
  else return;
  event.preventDefault();
  event.stopPropagation();
}

/** A stop of the colour that is there. */
function add(place: number): void {
  if (stops.value.length >= MOST_STOPS) return;
  const word = gradientWords(stops.value, look.value.blend, STEPS)[Math.round(at(place) * (STEPS - 1))];
  const colour: Rgb = [word & 255, (word >>> 8) & 255, (word >>> 16) & 255];
  chosen.value = stops.value.length;
  emit(
    'commit',
    { stops: [...stops.value.map((s) => ({ ...s })), { at: at(place), colour }] },
    `another stop at ${at(place)}`,
  );
}
function addHalfway(): void {
  const sorted = [...stops.value].sort((a, b) => a.at - b.at);
  const i = sorted.findIndex((s) => s === own.value);
  const next = sorted[i + 1]?.at ?? 1;
  add(next > own.value.at ? (own.value.at + next) / 2 : own.value.at / 2);
}
function remove(): void {
  if (stops.value.length < 2) return;
  const left = stops.value.filter((_, i) => i !== chosen.value);
  chosen.value = Math.max(0, chosen.value - 1);
  emit('commit', { stops: left }, 'one stop less');
}
function paint(colour: Rgb | null): void {
  if (!colour) return;
  emit('commit', { stops: stops.value.map((s, i) => (i === chosen.value ? { ...s, colour } : s)) }, 'colour of a stop');
}

const picks = computed(() => bench.picking?.gives === 'stop' && bench.picking.stepId === props.step.id);
function togglePick(): void {
  bench.picking = picks.value ? null : { stepId: props.step.id, gives: 'stop', index: chosen.value };
}
</script>

<template>
  <div class="ramp" data-test="ramp">
    <div ref="track" class="track" @dblclick="add(placeOf($event as PointerEvent))">
      <canvas ref="strip" :width="STEPS" height="1" aria-hidden="true" />
      <button
        v-for="(stop, i) in stops"
        :key="i"
        class="stop"
        :class="{ on: i === chosen }"
        role="slider"
        :aria-label="`Stop ${i + 1}`"
        :aria-valuenow="stop.at"
        aria-valuemin="0"
        aria-valuemax="1"
        :style="{ left: `${100 * stop.at}%`, background: hexOf(stop.colour) }"
        @pointerdown.prevent="begin($event, i)"
        @pointermove="move"
        @pointerup="end"
        @pointercancel="end"
        @focus="chosen = i"
        @keydown="onKey($event, i)"
      />
    </div>
    <div class="line">
      <input
        type="color"
        :value="hexOf(own.colour)"
        aria-label="Colour of the stop"
        @change="paint(rgbOf(($event.target as HTMLInputElement).value))"
      />
      <NumberField
        :model-value="own.at"
        :min="0"
        :max="1"
        :digits="3"
        label="Place of the stop"
        @commit="emit('commit', { stops: moved($event) }, `stop at ${$event}`)"
      />
      <ElButton size="small" :type="picks ? 'primary' : undefined" data-test="pick-stop" @click="togglePick"
        >pick</ElButton
      >
      <ElButton
        size="small"
        :disabled="stops.length >= MOST_STOPS"
        title="Another stop (double-click the ramp)"
        @click="addHalfway"
        >+</ElButton
      >
      <ElButton size="small" :disabled="stops.length < 2" title="Delete the stop (Delete)" @click="remove">−</ElButton>
    </div>
    <ElSegmented
      :model-value="look.blend"
      :options="[...GRADIENT_BLENDS]"
      size="small"
      aria-label="Between stops"
      @change="emit('commit', { blend: $event as RampLook['blend'] }, `${$event}`)"
    />
  </div>
</template>

<style scoped>
.ramp {
  margin: 8px 0 12px;
}

.track {
  position: relative;
  height: 22px;
  margin: 0 8px 14px;
}

.track canvas {
  width: 100%;
  height: 100%;
  border-radius: 3px;
  outline: 1px solid var(--rule);
}

.stop {
  position: absolute;
  top: 13px;
  width: 15px;
  height: 19px;
  margin-left: -7.5px;
  padding: 0;
  border: 2px solid var(--paper-high);
  border-radius: 2px 2px 8px 8px;
  outline: 1px solid var(--ink-soft);
  cursor: ew-resize;
  touch-action: none;
}

.stop.on {
  outline: 2px solid var(--green);
}

.line {
  display: flex;
  gap: 5px;
  align-items: center;
  margin-bottom: 8px;
}

.line :deep(.el-input-number) {
  width: 66px;
}

.line :deep(.el-button) {
  margin: 0;
  padding: 0 8px;
}

.line input[type='color'] {
  width: 30px;
  height: 24px;
  padding: 0;
}
</style>
