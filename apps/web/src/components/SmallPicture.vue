<script setup lang="ts">
/** A picture beside a name in a list; an empty place while there is none. */
defineProps<{ src: string | null }>();
</script>

<template>
  <img v-if="src" class="small-picture" :src="src" alt="" loading="lazy" />
  <i v-else class="small-picture" />
</template>

<style scoped>
.small-picture {
  width: 34px;
  height: 34px;
  object-fit: contain;
  border-radius: 3px;
  background: var(--paper-deep);
}
</style>
