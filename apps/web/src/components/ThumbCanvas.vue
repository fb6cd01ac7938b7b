<script setup lang="ts">
import { onMounted, useTemplateRef, watch } from 'vue';
import { redrawWhenRestored } from './restored';
import type { Thumb } from '../workers/types';

const props = defineProps<{ thumb: Thumb | null }>();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

function draw(): void {
  const target = canvas.value;
  if (!target || !props.thumb) return;
  const { width, height, rgba } = props.thumb;
  target.width = width;
  target.height = height;
  target.getContext('2d')?.putImageData(new ImageData(rgba, width, height), 0, 0);
}

onMounted(draw);
watch(() => props.thumb, draw);
redrawWhenRestored(canvas, draw);
</script>

<template>
  <canvas ref="canvas" aria-hidden="true" />
</template>
