<script setup lang="ts">
import {
  coverageAt,
  drawSilhouette,
  silhouetteSide,
  thresholdByte,
  type LevelSummary,
  type Material,
  type Silhouette,
} from '@lithe-sieve/core';
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import { useComparison } from '../../actions/comparison';
import { redrawWhenRestored } from '../../components/restored';
import { useBenchStore } from '../../stores/bench.store';
import { usePiece } from '../../stores/open-piece/open-piece';
import type { DrawnLevel } from '../../workers/clip.worker';

const props = defineProps<{
  levels: readonly LevelSummary[];
  /** What a target would make of the mask as it is: shown of the level under the pointer. */
  plain: readonly LevelSummary[];
  /** Each level as it is drawn, where that is not a hard clip. */
  drawn?: readonly DrawnLevel[] | null;
  /** The figures are not final. */
  provisional?: boolean;
}>();
/** The rung that shows the plain level; null: none. */
const compared = ref<number | null>(null);
const shownLevels = computed(() =>
  props.levels.map((level, i) => (i === compared.value ? (props.plain[i] ?? level) : level)),
);
const differs = computed(() => props.levels !== props.plain);
const piece = usePiece();
const bench = useBenchStore();
const { shown } = useComparison();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

const thresholdOf = (m: Material | null) => (m ? thresholdByte(m.cutoff, m.opacity) : 128);
const threshold = computed(() => thresholdOf(shown.value));
const saidThreshold = computed(() => thresholdOf(bench.showOther ? shown.value : piece.saidMaterial));

/** Drift worth a mark: more than this many percent of level 0's own coverage. */
const NOTABLE = 0.05;
/** CSS pixels: height of the pictures, least width of a rung (its figures), and the gap between two. */
const TALLEST = silhouetteSide(0);
const NARROWEST = 34;
const GAP = 3;

/** Where every rung stands, in CSS pixels: of the levels alone, so that a drag moves nothing. */
const places = computed(() => {
  let left = 0;
  return props.levels.map((level, i) => {
    const scale = silhouetteSide(i) / Math.max(level.width, level.height);
    const picture = { width: whole(level.width * scale), height: whole(level.height * scale) };
    const width = Math.max(NARROWEST, picture.width);
    const place = { left, width, picture };
    left += width + GAP;
    return place;
  });
});
const whole = (side: number) => Math.max(2, Math.round(side));
const width = computed(() => places.value.reduce((most, p) => Math.max(most, p.left + p.width), 1));

/** B, held to be compared, and the plain level under the pointer are clipped hard. */
const drawnAt = (i: number) => (i === compared.value || bench.showOther ? null : props.drawn?.[i]);

const rungs = computed(() => {
  const [first] = props.levels;
  const top = drawnAt(0)?.covered ?? (first ? coverageAt(first.counts, saidThreshold.value) : 0);
  return shownLevels.value.map((level, i) => {
    const coverage = drawnAt(i)?.covered ?? coverageAt(level.counts, saidThreshold.value);
    const drift = coverage - top;
    const percent = Math.abs(100 * drift).toFixed(1);
    const sign = percent === '0.0' ? '' : drift > 0 ? '+' : '−';
    return {
      width: level.width,
      size: `${level.width} × ${level.height}`,
      coverage: (100 * coverage).toFixed(1),
      drift: i === 0 ? '' : sign + percent,
      notable: Math.abs(drift) > NOTABLE * Math.max(top, 0.01),
    };
  });
});

/** Draws every rung clipped at the cutoff into one picture; from small samples, so that a drag stays within a frame. */
function draw(): void {
  if (!canvas.value) return;
  const ratio = window.devicePixelRatio;
  const [w, h] = [Math.round(width.value * ratio), Math.round(TALLEST * ratio)];
  if (canvas.value.width !== w || canvas.value.height !== h) Object.assign(canvas.value, { width: w, height: h });
  const image = new ImageData(w, h);
  const words = new Uint32Array(image.data.buffer);
  shownLevels.value.forEach((level, i) => {
    const picture = drawnAt(i)?.silhouette;
    drawRung(picture ? meanOf(picture) : clipped(level.silhouette), places.value[i], ratio, words, w, h);
  });
  canvas.value.getContext('2d')?.putImageData(image, 0, 0);
}

interface Grey {
  width: number;
  height: number;
  grey: Uint8Array;
}

