<script setup lang="ts">
import { uvBorders } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { Stage } from './stage';

/** Where the mesh lies on the picture, on the Sheet, while the card is looked at. `moved` changes with how the Sheet is. */
const props = defineProps<{ stage: Stage; moved: number }>();
const piece = usePiece();
const engine = useEngine();
const bench = useBenchStore();
const clip = useClip();

/** More would take the page's time with each change of the mesh, and lines with each move of the Sheet. */
const MOST = { triangles: 100_000, lines: 20_000 };
/** In shares of the picture, made again with the mesh and its placement alone. */
const path = computed(() => {
  const { surface } = clip;
  if (bench.selection.kind !== 'card' || !piece.doc?.mesh || !surface) return '';
  if (surface.mesh.indices.length > 3 * MOST.triangles) return '';
  const lines = uvBorders(surface.mesh);
  if (lines.length > 4 * MOST.lines) return '';
  let text = '';
  for (let i = 0; i < lines.length; i += 4) {
    const [a, b, c, d] = Array.from(lines.subarray(i, i + 4), (v) => v.toFixed(5));
    text += `M${a} ${b}L${c} ${d}`;
  }
  return text;
});
const placed = computed(() => {
  void props.moved;
  const { size } = engine;
  if (path.value === '' || !size) return '';
  const view = props.stage.view('sheet');
  const [from, to] = [props.stage.sheet.pointOf(0, 0, view), props.stage.sheet.pointOf(size.width, size.height, view)];
  return `translate(${from.x} ${from.y}) scale(${to.x - from.x} ${to.y - from.y})`;
});
</script>

<template>
  <svg v-if="path" class="uvs" aria-hidden="true" data-test="uv-marks">
    <g :transform="placed">
      <path class="under" :d="path" />
      <path :d="path" />
    </g>
  </svg>
</template>

<style scoped>
.uvs {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

path {
  fill: none;
  stroke: #fff;
  stroke-width: 1.2;
  vector-effect: non-scaling-stroke;
}

path.under {
  stroke: #1d2b26;
  stroke-width: 2.8;
}
</style>
