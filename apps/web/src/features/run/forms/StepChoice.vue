<script setup lang="ts">
import { stepKind, type StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import { usePiece } from '../../../stores/open-piece/open-piece';
import { stepLabel } from '../../../document/step-labels';

const props = defineProps<{ label: string; step: StepEntry; chosen: string }>();
const emit = defineEmits<{ choose: [id: string] }>();
const piece = usePiece();

/** Mask steps before this one, numbered as they stand in the strip. */
const earlier = computed(() =>
  piece.run
    .slice(
      0,
      piece.run.findIndex((s) => s.id === props.step.id),
    )
    .map((s, i) => ({ id: s.id, label: `${i + 1}. ${stepLabel(s)}`, mask: stepKind(s.kind).stretch === 'mask' }))
    .filter((s) => s.mask),
);
</script>

<template>
  <label class="field">
    <span>{{ label }}</span>
    <ElSelect
      :model-value="chosen"
      size="small"
      :aria-label="label"
      placeholder="choose an earlier step"
      data-test="with-step"
      no-data-text="No mask step stands before this one."
      @change="emit('choose', $event)"
    >
      <ElOption v-for="s in earlier" :key="s.id" :value="s.id" :label="s.label" />
    </ElSelect>
  </label>
</template>

<style scoped>
.field {
  display: grid;
  gap: 4px;
  margin-bottom: 12px;
}
</style>