function clipped(silhouette: Silhouette): Grey {
  const grey = new Uint8Array(silhouette.width * silhouette.height);
  drawSilhouette(silhouette, threshold.value, grey);
  return { width: silhouette.width, height: silhouette.height, grey };
}

function meanOf({ width, height, grid, samples }: Silhouette): Grey {
  const each = grid * grid;
  const grey = Uint8Array.from({ length: width * height }, (_, o) => {
    const own = samples.subarray(o * each, (o + 1) * each);
    return own.reduce((sum, v) => sum + v, 0) / each;
  });
  return { width, height, grey };
}

/** In the middle of its place, standing on the ground, magnified by the nearest texel. */
function drawRung(
  silhouette: Grey,
  { left, width, picture }: (typeof places.value)[number],
  ratio: number,
  words: Uint32Array,
  w: number,
  h: number,
): void {
  const [wide, tall] = [Math.round(picture.width * ratio), Math.round(picture.height * ratio)];
  const corner = (h - tall) * w + Math.round((left + (width - picture.width) / 2) * ratio);
  for (let y = 0; y < tall; y++) {
    const row = Math.floor((y * silhouette.height) / tall) * silhouette.width;
    for (let x = 0, o = corner + y * w; x < wide; x++, o++) {
      words[o] = 0xff000000 | (silhouette.grey[row + Math.floor((x * silhouette.width) / wide)] * 0x010101);
    }
  }
}

watch([shownLevels, threshold, () => props.drawn], () => void nextTick(draw), { immediate: true });
redrawWhenRestored(canvas, draw);

/** The rung under the pointer, by where it stands: the pictures are one canvas. */
function point(event: PointerEvent): void {
  if (!differs.value) return;
  const list = (event.currentTarget as HTMLElement).querySelector('ol')!;
  const x = event.clientX - list.getBoundingClientRect().left;
  const at = places.value.findIndex((p) => x >= p.left && x < p.left + p.width);
  compared.value = at > 0 || props.levels[0] !== props.plain[0] ? (at < 0 ? null : at) : null;
}
</script>

<template>
  <section class="ladder" aria-label="Coverage at every mip level">
    <h2>
      <span>At every mip level</span
      ><span class="soft">{{
        differs
          ? compared === null
            ? 'point at one to see it plain'
            : 'plain, under the pointer'
          : 'width, coverage in %, drift from level 0'
      }}</span>
    </h2>
    <div class="scroll" @pointermove="point" @pointerleave="compared = null">
      <canvas ref="canvas" aria-hidden="true" :style="{ width: `${width}px`, height: `${TALLEST}px` }" />
      <ol data-test="ladder" :class="{ provisional }" :style="{ gap: `${GAP}px` }">
        <li
          v-for="(r, i) in rungs"
          :key="i"
          :data-level="i"
          :class="{ compared: i === compared }"
          :style="{ width: `${places[i].width}px` }"
        >
          <button
            v-if="i > 0"
            :title="r.size"
            :aria-label="`${r.size}: coverage curve in the chart`"
            :aria-pressed="bench.curves.includes(i)"
            @click="bench.toggleCurve(i)"
          >
            {{ r.width }}
          </button>
          <span v-else :title="r.size">{{ r.width }}</span>
          <span>{{ r.coverage }}</span>
          <em :class="{ notable: r.notable }">{{ r.drift }}{{ r.notable ? '!' : '' }}</em>
        </li>
      </ol>
    </div>
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
  contain: strict;
}

h2 {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 24px;
  font-size: 12px;
  font-weight: 600;
}

h2 .soft {
  font-weight: 400;
}

.scroll {
  align-self: end;
  padding-bottom: 2px;
  overflow-x: auto;
}

canvas {
  display: block;
  margin-bottom: 4px;
}

ol {
  display: flex;
  margin: 0;
  padding: 0;
  list-style: none;
}

/* of a known size, so that new figures lay nothing else out */
li {
  display: grid;
  grid-auto-rows: 15px;
  flex: none;
  font-size: 11px;
  line-height: 15px;
  text-align: center;
  contain: layout;
}

button {
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  cursor: pointer;
}

button[aria-pressed='true'] {
  color: var(--green);
  font-weight: 650;
  text-decoration: underline;
}

li > * {
  height: 15px;
  contain: size layout;
}

li.compared {
  text-decoration: underline dotted;
}

em {
  font-style: normal;
  color: var(--ink-soft);
}

em.notable {
  color: var(--amber);
  font-weight: 600;
}

.provisional span,
.provisional em {
  color: inherit;
}
</style>
