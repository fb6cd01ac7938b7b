<script setup lang="ts">
import type { SourceRef, TuftParams } from '@lithe-sieve/core';
import { X } from 'lucide-vue-next';
import { useRecipeActions } from '../../actions/recipe-actions';

/** Blades that stay as they are while the others grow from another seed. */
const props = defineProps<{ source: SourceRef; params: TuftParams }>();
const actions = useRecipeActions();

function release(blade: number): void {
  const pinned = props.params.pinned.filter((p) => p.blade !== blade);
  actions.set(props.source, { pinned }, `blade ${blade + 1} released`);
}
</script>

<template>
  <details :open="params.pinned.length > 0">
    <summary>Pinned blades ({{ params.pinned.length }})</summary>
    <p class="soft">Touch a blade on the Sheet to pin it; drag it to move its root, its tip to turn and stretch it.</p>
    <ul>
      <li v-for="pin in params.pinned" :key="pin.blade">
        Blade {{ pin.blade + 1 }}
        <button :aria-label="`Release blade ${pin.blade + 1}`" @click="release(pin.blade)"><X :size="13" /></button>
      </li>
    </ul>
    <ElButton
      v-if="params.pinned.length > 1"
      size="small"
      @click="actions.set(source, { pinned: [] }, 'all blades released')"
      >Release all</ElButton
    >
  </details>
</template>

<style scoped src="./recipe-lists.css"></style>
