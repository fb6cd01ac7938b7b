<script setup lang="ts">
import { thresholdByte } from '@lithe-sieve/core';
import { computed, useTemplateRef, watch, watchEffect } from 'vue';
import { redrawWhenRestored } from '../../components/restored';
import { useEngineStore } from '../../stores/engine.store';
import { usePieceStore } from '../../stores/piece.store';
import type { Stage } from '../stage/stage';

/** The texels around the pointer, one by one: what is kept in its colour, what is dropped as linen, partly as amber. */
const props = defineProps<{ stage: Stage; at: { x: number; y: number; on: 'sheet' | 'stand' } | null }>();
const engine = useEngineStore();
const piece = usePieceStore();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

/** Where the loupe would hide what is painted it stands at the other side. */
const aside = computed(() => {
  const { at, stage } = props;
  if (at?.on !== 'sheet') return false;
  const view = stage.view('sheet');
  const seen = stage.sheet.pointOf(at.x, at.y, view);
  return seen.x > view.width - SIDE - 60 && seen.y < SIDE + 110;
});

const AROUND = 6;
const CELL = 9;
const SIDE = (2 * AROUND + 1) * CELL;

function draw(): void {
  const context = canvas.value?.getContext('2d');
  const mask = engine.mask?.levels[0];
  const colour = engine.colour?.levels[0];
  const { at } = props;
  if (!context || !mask || !colour || !at || !piece.material || mask.width !== colour.width) return;
  const threshold = thresholdByte(piece.material.cutoff, piece.material.opacity);
  for (let j = -AROUND; j <= AROUND; j++) {
    for (let i = -AROUND; i <= AROUND; i++) {
      const [x, y] = [Math.floor(at.x) + i, Math.floor(at.y) + j];
      const [px, py] = [(i + AROUND) * CELL, (j + AROUND) * CELL];
      const inside = x >= 0 && y >= 0 && x < mask.width && y < mask.height;
      const k = y * mask.width + x;
      context.fillStyle = !inside
        ? '#77797a'
        : mask.data[k] >= threshold
          ? `rgb(${colour.data[4 * k]} ${colour.data[4 * k + 1]} ${colour.data[4 * k + 2]})`
          : '#d7d0c1';
      context.fillRect(px, py, CELL, CELL);
      if (!inside) continue;
      const alpha = mask.data[k];
      if (alpha > 0 && alpha < 255) {
        context.fillStyle = '#d8962e';
        context.fillRect(px, py, CELL * (alpha / 255), 2); // how much, as a bar
      }
      if (alpha < threshold) {
        context.strokeStyle = '#b9b09c';
        context.beginPath();
        context.moveTo(px, py);
        context.lineTo(px + CELL, py + CELL);
        context.moveTo(px + CELL, py);
        context.lineTo(px, py + CELL);
        context.stroke();
      }
    }
  }
  context.strokeStyle = '#fff';
  context.strokeRect(AROUND * CELL + 0.5, AROUND * CELL + 0.5, CELL - 1, CELL - 1);
}

watchEffect(draw, { flush: 'post' });
watch(() => engine.painted, draw);
redrawWhenRestored(canvas, draw);
</script>

<template>
  <canvas
    v-show="at"
    ref="canvas"
    class="loupe"
    :class="{ aside }"
    :width="SIDE"
    :height="SIDE"
    aria-label="Texels around the pointer"
    data-test="loupe"
  />
</template>

<style scoped>
.loupe {
  position: absolute;
  top: 44px;
  right: 10px;
  border: 1px solid #1d2b26;
  outline: 1px solid #fff;
  pointer-events: none;
}

.aside {
  right: auto;
  left: 10px;
}
</style>
