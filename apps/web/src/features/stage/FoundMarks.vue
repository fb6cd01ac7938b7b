<script setup lang="ts">
import type { ClearHolesParams, Place, SmallRegionsParams } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { isMarked } from '../../document/marked-places';
import type { Stage } from './stage';

/** What the selected step found, ringed on the Sheet. `moved` changes whenever the Sheet is looked at otherwise. */
const props = defineProps<{ stage: Stage; moved: number }>();
const engine = useEngine();
const bench = useBenchStore();
const piece = usePiece();

const MOST = 400; // rings a view can bear
const LEAST = 7; // CSS pixels: what is smaller is still found by the eye

const rings = computed(() => {
  void props.moved;
  const { selection } = bench;
  const step = selection.kind === 'step' ? piece.run.find((s) => s.id === selection.id) : undefined;
  const found = step && engine.maskIsFull && engine.mask?.found[step.id]; // places of the view size are elsewhere
  if (!found) return [];
  const { sheet } = props.stage;
  const view = props.stage.view('sheet');
  const params = step.params as Partial<SmallRegionsParams & ClearHolesParams>;
  const left = (place: Place) => (params.taken ? !isMarked(params.taken, place) : isMarked(params.left ?? [], place));
  const inSight = found.places.flatMap((place) => {
    const at = sheet.pointOf((place.x0 + place.x1) / 2, (place.y0 + place.y1) / 2, view);
    const radius = Math.max(LEAST, (Math.max(place.x1 - place.x0, place.y1 - place.y0) / 2) * sheet.scale + 4);
    const outside = at.x < -radius || at.y < -radius || at.x > view.width + radius || at.y > view.height + radius;
    return outside ? [] : [{ ...at, radius, left: left(place), key: place.at.join() }];
  });
  return inSight.slice(0, MOST); // the largest first
});
</script>

<template>
  <svg v-if="rings.length" class="rings" aria-hidden="true" data-test="rings">
    <g v-for="r in rings" :key="r.key">
      <circle class="under" :cx="r.x" :cy="r.y" :r="r.radius" />
      <circle :class="{ left: r.left }" :cx="r.x" :cy="r.y" :r="r.radius" />
    </g>
  </svg>
</template>

<style scoped>
.rings {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

circle {
  fill: none;
  stroke: #fff;
  stroke-width: 1.6;
}

circle.under {
  stroke: #1d2b26;
  stroke-width: 3.4;
}

/* what is left as it is: dashed, so that it is not shown by colour alone */
circle.left {
  stroke-dasharray: 3 3;
}
</style>
