<script setup lang="ts">
import type { PieceSummary } from '@lithe-sieve/contract';
import { onMounted, useTemplateRef } from 'vue';

/** The place of a piece that was deleted just now, where that is taken back. */
defineProps<{ piece: PieceSummary; usedBy: readonly string[] }>();
defineEmits<{ restore: [] }>();

const undo = useTemplateRef<HTMLButtonElement>('undo');
onMounted(() => {
  if (document.activeElement === document.body) undo.value?.focus({ preventScroll: true }); // its bin had the focus
});
</script>

<template>
  <article role="status" data-test="gone">
    <p>
      <b>{{ piece.name || 'Untitled piece' }}</b> is deleted.
      <button ref="undo" class="undo-delete" @click="$emit('restore')">Undo</button>
    </p>
    <p v-if="usedBy.length > 0" class="soft" data-test="used-by">
      A copy of it is in {{ usedBy.join(', ') }}: the copies stay, but can no longer be updated.
    </p>
    <p class="soft">It can be restored in the Studio.</p>
  </article>
</template>

<style scoped>
article {
  display: grid;
  gap: 6px;
  align-content: center;
  height: 216px;
  padding: 18px;
  border: 1px dashed var(--rule);
  border-radius: 5px;
}

.undo-delete {
  border: 0;
  background: none;
  color: var(--green);
  font: inherit;
  font-weight: 650;
  text-decoration: underline;
  cursor: pointer;
}
</style>
