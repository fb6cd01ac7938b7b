<script setup lang="ts">
import { CLIP_DRAWINGS, SAMPLE_COUNTS, type ClipDrawing } from '@lithe-sieve/core';
import ListLine from '../../components/ListLine.vue';
import { useMaterialActions } from '../../actions/material-actions';

defineProps<{ drawn: ClipDrawing }>();
const { setDrawn } = useMaterialActions();

const LABELS: Record<ClipDrawing['by'], string> = {
  hard: 'hard clip',
  hashed: 'hashed',
  ordered: 'ordered dither',
  coverage: 'alpha to coverage',
};
const HINTS: Record<ClipDrawing['by'], string> = {
  hard: 'Every pixel shows whole or not at all.',
  hashed: 'Each pixel shows as often as its alpha, with a grain that stays on the surface; the cutoff plays no part.',
  ordered: 'Each pixel shows by its alpha against a fixed pattern of the screen; the cutoff plays no part.',
  coverage: 'The edge, sharpened to a pixel around the cutoff, covers a number of its samples.',
};
const SAMPLES = SAMPLE_COUNTS.map((value) => ({ value, label: String(value) }));
</script>

<template>
  <ListLine
    label="Drawn as"
    :value="drawn.by"
    :options="CLIP_DRAWINGS.map((value) => ({ value, label: LABELS[value] }))"
    data-test="drawn"
    @choose="setDrawn({ by: $event }, LABELS[$event])"
  />
  <div v-if="drawn.by === 'coverage'" class="line">
    <span>Samples</span>
    <ElSegmented
      :model-value="drawn.samples"
      :options="SAMPLES"
      size="small"
      aria-label="Samples of a pixel"
      @change="setDrawn({ samples: $event as ClipDrawing['samples'] }, `${$event} samples`)"
    />
  </div>
  <p class="soft hint">{{ HINTS[drawn.by] }}</p>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}
</style>
