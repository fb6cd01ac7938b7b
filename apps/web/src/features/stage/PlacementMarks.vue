<script setup lang="ts">
import { computed } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';
import type { Stage } from './stage';

/** The border of the picture on its mesh, on the Stand, while the card is looked at. `moved` changes with the camera. */
const props = defineProps<{ stage: Stage; moved: number }>();
const piece = usePiece();
const bench = useBenchStore();
const clip = useClip();

/** Of more, finding the places would hold up a drag. */
const MOST_TRIANGLES = 50_000;
/** Places along a side of the picture. */
const STEPS = 24;
const CORNERS = [[0, 0], [1, 0], [1, 1], [0, 1]] as const; // prettier-ignore

const lines = computed(() => {
  void props.moved;
  const { surface } = clip;
  if (bench.selection.kind !== 'card' || !piece.doc?.mesh || !surface) return [];
  if (surface.mesh.indices.length > 3 * MOST_TRIANGLES) return [];
  const { stand } = props.stage;
  const view = props.stage.view('stand');
  const out: string[] = [];
  let line: string[] = [];
  const end = () => {
    if (line.length > 1) out.push(line.join(' '));
    line = [];
  };
  for (const [n, [u, v]] of CORNERS.entries()) {
    const [p, q] = CORNERS[(n + 1) % CORNERS.length];
    for (let i = 0; i <= STEPS; i++) {
      const [x, y] = [u + ((p - u) * i) / STEPS, v + ((q - v) * i) / STEPS];
      if (!surface.pointAt(x, y))
        end(); // no triangle shows it
      else {
        const at = stand.pointOf(x, y, view);
        line.push(`${at.x.toFixed(1)},${at.y.toFixed(1)}`);
      }
    }
  }
  end();
  return out;
});
</script>

<template>
  <svg v-if="lines.length" class="border" aria-hidden="true" data-test="placement-marks">
    <g v-for="(line, i) in lines" :key="i">
      <polyline class="under" :points="line" />
      <polyline :points="line" />
    </g>
  </svg>
</template>

<style scoped>
.border {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

polyline {
  fill: none;
  stroke: #fff;
  stroke-width: 1.4;
  stroke-dasharray: 6 4;
}

polyline.under {
  stroke: #1d2b26;
  stroke-width: 3;
  stroke-dasharray: none;
}
</style>
