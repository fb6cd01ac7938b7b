<script setup lang="ts">
import type { FromPieceParams, StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBringInStore } from '../../../stores/bring-in.store';
import { usePieceStore } from '../../../stores/piece.store';
import { useOtherMasks } from './other-masks';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: object, what: string] }>();
const piece = usePieceStore();
const bringIn = useBringInStore();
const { others, find, busy, trouble, take } = useOtherMasks();

const source = computed(() => piece.sources.find((s) => s.id === (props.step.params as FromPieceParams).sourceId));

/** The mask becomes a source here. */
const choose = (id: string) =>
  take(id, async (file) => {
    const sourceId = await bringIn.asSource(file);
    if (sourceId) emit('commit', { sourceId }, `the mask of ${others.value.find((p) => p.id === id)?.name}`);
  });
</script>

<template>
  <label class="field">
    <span>Take the mask of</span>
    <ElSelect
      :model-value="source?.fileName.replace(/, mask\.png$/, '') ?? ''"
      size="small"
      aria-label="Take the mask of"
      placeholder="choose a piece"
      no-data-text="There is no other piece yet."
      data-test="piece"
      filterable
      remote
      :remote-method="find"
      :loading="busy"
      @change="choose"
    >
      <ElOption v-for="p in others" :key="p.id" :value="p.id" :label="p.name" />
    </ElSelect>
  </label>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
  <p class="soft">It stays as it is now. Choose it again to update it.</p>
</template>

<style scoped>
.field {
  display: grid;
  gap: 4px;
  margin-bottom: 6px;
}
</style>
