<script setup lang="ts">
import type { PieceSummary } from '@lithe-sieve/contract';
import SmallPicture from '../../components/SmallPicture.vue';
import { pictureOf } from '../../stores/posters.store';
import { changedAt } from './piece-words';

/** A piece in a list to choose from: several may have one name. */
defineProps<{ piece: PieceSummary }>();
</script>

<template>
  <span class="option">
    <SmallPicture :src="piece.problem ? null : pictureOf(piece)" />
    <span
      >{{ piece.name || 'Untitled piece' }}<small>{{ changedAt(piece) }}</small></span
    >
  </span>
</template>

<style scoped>
.option {
  display: grid;
  grid-template-columns: 34px 1fr;
  gap: 8px;
  align-items: center;
  height: 100%;
}

small {
  display: block;
  color: var(--ink-soft);
}
</style>
