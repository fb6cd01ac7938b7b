<script setup lang="ts">
import type { ApiError } from '../../api/http';
import { salvageAddress } from '../../api/pieces.api';

/** In the place of a piece that cannot be opened. */
defineProps<{ pieceId: string; failure: ApiError }>();
</script>

<template>
  <div class="lost" role="alert">
    <p>{{ failure.message }}</p>
    <p class="soft">{{ failure.remedy }}</p>
    <p v-if="failure.code === 'unreadable-piece'"><a :href="salvageAddress(pieceId)">Copy it out</a></p>
    <RouterLink to="/">To the Stock</RouterLink>
  </div>
</template>

<style scoped>
.lost {
  display: grid;
  gap: 10px;
  place-content: center;
  justify-items: center;
  height: 100%;
  max-width: 70ch;
  margin: 0 auto;
  text-align: center;
}

a {
  color: var(--green);
  font-weight: 600;
}
</style>
