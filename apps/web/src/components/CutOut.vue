<script setup lang="ts">
/** A small picture with what its mask drops faded. */
import type { Mask, Picture } from '@lithe-sieve/core';
import { computed } from 'vue';
import { cutOut } from './cut-out';
import ThumbCanvas from './ThumbCanvas.vue';

const props = defineProps<{
  picture: Picture;
  mask: Mask;
  /** Where it differs from this one is tinted. */
  other?: Mask | null;
}>();
const thumb = computed(() => cutOut(props.picture, props.mask, props.other));
</script>

<template>
  <ThumbCanvas class="cut-out" :thumb="thumb" />
</template>

<style scoped>
.cut-out {
  width: 100%;
  max-height: 66px;
  border-radius: 3px;
  background: rgb(128 128 128);
  object-fit: contain;
}
</style>
