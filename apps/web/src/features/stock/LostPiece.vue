<script setup lang="ts">
import { useRouter } from 'vue-router';
import type { ApiError } from '../../api/http';
import { salvageAddress } from '../../api/pieces.api';

/** In the place of a piece that cannot be opened. */
const router = useRouter();
defineProps<{ pieceId: string; failure: ApiError }>();
</script>

<template>
  <div class="in-the-middle" role="alert">
    <h1>{{ failure.message }}</h1>
    <p class="soft">{{ failure.remedy }}</p>
    <p v-if="failure.code === 'unreadable-piece'"><a :href="salvageAddress(pieceId)">Copy it out</a></p>
    <ElButton type="primary" @click="router.push('/')">To the Stock</ElButton>
  </div>
</template>

<style scoped>
h1 {
  font-size: 15px;
  font-weight: 600;
}

a {
  color: var(--green);
  font-weight: 600;
}
</style>
