<script setup lang="ts">
import { FLAT, FORM_RANGES, type CardSurface, type PieceDoc } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useCardActions } from '../../actions/card-actions';
import { useKeys } from '../../actions/keys';
import { dragHandle } from '../../components/drag-handle';
import { usePiece } from '../../stores/open-piece/open-piece';
import type { Stage } from '../stage/stage';
import { FORM_HANDLES, withinRange, type FormHandle } from './form-handles';

/** How the card is bent, dragged on the Stand itself, or focused and changed with arrow keys. `moved` changes with the camera. */
const props = defineProps<{ stage: Stage; moved: number; doc: PieceDoc; surface: CardSurface }>();
const piece = usePiece();
const { previewForm, setForm } = useCardActions();

const form = computed(() => props.doc.form ?? FLAT);
const placed = computed(() => {
  void props.moved;
  return FORM_HANDLES[form.value.kind].flatMap((handle) => {
    const at = seenAt(handle);
    return at ? [{ handle, at }] : [];
  });
});

/** Where it is seen: an outline may have cut the card off there, then nearer to its middle. */
function seenAt(handle: FormHandle): { x: number; y: number } | null {
  const [u, v] = handle.at(form.value);
  for (const share of [0, 0.1, 0.2, 0.3, 0.4]) {
    const [x, y] = [u + share * (0.5 - u), v + share * (0.5 - v)];
    if (props.surface.pointAt(x, y)) return props.stage.stand.pointOf(x, y, props.stage.view('stand'), props.surface);
  }
  return null;
}

/** Pixels that the card is wide and high on the Stand. */
function cardSeen(): { width: number; height: number } {
  const { stand } = props.stage;
  const at = (u: number, v: number) => stand.pointOf(u, v, props.stage.view('stand'), props.surface);
  const far = (a: { x: number; y: number }, b: { x: number; y: number }) => Math.hypot(a.x - b.x, a.y - b.y);
  return { width: far(at(0, 0.5), at(1, 0.5)), height: far(at(0.5, 0), at(0.5, 1)) };
}

function start(event: PointerEvent, handle: FormHandle): void {
  const before = form.value[handle.name];
  const by = handle.by(cardSeen()) * (handle.goes === 'sideways' && !props.stage.stand.seesFront ? -1 : 1);
  const [x0, y0] = [event.clientX, event.clientY];
  let value = before;
  dragHandle(event, {
    moved(x, y) {
      value = withinRange(handle.name, before + by * (handle.goes === 'sideways' ? x - x0 : y - y0));
      previewForm({ [handle.name]: value });
    },
    done: () => setForm({ [handle.name]: value }, `${handle.label.toLowerCase()} ${value}`),
    back: () => piece.abandon(),
  });
}

const WAYS: Partial<Record<string, number>> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 };

function onKey(event: KeyboardEvent, { name, label }: FormHandle): void {
  const way = WAYS[event.key];
  if (!way) return;
  event.preventDefault();
  event.stopPropagation();
  const value = withinRange(name, form.value[name] + way * FORM_RANGES[name].step * (event.shiftKey ? 1 : 5));
  setForm({ [name]: value }, `${label.toLowerCase()} ${value}`);
}

useKeys('Handles of the card', [
  { key: 'Arrows', label: 'Bend by five steps of the number' },
  { key: 'Shift+Arrows', label: 'The same by one' },
]);
</script>

<template>
  <svg v-if="placed.length" class="handles" data-test="form-handles">
    <circle
      v-for="{ handle, at } in placed"
      :key="handle.name"
      :class="handle.goes.replaceAll(' ', '-')"
      :cx="at.x"
      :cy="at.y"
      r="6"
      tabindex="0"
      role="slider"
      :aria-label="`${handle.label}: goes ${handle.goes}`"
      :aria-valuenow="form[handle.name]"
      :aria-valuemin="FORM_RANGES[handle.name].min"
      :aria-valuemax="FORM_RANGES[handle.name].max"
      :data-handle="handle.name"
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

circle {
  fill: #fdfaf2;
  stroke: #22302a;
  stroke-width: 1.5;
  pointer-events: auto;
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
