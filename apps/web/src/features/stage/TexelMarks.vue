<script setup lang="ts">
import { useTemplateRef, watch } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import type { Stage } from './stage';

/** Texels of a level marked on the Sheet. `moved` changes whenever the Sheet is looked at otherwise. */
const props = defineProps<{
  stage: Stage;
  moved: number;
  /** Size of the picture in full, in texels. */
  size: { width: number; height: number };
}>();
const bench = useBenchStore();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

/** CSS pixels: what is smaller is not seen; and how many a view can bear. */
const LEAST = 2;
const MOST = 40_000;

function draw(): void {
  const { value: element } = canvas;
  const marks = bench.texelMarks;
  if (!element || !marks) return;
  const view = props.stage.view('sheet');
  const ratio = window.devicePixelRatio;
  Object.assign(element, { width: Math.round(view.width * ratio), height: Math.round(view.height * ratio) });
  const context = element.getContext('2d');
  if (!context) return;
  context.scale(ratio, ratio);
  const { sheet } = props.stage;
  const [across, down] = [props.size.width / marks.width, props.size.height / marks.height];
  const side = Math.max(LEAST, sheet.scale * across);
  for (const rim of [sheet.scale < 1 ? 0.5 : 1, 0]) {
    context.fillStyle = rim > 0 ? '#1d2b26' : '#ffd76a';
    let drawn = 0;
    for (const i of marks.texels) {
      const at = sheet.pointOf(((i % marks.width) + 0.5) * across, (Math.floor(i / marks.width) + 0.5) * down, view);
      if (at.x < -side || at.y < -side || at.x > view.width + side || at.y > view.height + side) continue;
      context.fillRect(at.x - side / 2 - rim, at.y - side / 2 - rim, side + 2 * rim, side + 2 * rim);
      if (++drawn === MOST) break;
    }
  }
}

watch([() => bench.texelMarks, () => props.moved, canvas], draw, { flush: 'post' });
</script>

<template>
  <canvas v-if="bench.texelMarks" ref="canvas" class="texel-marks" aria-hidden="true" data-test="texel-marks" />
</template>

<style scoped>
.texel-marks {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
</style>
