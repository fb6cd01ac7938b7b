<script setup lang="ts">
import type { LevelSummary, Suggestion } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { curveOf, keptAt, wordsAt } from './cutoff-curves';
import { FLOOR, makeCutoffPlot, MOST_CURVES, type CutoffPlot } from './cutoff-plot';
import CutoffMarks from './CutoffMarks.vue';
import NumberField from '../../components/NumberField.vue';
import { redrawWhenRestored } from '../../components/restored';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';
import { useMaterialActions } from '../../actions/material-actions';

const props = defineProps<{
  /** Level 0 first. */
  levels: readonly LevelSummary[];
  suggestions: readonly Suggestion[];
}>();
const counts = computed(() => props.levels[0]?.counts ?? null);
const piece = usePiece();
const bench = useBenchStore();
const clip = useClip();
const actions = useMaterialActions();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const handle = useTemplateRef<HTMLElement>('handle');
const chart = shallowRef<CutoffPlot | null>(null);
/** Left edge and width of the plot, in CSS pixels. */
const plot = ref({ left: 0, width: 1 });

const BINS = 64;
const material = computed(() => piece.material);
const cutoff = computed(() => material.value?.cutoff ?? 0.5);
const saidCutoff = computed(() => piece.saidMaterial?.cutoff ?? 0.5);
const kept = computed(() => {
  const m = piece.saidMaterial;
  return counts.value && m ? keptAt(counts.value, m.cutoff, m.opacity) : null;
});
/** The cutoff under the pointer. */
const pointed = ref<number | null>(null);
/** The handle has the keys. */
const held = ref(false);
const words = computed(() => {
  const m = piece.saidMaterial;
  if (!m || !counts.value) return '';
  const at = pointed.value ?? (held.value ? m.cutoff : null);
  if (at !== null) return wordsAt(props.levels, bench.curves, at, m.opacity);
  return 'line: share kept, bars: texels (log)';
});

function colour(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

/** Bars of four alphas each; the curve over cutoffs, opacity factor included. */
function fill(): void {
  const { value: target } = chart;
  const alphas = counts.value;
  if (!target || !alphas) return;
  const total = alphas.reduce((sum, n) => sum + n, 0);
  const bars = Array.from({ length: BINS }, (_, b) => {
    const share = (alphas[4 * b] + alphas[4 * b + 1] + alphas[4 * b + 2] + alphas[4 * b + 3]) / total;
    return { x: (b + 0.5) / BINS, y: Math.max(share, FLOOR) };
  });
  const opacity = material.value?.opacity ?? 1;
  target.data.datasets[0].data = bars;
  target.data.datasets[1].data = curveOf(alphas, opacity);
  for (let k = 0; k < MOST_CURVES; k++) {
    const level = props.levels[bench.curves[k]];
    target.data.datasets[2 + k].data = level ? curveOf(level.counts, opacity) : [];
  }
  target.update('none');
  const { left, width } = target.chartArea;
  plot.value = { left, width };
}

onMounted(() => {
  chart.value = makeCutoffPlot(canvas.value!, colour, () => requestAnimationFrame(fill));
  fill();
});
onBeforeUnmount(() => chart.value?.destroy());
redrawWhenRestored(canvas, fill);
watch([() => props.levels, () => bench.curves, () => material.value?.opacity, () => bench.theme], fill, {
  flush: 'post',
});

function cutoffAt(event: PointerEvent): number {
  const box = canvas.value!.getBoundingClientRect();
  const t = (event.clientX - box.left - plot.value.left) / plot.value.width;
  return Math.round(Math.min(1, Math.max(0, t)) * 200) / 200;
}

const take = ({ cutoff: value, label }: Suggestion) => actions.set({ cutoff: value }, `cutoff ${value}, ${label}`);

let dragging = false;
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  dragging = true;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  handle.value?.focus();
  actions.preview({ cutoff: cutoffAt(event) });
}
function onMove(event: PointerEvent): void {
  pointed.value = dragging ? null : cutoffAt(event);
  if (dragging) actions.preview({ cutoff: cutoffAt(event) });
}
function onUp(): void {
  if (dragging) actions.endCutoff(true);
  dragging = false;
}
function onCancel(): void {
  if (dragging) actions.endCutoff(false);
  dragging = false;
}

