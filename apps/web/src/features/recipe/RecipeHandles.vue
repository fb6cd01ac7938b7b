<script setup lang="ts">
import { useKeys } from '../../actions/keys';
import type { SourceRef } from '@lithe-sieve/core';
import { computed, useTemplateRef } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import { dragHandle } from '../../components/drag-handle';
import { useBenchStore } from '../../stores/bench.store';
import type { Stage } from '../stage/stage';
import { handlesOf, type Handle } from './recipe-handles';

/** What of the selected recipe is dragged on the Sheet itself: with the mouse, or focused and moved with arrow keys. */
const props = defineProps<{ stage: Stage; moved: number; source: SourceRef }>();
const actions = useRecipeActions();
const svg = useTemplateRef<SVGSVGElement>('svg');

const recipe = computed(() => props.source.recipe!);
const bench = useBenchStore();
const handles = computed(() => handlesOf(recipe.value, bench.blade));

const placed = computed(() => {
  void props.moved;
  const view = props.stage.view('sheet');
  const { width } = recipe.value;
  return new Map(handles.value.points.map((h) => [h.id, props.stage.sheet.pointOf(h.x * width, h.y * width, view)]));
});
const lines = computed(() =>
  handles.value.lines.map(({ name, ids }) => ({
    name,
    points: ids.map((id) => placed.value.get(id)!).map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(' '), // prettier-ignore
  })),
);
const marks = computed(() => {
  void props.moved;
  const view = props.stage.view('sheet');
  const { width } = recipe.value;
  const seen = ({ x, y }: { x: number; y: number }) => props.stage.sheet.pointOf(x * width, y * width, view);
  return (handles.value.marks ?? []).map(({ points, on }) => {
    const line = points.map(seen);
    return { on, root: line[0], line: line.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(' ') };
  });
});
const dragged = computed(() => handles.value.points.filter((h) => h.id !== 'start'));

function start(event: PointerEvent, handle: Handle): void {
  let last: object | null = null;
  dragHandle(event, {
    moved(x, y) {
      const box = svg.value!.getBoundingClientRect();
      const at = props.stage.sheet.texelAt(x - box.left, y - box.top, props.stage.view('sheet'));
      last = handle.to(at.x / recipe.value.width, at.y / recipe.value.width);
      actions.preview(props.source, last);
    },
    done: () => last && actions.set(props.source, last, handle.label.toLowerCase()),
    back: () => actions.abandon(),
  });
}

useKeys('Handles of what is grown', [
  { key: 'Arrows', label: 'Move the handle by a hundredth of the card' },
  { key: 'Shift+Arrows', label: 'The same by a thousandth' },
  { key: 'Escape', label: 'While it is dragged: back to where it was' },
]);

/** Arrows move by a hundredth of the card, with Shift by a thousandth. */
function onKey(event: KeyboardEvent, handle: Handle): void {
  const step = event.shiftKey ? 0.001 : 0.01;
  const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [0, 0];
  if (dx === 0 && dy === 0) return;
  if (handle.goes === 'sideways' ? dx === 0 : handle.goes === 'up and down' && dy === 0) return;
  event.preventDefault();
  event.stopPropagation();
  actions.set(props.source, handle.to(handle.x + dx * step, handle.y + dy * step), handle.label.toLowerCase());
}
</script>

<template>
  <svg ref="svg" class="handles" data-test="recipe-handles">
    <g v-for="(mark, i) in marks" :key="`mark ${i}`" class="pin" :class="{ on: mark.on }" data-test="pin-mark">
      <polyline class="under" :points="mark.line" />
      <polyline :points="mark.line" />
      <path :d="`M${mark.root.x - 5} ${mark.root.y + 9}l5 -9 5 9z`" />
    </g>
    <template v-for="under in [true, false]" :key="String(under)">
      <polyline v-for="line in lines" :key="line.name" :class="[line.name, { under }]" :points="line.points" />
    </template>
    <circle
      v-for="handle in dragged"
      :key="handle.id"
      :class="handle.goes.replaceAll(' ', '-')"
      :cx="placed.get(handle.id)!.x"
      :cy="placed.get(handle.id)!.y"
      r="6"
      tabindex="0"
      role="slider"
      :aria-label="`${handle.label}: goes ${handle.goes}`"
      :aria-valuenow="Math.round(1000 * (handle.goes === 'sideways' ? handle.x : handle.y)) / 1000"
      :data-handle="handle.id"
      @pointerdown.stop.prevent="start($event, handle)"
      @keydown="onKey($event, handle)"
    />
  </svg>
</template>

<style scoped>
.handles {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
  pointer-events: none;
}

polyline {
  fill: none;
  stroke: #fdfaf2;
  stroke-width: 1.5;
}

polyline.under {
  stroke: #22302a;
  stroke-width: 3.5;
  opacity: 0.55;
}

.envelope:not(.under) {
  stroke-dasharray: 6 4;
}

.pin polyline {
  stroke-width: 1;
}

.pin polyline.under {
  stroke-width: 3;
}

.pin.on polyline:not(.under) {
  stroke: #f0b453;
  stroke-width: 1.5;
}

.pin path {
  fill: #fdfaf2;
  stroke: #22302a;
}

.pin.on path {
  fill: #f0b453;
}

circle {
  fill: #fdfaf2;
  stroke: #22302a;
  stroke-width: 1.5;
  pointer-events: auto;
  cursor: move;
}

circle.up-and-down {
  cursor: ns-resize;
}

circle.sideways {
  cursor: ew-resize;
}

circle:hover,
circle:focus-visible {
  fill: #f0b453;
  outline: none;
  stroke-width: 2.5;
}
</style>
