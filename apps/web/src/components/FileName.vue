<script setup lang="ts">
import { computed } from 'vue';

/** A file name that breaks between its words and before its ending, not inside them. */
const props = defineProps<{ name: string }>();
const parts = computed(() => props.name.split(/(?<=[_\- ])|(?=\.[a-z0-9]+$)/i));
</script>

<template>
  <template v-for="(part, i) in parts" :key="i"><wbr v-if="i > 0" />{{ part }}</template>
</template>
