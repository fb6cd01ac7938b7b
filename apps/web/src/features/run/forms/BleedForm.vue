<script setup lang="ts">
import type { BleedParams } from '@lithe-sieve/core';
import NumberSlider from '../../../components/NumberSlider.vue';

defineProps<{ params: BleedParams }>();
const emit = defineEmits<{
  preview: [params: Partial<BleedParams>];
  commit: [params: Partial<BleedParams>, what: string];
}>();
</script>

<template>
  <NumberSlider
    label="Trust colour from alpha"
    hint="Texels at or above this alpha keep their own colour; all others take that of the nearest one that does. Raise it when backdrop still shows in the fringe."
    :model-value="params.trust"
    :min="0.01"
    :max="1"
    @preview="emit('preview', { trust: $event })"
    @commit="emit('commit', { trust: $event }, `trust from ${$event}`)"
  />
  <p class="soft">This does not follow the cutoff, so that trying cutoffs stays instant.</p>
</template>
