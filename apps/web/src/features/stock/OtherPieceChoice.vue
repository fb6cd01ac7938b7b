<script setup lang="ts">
import PieceOption from './PieceOption.vue';
import { focusSettings } from '../../components/focus';
import { useOtherPieces, type OtherPiece } from './other-pieces';

/** Another piece of the Stock to choose. */
const props = withDefaults(
  defineProps<{
    label: string;
    /** Read out instead of the label, where that says too little by itself. */
    said?: string;
    test?: string;
    /** Whether the list stands beside the label. */
    beside?: boolean;
    /** What stands in the field. */
    shown: string;
    /** What is done with the piece that is chosen; what it throws is said here. */
    use: (other: OtherPiece) => Promise<void>;
  }>(),
  { said: '', test: 'piece', beside: false },
);
const { others, find, busy, trouble, take } = useOtherPieces();

function choose(id: string): void {
  void focusSettings(); // the search of the list would swallow the keys of the Bench
  void take(id, props.use);
}
</script>

<template>
  <label class="field" :class="{ beside }">
    <span>{{ label }}</span>
    <ElSelect
      :model-value="shown"
      size="small"
      :aria-label="said || label"
      placeholder="choose a piece"
      no-data-text="There is no other piece yet."
      :data-test="test"
      filterable
      remote
      :remote-method="find"
      :loading="busy"
      @change="choose"
    >
      <ElOption v-for="p in others" :key="p.id" :value="p.id" :label="p.name" class="piece-option">
        <PieceOption :piece="p" />
      </ElOption>
    </ElSelect>
  </label>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
</template>

<style>
.el-select-dropdown__item.piece-option {
  height: 40px;
  padding: 0 12px 0 8px;
  line-height: 1.25;
}
</style>

<style scoped>
.field {
  display: grid;
  gap: 4px;
  margin-bottom: 6px;
}

.field.beside {
  grid-template-columns: 64px 1fr;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
</style>
