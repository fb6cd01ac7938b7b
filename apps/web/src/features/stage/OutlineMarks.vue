<script setup lang="ts">
import { computed } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useClip } from '../../stores/open-piece/open-piece';
import type { Stage } from './stage';

/** The outline that the card is cut to, on the Sheet, while the card is looked at. `moved` changes with how the Sheet is. */
const props = defineProps<{ stage: Stage; moved: number }>();
const bench = useBenchStore();
const clip = useClip();

const lines = computed(() => {
  void props.moved;
  if (bench.selection.kind !== 'card' || !clip.outline) return [];
  const { sheet } = props.stage;
  const view = props.stage.view('sheet');
  const { polygons, holes } = clip.outline.outline;
  return [...polygons, ...holes].map((polygon) => polygon.map(({ x, y }) => sheet.pointOf(x, y, view)));
});
const pointsOf = (line: { x: number; y: number }[]) => line.map(({ x, y }) => `${x},${y}`).join(' ');
</script>

<template>
  <svg
    v-if="lines.length"
    class="outline"
    :class="{ old: clip.outlineBusy }"
    aria-hidden="true"
    data-test="outline-marks"
  >
    <g v-for="(line, i) in lines" :key="i">
      <polygon class="under" :points="pointsOf(line)" />
      <polygon :points="pointsOf(line)" />
      <rect v-for="(p, k) in line" :key="k" :x="p.x - 3" :y="p.y - 3" width="6" height="6" />
    </g>
  </svg>
</template>

<style scoped>
.outline {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
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

rect {
  fill: #fff;
  stroke: #1d2b26;
}

/* of the last state */
.old polygon:not(.under) {
  stroke-dasharray: 4 4;
}
</style>
