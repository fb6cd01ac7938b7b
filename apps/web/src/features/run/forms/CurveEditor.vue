<script setup lang="ts">
import { curveAt, type CurvePoint } from '@lithe-sieve/core';
import { computed, ref, useTemplateRef } from 'vue';

const props = defineProps<{ label: string; points: readonly CurvePoint[] }>();
const emit = defineEmits<{ preview: [points: CurvePoint[]]; commit: [points: CurvePoint[]]; abandon: [] }>();

const SIDE = 150;
const MOST = 16;
/** Least distance of two points across, so that their order stays. */
const APART = 0.01;
const root = useTemplateRef<SVGSVGElement>('root');

/** Without points the ends stand, so that there is something to take hold of. */
const shown = computed<readonly CurvePoint[]>(() =>
  props.points.length > 0
    ? props.points
    : [
        [0, 0],
        [1, 1],
      ],
);
const place = (v: number) => v * SIDE;
const path = computed(() =>
  Array.from({ length: 76 }, (_, i) => `${place(i / 75)},${SIDE - place(curveAt(props.points, i / 75))}`).join(' '),
);

function at(event: PointerEvent): CurvePoint {
  const box = root.value!.getBoundingClientRect();
  return [round((event.clientX - box.left) / box.width), round(1 - (event.clientY - box.top) / box.height)];
}
const round = (v: number) => Math.round(1000 * Math.min(1, Math.max(0, v))) / 1000;

/** The point where it may stand between its neighbours. */
function moved(index: number, [x, y]: CurvePoint): CurvePoint[] {
  const list = shown.value.map((p): CurvePoint => [...p]);
  const low = index > 0 ? list[index - 1][0] + APART : 0;
  const high = index < list.length - 1 ? list[index + 1][0] - APART : 1;
  list[index] = [round(Math.min(high, Math.max(low, x))), round(y)];
  return list;
}

const dragged = ref(-1);
function onDown(event: PointerEvent, index: number): void {
  event.stopPropagation();
  root.value!.setPointerCapture(event.pointerId);
  dragged.value = index;
}
function onAdd(event: PointerEvent): void {
  const [x, y] = at(event);
  if (shown.value.length >= MOST || shown.value.some((p) => Math.abs(p[0] - x) < APART)) return;
  const list = [...shown.value.map((p): CurvePoint => [...p]), [x, y] as CurvePoint].sort((a, b) => a[0] - b[0]);
  emit('preview', list);
  root.value!.setPointerCapture(event.pointerId);
  dragged.value = list.findIndex((p) => p[0] === x);
}
function onMove(event: PointerEvent): void {
  if (dragged.value >= 0) emit('preview', moved(dragged.value, at(event)));
}
function onUp(): void {
  if (dragged.value >= 0)
    emit(
      'commit',
      shown.value.map((p): CurvePoint => [...p]),
    );
  dragged.value = -1;
}
/** The pointer is gone: what it dragged goes back. */
function onCancel(): void {
  if (dragged.value >= 0) emit('abandon');
  dragged.value = -1;
}
function remove(index: number): void {
  const list = shown.value.filter((_, i) => i !== index).map((p): CurvePoint => [...p]);
  emit('commit', list.length < 2 ? [] : list);
}
function onKey(event: KeyboardEvent, index: number): void {
  const by = event.shiftKey ? 0.1 : 0.01;
  const steps: Record<string, CurvePoint> = {
    ArrowLeft: [-by, 0],
    ArrowRight: [by, 0],
    ArrowUp: [0, by],
    ArrowDown: [0, -by],
  };
  if (event.key === 'Delete' || event.key === 'Backspace') remove(index);
  else if (steps[event.key]) {
    const [x, y] = shown.value[index];
    emit('commit', moved(index, [x + steps[event.key][0], y + steps[event.key][1]]));
  } else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div class="curve">
    <div class="line">
      <ElTooltip
        :trigger-keys="[]"
        content="Alpha in from left to right, alpha out from bottom to top. Press to add a point, drag to move it, Delete removes it."
        placement="left"
      >
        <span>{{ label }}</span>
      </ElTooltip>
      <ElButton size="small" :disabled="points.length === 0" @click="emit('commit', [])">Reset curve</ElButton>
    </div>
    <svg
      ref="root"
      :viewBox="`0 0 ${SIDE} ${SIDE}`"
      data-test="curve"
      @pointerdown="onAdd"
      @pointermove="onMove"
      @pointerup="onUp"
      @pointercancel="onCancel"
    >
      <path class="grid" :d="`M0 ${SIDE}L${SIDE} 0M${SIDE / 2} 0V${SIDE}M0 ${SIDE / 2}H${SIDE}`" />
      <polyline :points="path" />
      <circle
        v-for="(p, i) in shown"
        :key="i"
        :cx="place(p[0])"
        :cy="SIDE - place(p[1])"
        r="5"
        tabindex="0"
        role="slider"
        :aria-label="`Point ${i + 1} of the curve`"
        :aria-valuenow="p[1]"
        :aria-valuetext="`alpha ${p[0].toFixed(2)} becomes ${p[1].toFixed(2)}`"
        @pointerdown="onDown($event, i)"
        @dblclick="remove(i)"
        @keydown="onKey($event, i)"
      />
    </svg>
  </div>
</template>

<style scoped>
.curve {
  margin: 8px 0;
}

.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 4px;
}

svg {
  display: block;
  width: 100%;
  aspect-ratio: 1;
  max-width: 150px;
  overflow: visible;
  border: 1px solid var(--rule);
  background: var(--paper-high);
  cursor: crosshair;
  touch-action: none;
}

.grid {
  fill: none;
  stroke: var(--rule);
  stroke-width: 0.7;
}

polyline {
  fill: none;
  stroke: var(--green);
  stroke-width: 1.8;
}

circle {
  fill: var(--paper-high);
  stroke: var(--ink);
  stroke-width: 1.5;
  cursor: move;
}

circle:focus-visible {
  outline: 2px solid var(--green);
  outline-offset: 2px;
}
</style>
