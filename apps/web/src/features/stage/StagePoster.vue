<script setup lang="ts">
import { cardSurface } from '@lithe-sieve/core';
import { computed, useTemplateRef } from 'vue';
import { tellTiming } from '../../engine/timing';
import { useBenchStore } from '../../stores/bench.store';
import type { Poster } from '../../stores/posters.store';
import { coloursOf, ENVIRONMENTS } from '../../drawing/lit/environments';
import { laidOn } from './poster-place';
import type { Stage, ViewName } from './stage';

/** A view of a piece that is being opened, until it is drawn: the Stock's picture, laid where it will be. */
const props = defineProps<{ stage: Stage; view: ViewName; moved: number; poster: Poster }>();
const bench = useBenchStore();
const image = useTemplateRef<HTMLImageElement>('image');

/** Side of the picture before it is laid. */
const SIDE = 256;

type Corner = readonly [u: number, v: number];
const CORNERS: readonly Corner[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];
/** One card, for a set too: which cards there are is not known before the document. */
const flat = computed(() => {
  const { width, height } = props.poster;
  return cardSurface({ cardWidth: width / Math.max(width, height) }, { width, height });
});
const transform = computed(() => {
  void props.moved;
  const { stage, view, poster } = props;
  const { width, height } = poster;
  const onSheet = ([u, v]: Corner) => stage.sheet.pointOf(u * width, v * height, stage.view(view));
  const onCard = ([u, v]: Corner) => stage.stand.pointOf(u, v, stage.view(view), flat.value);
  const corners = CORNERS.map(view === 'sheet' ? onSheet : onCard);
  return laidOn(corners, { width: SIDE, height: SIDE });
});

const hex = (colour: number) => `#${colour.toString(16).padStart(6, '0')}`;
/** Sky and ground, as the Stand has them. */
const surroundings = computed(() => {
  void props.moved;
  if (props.view === 'sheet') return {};
  const { sky, ground } = coloursOf(ENVIRONMENTS[bench.backdrop]);
  const horizon = props.stage.stand.horizon(props.stage.view('stand'));
  return { background: `linear-gradient(${hex(sky[0])}, ${hex(sky[1])} ${horizon}px, ${hex(ground)} ${horizon}px)` };
});

/** It is seen with the next frame. */
function seen(): void {
  requestAnimationFrame(() => image.value && tellTiming('poster'));
}
</script>

<template>
  <div class="poster" :style="surroundings" :data-test="`poster-${view}`">
    <img
      ref="image"
      :src="poster.src"
      alt=""
      :class="{ linen: view === 'sheet' }"
      :style="{ width: `${SIDE}px`, height: `${SIDE}px`, transform }"
      @load="seen"
    />
  </div>
</template>

<style scoped>
.poster {
  position: absolute;
  inset: 0;
  overflow: hidden;
  background: var(--surround);
  pointer-events: none;
}

img {
  position: absolute;
  top: 0;
  left: 0;
  transform-origin: 0 0;
}
</style>
