<script setup lang="ts">
import { OUTLINE_CORNERS } from '@lithe-sieve/core';
import { computed, shallowRef, useTemplateRef, watch } from 'vue';
import { useKeys } from '../../actions/keys';
import { useOutlineByHand } from '../../actions/outline-by-hand';
import { dragHandle } from '../../components/drag-handle';
import { sayAt } from '../../components/say-at';
import type { Point } from '../../drawing/poses';
import { useBenchStore } from '../../stores/bench.store';
import { useClip } from '../../stores/open-piece/open-piece';
import type { Stage } from './stage';

/**
 * The outline that the card is cut to, on the Sheet, while the card is looked at; its corners are dragged, or moved with
 * arrow keys. `moved` changes with how the Sheet is.
 */
const props = defineProps<{ stage: Stage; moved: number }>();
const bench = useBenchStore();
const clip = useClip();
const byHand = useOutlineByHand();
const svg = useTemplateRef<SVGSVGElement>('svg');

/** A corner of a line, or the place between it and the next, under way to a place of the Sheet in texels. */
const grip = shallowRef<{ line: number; corner: number; between: boolean; to: Point } | null>(null);

/** In texels. */
const rings = computed(() => {
  if (bench.selection.kind !== 'card' || !clip.outline) return [];
  const { polygons, holes } = clip.outline.outline;
  return [...polygons, ...holes];
});
const lines = computed(() => {
  void props.moved;
  const { sheet } = props.stage;
  const view = props.stage.view('sheet');
  const held = grip.value;
  return rings.value.map((ring, line) => {
    const dragged = held?.line === line ? ring.toSpliced(held.corner + (held.between ? 1 : 0), held.between ? 0 : 1, held.to) : ring; // prettier-ignore
    return dragged.map(({ x, y }) => sheet.pointOf(x, y, view));
  });
});
/** Pixels of a line that each of its corners has at least: nearer, they would hide the picture, and each other. */
const ROOM = 16;
const hasRoom = computed(() =>
  lines.value.map((line) => {
    const long = line.reduce((sum, p, k) => sum + Math.hypot(p.x - line.at(k - 1)!.x, p.y - line.at(k - 1)!.y), 0);
    return long >= ROOM * line.length;
  }),
);
const pointsOf = (line: Point[]) => line.map(({ x, y }) => `${x},${y}`).join(' ');
/** In the middle of each side, as the outline is. */
const dots = computed(() => {
  void props.moved;
  const view = props.stage.view('sheet');
  return rings.value.map((ring) =>
    ring.map(({ x, y }, k) => {
      const next = ring[(k + 1) % ring.length];
      return props.stage.sheet.pointOf((x + next.x) / 2, (y + next.y) / 2, view);
    }),
  );
});
/** Where parts of an atlas have an outline each, none of them is full before they all are. */
const isFull = computed(
  () =>
    rings.value.reduce((sum, r) => sum + r.length, 0) >= OUTLINE_CORNERS.max * Math.max(1, clip.outlineRegions.length),
);

function start(event: PointerEvent, line: number, corner: number, isBetween: boolean): void {
  const move = (x: number, y: number) => {
    const box = svg.value!.getBoundingClientRect();
    const to = props.stage.sheet.texelAt(x - box.left, y - box.top, props.stage.view('sheet'));
    grip.value = { line, corner, between: isBetween, to };
  };
  dragHandle(event, {
    moved: move,
    done: () => void release(),
    back: () => (grip.value = null),
  });
}

async function release(): Promise<void> {
  const held = grip.value;
  if (held) {
    const { line, corner, between, to } = held;
    await byHand.change({ polygon: line, corner, do: between ? 'add' : 'move', to });
  }
  // what changed shows where it was dragged to until the outline is there
  if (!clip.outlineBusy) grip.value = null;
}

watch(
  () => clip.outline,
  () => (grip.value = null),
);

const ARROWS: Partial<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

async function onKey(event: KeyboardEvent, line: number, corner: number): Promise<void> {
  const handle = event.currentTarget as Element;
  const way = ARROWS[event.key];
  const does = way ? 'move' : event.key === 'Delete' ? 'remove' : event.key === 'Insert' || event.key === '+' ? 'add' : null; // prettier-ignore
  if (!does) return;
  event.preventDefault();
  event.stopPropagation();
  const { width, height } = clip.outline!;
  const by = Math.max(width, height) * (event.shiftKey ? 0.001 : 0.01);
  const { x, y } = rings.value[line][corner];
  const place = { polygon: line, corner };
  const to = { x: x + by * (way?.[0] ?? 0), y: y + by * (way?.[1] ?? 0) };
  const done = await byHand.change(does === 'move' ? { ...place, do: does, to } : { ...place, do: does });
  if (!done && !clip.outlineBusy) sayAt(handle, does === 'remove' ? 'Without it, kept texels would lie outside.' : 'There are as many corners as an outline may have.'); // prettier-ignore
}

useKeys('Corners of the outline', [
  { key: 'Arrows', label: 'Move the corner by a hundredth of the picture' },
  { key: 'Shift+Arrows', label: 'The same by a thousandth' },
  { key: 'Insert', label: 'A corner more, on the side after it' },
  { key: 'Delete', label: 'Without the corner' },
]);
</script>

<template>
  <svg v-if="lines.length" ref="svg" class="outline" :class="{ old: clip.outlineBusy }" data-test="outline-marks">
    <g v-for="(line, i) in lines" :key="i">
      <polygon class="under" :points="pointsOf(line)" />
      <polygon :points="pointsOf(line)" />
      <!-- they stay while one is dragged: what is gone hears no more of the pointer -->
      <template v-if="!isFull && (hasRoom[i] || grip?.line === i)">
        <circle
          v-for="(place, k) in dots[i]"
          :key="`between ${k}`"
          :class="{ hidden: grip }"
          :cx="place.x"
          :cy="place.y"
          r="3.5"
          aria-hidden="true"
          @pointerdown.stop.prevent="start($event, i, k, true)"
        />
      </template>
      <rect
        v-for="(p, k) in hasRoom[i] || grip?.line === i ? line : []"
        :key="k"
        :x="p.x - 4.5"
        :y="p.y - 4.5"
        width="9"
        height="9"
        tabindex="0"
        role="button"
        :aria-label="`Corner ${k + 1} of ${line.length}${lines.length > 1 ? `, polygon ${i + 1}` : ''}: arrows move it`"
        @pointerdown.stop.prevent="start($event, i, k, false)"
        @keydown="onKey($event, i, k)"
      />
    </g>
  </svg>
</template>

<style scoped>
.outline {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
  pointer-events: none;
}

polygon {
  fill: none;
  stroke: #fff;
  stroke-width: 1.6;
}

polygon.under {
  stroke: #1d2b26;
  stroke-width: 3.4;
}

rect,
circle {
  fill: #fff;
  stroke: #1d2b26;
  pointer-events: auto;
  cursor: move;
}

circle {
  fill: #1d2b26;
  stroke: #fff;
  cursor: copy;
}

rect:hover,
rect:focus-visible,
circle:hover {
  fill: #f0b453;
  outline: none;
}

.hidden {
  visibility: hidden;
}

/* of the last state */
.old polygon:not(.under) {
  stroke-dasharray: 4 4;
}
</style>
