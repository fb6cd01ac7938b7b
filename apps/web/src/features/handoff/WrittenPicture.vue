<script setup lang="ts">
// One file, large: as it was written, as the Bench has it, and where the two differ.
import { filesOf, formatOf, isPicture, type FilePlan } from '@lithe-sieve/core';
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue';
import { useKeys } from '../../actions/keys';
import { fileView } from '../../api/handoffs.api';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { Thumb } from '../../workers/types';
import { levelState, thumbOf } from './level-state';
import { differenceOf, pixelsOf } from './written-pixels';

const props = defineProps<{
  /** Its place in what the profile writes. */
  at: number;
  name: string;
  /** The hand-off that wrote it, and its place there; null: not written yet, or the piece has changed since. */
  written: { job: string; index: number } | null;
}>();
const piece = usePiece();
const engine = useEngine();
const clip = useClip();

/** As large as the server shows a file. */
const SIDE = 2048;
/** Distances are reckoned here and now: of so many texels in a moment. */
const FIELD_SIDE = 512;
const WAYS = ['as written', 'Bench', 'difference'] as const;
const way = ref<(typeof WAYS)[number]>('Bench');
const oneToOne = ref(false);
useKeys('Hand-off', [{ key: '1', label: 'One texel to a pixel, or fitted', run: () => (oneToOne.value = !oneToOne.value) }]); // prettier-ignore

const plan = computed((): FilePlan | undefined => (piece.doc ? filesOf(piece.doc)[props.at] : undefined));
const bench = computed((): Thumb | null => {
  const isField = plan.value && isPicture(plan.value) && plan.value.divisor;
  const state = levelState(engine, isField ? FIELD_SIDE : SIDE, clip.shown?.held ? clip.shown.levels : []);
  if (!state || !plan.value || !piece.doc) return null;
  const raster = formatOf(plan.value).picture(plan.value, state, piece.doc);
  return raster && thumbOf(raster);
});

const read = shallowRef<Thumb | null>(null);
const trouble = ref('');
let asked = 0;
onScopeDispose(() => asked++);
watch(
  () => [props.written?.job, props.written?.index] as const,
  async ([job, index]) => {
    const mine = ++asked;
    read.value = null;
    trouble.value = '';
    way.value = job === undefined ? 'Bench' : 'as written';
    if (job === undefined || index === undefined) return;
    try {
      const pixels = await pixelsOf(await fileView(job, index));
      if (mine === asked) read.value = pixels;
    } catch (error) {
      if (mine === asked) trouble.value = (error as Error).message;
    }
  },
  { immediate: true },
);

const difference = computed(() => (read.value && bench.value ? differenceOf(read.value, bench.value) : null));
const shown = computed(() => ({ 'as written': read.value, Bench: bench.value, difference: difference.value?.thumb ?? null })[way.value]); // prettier-ignore
const words = computed(() => {
  if (trouble.value) return trouble.value;
  if (!props.written) return 'not written yet';
  if (!difference.value) return read.value && bench.value ? 'compared where it was read back' : '';
  const { texels, largest } = difference.value;
  return texels === 0 ? '0 texels differ' : `${texels} texels differ, by ${largest} of 255 at the most`;
});
const size = computed(() => shown.value && `${shown.value.width} × ${shown.value.height}`);
</script>

<template>
  <section class="picture" aria-label="The file, large">
    <ElSegmented
      v-model="way"
      class="ways"
      size="small"
      :options="WAYS.map((value) => ({ value, label: value, disabled: value !== 'Bench' && !read }))"
      aria-label="What is shown"
      data-test="shown-way"
    />
    <div class="room" :class="{ whole: oneToOne }" tabindex="0">
      <ThumbCanvas v-if="shown" :thumb="shown" data-test="written-picture" />
      <p v-else>{{ bench ? '' : 'It holds no picture, or is being computed.' }}</p>
    </div>
    <footer>
      <span>{{ name }}</span>
      <span>{{ size }}</span>
      <button type="button" :aria-pressed="oneToOne" data-test="one-to-one" @click="oneToOne = !oneToOne">1 : 1</button>
      <span role="status" data-test="texels-differ">{{ words }}</span>
    </footer>
  </section>
</template>

<style scoped>
.picture {
  position: relative;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-width: 0;
  padding: 0;
  background: var(--surround);
}

.ways {
  position: absolute;
  z-index: 1;
  top: 10px;
  left: 10px;
}

.room {
  display: grid;
  place-items: center;
  min-height: 0;
  overflow: hidden;
}

.room canvas {
  max-width: 100%;
  max-height: 100%;
  min-width: 0;
  min-height: 0;
  object-fit: contain;
}

.room.whole {
  place-items: start;
  overflow: auto;
}

.room.whole canvas {
  max-width: none;
  max-height: none;
  image-rendering: pixelated;
}

.room p {
  color: #ffffff;
}

footer {
  display: flex;
  gap: 14px;
  align-items: center;
  padding: 6px 12px;
  background: #2c2e2e;
  color: #ffffff;
  font-size: 12px;
}

footer span:last-child {
  margin-left: auto;
}

footer span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

footer button {
  padding: 1px 7px;
  border: 1px solid #8a8c8c;
  border-radius: 3px;
  background: none;
  color: inherit;
  font: inherit;
  white-space: nowrap;
  cursor: pointer;
}

footer button[aria-pressed='true'] {
  background: #ffffff;
  color: #2c2e2e;
}
</style>