function onKey(event: KeyboardEvent): void {
  const steps: Record<string, number> = {
    ArrowLeft: -0.005,
    ArrowDown: -0.005,
    ArrowRight: 0.005,
    ArrowUp: 0.005,
    PageDown: -0.05,
    PageUp: 0.05,
    Home: -1,
    End: 1,
  };
  if (event.key === 'Escape' && dragging) onCancel();
  const by = steps[event.key];
  if (by === undefined) return;
  event.preventDefault();
  actions.nudgeCutoff(by);
}
</script>

<template>
  <section class="what-passes" aria-label="Coverage by cutoff">
    <h2>
      <span>Coverage by cutoff</span>
      <span class="soft">
        <NumberField
          :model-value="saidCutoff"
          :min="0"
          :max="1"
          :digits="3"
          label="Cutoff"
          data-test="cutoff"
          @commit="actions.setCutoff"
        />
        keeps
        <b data-test="kept" :class="{ provisional: clip.provisional }">{{
          kept === null ? '–' : `${(100 * kept).toFixed(1)} %`
        }}</b>
      </span>
    </h2>
    <div
      class="plot"
      @pointerdown="onDown"
      @pointermove="onMove"
      @pointerup="onUp"
      @pointercancel="onCancel"
      @pointerleave="pointed = null"
    >
      <canvas
        ref="canvas"
        role="img"
        aria-label="Bars: texels of each alpha, on a logarithmic scale. Lines: share kept at each cutoff, of level 0 and of chosen mip levels"
      />
      <CutoffMarks :suggestions="suggestions" :plot="plot" :cutoff="saidCutoff" @take="take" />
      <div class="line" :style="{ transform: `translateX(${plot.left + cutoff * plot.width}px)` }">
        <span
          ref="handle"
          class="handle"
          role="slider"
          tabindex="0"
          aria-label="Cutoff"
          aria-valuemin="0"
          aria-valuemax="1"
          :aria-valuenow="saidCutoff"
          data-test="cutoff-handle"
          @keydown="onKey"
          @focus="held = true"
          @blur="held = false"
        />
      </div>
    </div>
    <p class="soft axis">
      <span>cutoff 0</span>
      <span class="words" data-test="chart-words">{{ words }}</span>
      <span>1</span>
    </p>
  </section>
</template>

<style scoped>
.what-passes {
  display: grid;
  grid-template-rows: auto 1fr auto;
  min-width: 0;
  padding: 8px 14px 6px;
  contain: strict; /* new figures lay nothing else out */
}

h2 {
  display: flex;
  justify-content: space-between;
  align-items: center;
  font-size: 12px;
  font-weight: 600;
}

h2 > span {
  white-space: nowrap;
}

h2 .soft {
  font-weight: 400;
}

h2 b {
  display: inline-block;
  width: 48px;
  height: 16px;
  vertical-align: -3px;
  contain: size layout;
  text-align: right;
  color: var(--ink);
}

h2 .el-input-number {
  width: 68px;
}

h2 :deep(.el-input__wrapper) {
  padding: 0 4px;
  border-bottom: 1px solid var(--rule);
  border-radius: 0;
  background: none;
  box-shadow: none;
}

.plot {
  position: relative;
  min-height: 0;
  cursor: ew-resize;
  touch-action: none;
}

.plot canvas {
  position: absolute;
  inset: 0;
}

.line {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 0;
  width: 0;
  will-change: transform; /* moved without layout or paint */
  border-left: 1.5px solid var(--ink);
  pointer-events: none;
}

.handle {
  position: absolute;
  top: 1px;
  left: -8px;
  width: 14px;
  height: 14px;
  background: var(--paper-high);
  border: 1.5px solid var(--ink);
  transform: rotate(45deg);
}

.axis {
  display: flex;
  justify-content: space-between;
  font-size: 11px;
}
</style>
