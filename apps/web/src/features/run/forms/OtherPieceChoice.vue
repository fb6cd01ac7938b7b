<script setup lang="ts">
import { useOtherPieces, type OtherPiece } from './other-pieces';

/** Another piece of the Stock to choose. */
const props = defineProps<{
  label: string;
  /** What stands in the field. */
  shown: string;
  /** What is done with the piece that is chosen; what it throws is said here. */
  use: (other: OtherPiece) => Promise<void>;
}>();
const { others, find, busy, trouble, take } = useOtherPieces();
</script>

<template>
  <label class="field">
    <span>{{ label }}</span>
    <ElSelect
      :model-value="shown"
      size="small"
      :aria-label="label"
      placeholder="choose a piece"
      no-data-text="There is no other piece yet."
      data-test="piece"
      filterable
      remote
      :remote-method="find"
      :loading="busy"
      @change="(id: string) => take(id, props.use)"
    >
      <ElOption v-for="p in others" :key="p.id" :value="p.id" :label="p.name" />
    </ElSelect>
  </label>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.field {
  display: grid;
  gap: 4px;
  margin-bottom: 6px;
}
</style>
