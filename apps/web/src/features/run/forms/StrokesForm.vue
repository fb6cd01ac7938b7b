<script setup lang="ts">
import type { StepEntry, StrokesParams } from '@lithe-sieve/core';
import { computed } from 'vue';
import HandTray from '../../hand/HandTray.vue';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: Partial<StrokesParams>, what: string] }>();

const count = computed(() => (props.step.params as StrokesParams).strokes.length);
</script>

<template>
  <HandTray />
  <p class="count" role="status" data-test="stroke-count">{{ count }} {{ count === 1 ? 'stroke' : 'strokes' }}</p>
  <ElButton size="small" :disabled="count === 0" @click="emit('commit', { strokes: [] }, 'all strokes deleted')"
    >Delete all strokes</ElButton
  >
</template>

<style scoped>
.count {
  margin: 10px 0 6px;
}
</style>
