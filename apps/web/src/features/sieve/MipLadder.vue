<script setup lang="ts">
import { coverageAt, drawSilhouette, thresholdByte, type LevelSummary } from '@lithe-sieve/core';
import { computed, nextTick, useTemplateRef, watch } from 'vue';
import { usePieceStore } from '../../stores/piece.store';

const props = defineProps<{ levels: readonly LevelSummary[] }>();
const piece = usePieceStore();
const canvases = useTemplateRef<HTMLCanvasElement[]>('canvases');

const threshold = computed(() => {
  const m = piece.doc?.material;
  return m ? thresholdByte(m.cutoff, m.opacity) : 128;
});

/** Drift worth a mark: more than this many percent of level 0's own coverage. */
const NOTABLE = 0.05;

const rungs = computed(() => {
  const top = props.levels[0] ? coverageAt(props.levels[0].counts, threshold.value) : 0;
  return props.levels.map((level, i) => {
    const coverage = coverageAt(level.counts, threshold.value);
    const drift = coverage - top;
    return {
      key: i,
      size: level.width === level.height ? `${level.width}` : `${level.width}×${level.height}`,
      coverage: `${(100 * coverage).toFixed(1)} %`,
      drift: i === 0 ? '0' : `${drift > 0 ? '+' : drift < 0 ? '−' : ''}${Math.abs(100 * drift).toFixed(1)}`,
      notable: Math.abs(drift) > NOTABLE * Math.max(top, 0.01),
      ...shownSize(level, Math.max(15, Math.round(78 * Math.pow(0.85, i)))),
    };
  });
});

/** CSS pixels of a rung whose longer side is `side`. */
function shownSize({ width, height }: LevelSummary, side: number): { width: string; height: string } {
  const scale = side / Math.max(width, height);
  return { width: `${Math.max(2, width * scale)}px`, height: `${Math.max(2, height * scale)}px` };
}

/** Draws every rung clipped at the cutoff; from small samples, so that a drag stays within a frame. */
function draw(): void {
  canvases.value?.forEach((canvas, i) => {
    const silhouette = props.levels[i]?.silhouette;
    if (!silhouette) return;
    const { width, height } = silhouette;
    const grey = new Uint8Array(width * height);
    drawSilhouette(silhouette, threshold.value, grey);
    const image = new ImageData(width, height);
    new Uint32Array(image.data.buffer).forEach((_, k, words) => (words[k] = 0xff000000 | (grey[k] * 0x010101)));
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    canvas.getContext('2d')?.putImageData(image, 0, 0);
  });
}

watch([() => props.levels, threshold], () => void nextTick(draw), { immediate: true });
</script>

<template>
  <section class="ladder" aria-label="Coverage at every mip level">
    <h4><span>At every mip level</span><span class="soft">coverage, drift from level 0</span></h4>
    <ol data-test="ladder">
      <li v-for="r in rungs" :key="r.key" :data-level="r.key">
        <canvas ref="canvases" aria-hidden="true" :style="{ width: r.width, height: r.height }" />
        <span>{{ r.size }}</span>
        <span>{{ r.coverage }}</span>
        <em :class="{ notable: r.notable }">{{ r.drift }}{{ r.notable ? ' !' : '' }}</em>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.ladder {
  display: grid;
  grid-template-rows: auto 1fr;
  min-width: 0;
  padding: 8px 14px 6px;
  border: solid var(--rule);
  border-width: 0 1px;
}

h4 {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 24px;
  font-size: 12px;
  font-weight: 600;
}

h4 .soft {
  font-weight: 400;
}

ol {
  display: flex;
  align-items: flex-end;
  gap: 7px;
  margin: 0;
  padding: 0 0 2px;
  list-style: none;
  overflow-x: auto;
}

li {
  display: grid;
  justify-items: center;
  flex: none;
  font-size: 11px;
  line-height: 1.3;
}

canvas {
  margin-bottom: 4px;
  image-rendering: pixelated;
  background: #000;
  outline: 1px solid #0003;
}

em {
  font-style: normal;
  color: var(--ink-soft);
}

em.notable {
  color: var(--amber);
  font-weight: 600;
}
</style>
