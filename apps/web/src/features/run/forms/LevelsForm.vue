<script setup lang="ts">
import type { LevelsParams } from '@lithe-sieve/core';
import NumberSlider from '../../../components/NumberSlider.vue';

defineProps<{ params: LevelsParams }>();
const emit = defineEmits<{
  preview: [params: Partial<LevelsParams>];
  commit: [params: Partial<LevelsParams>, what: string];
}>();

const RAMPS = [
  { label: 'soft', value: 'soft' },
  { label: 'hard', value: 'hard' },
];
</script>

<template>
  <NumberSlider
    label="Black point"
    hint="Everything at or below this alpha is dropped whole."
    :model-value="params.black"
    :min="0"
    :max="1"
    @preview="emit('preview', { black: $event })"
    @commit="emit('commit', { black: $event }, `black point ${$event}`)"
  />
  <NumberSlider
    label="White point"
    hint="Everything at or above this alpha is kept whole."
    :model-value="params.white"
    :min="0"
    :max="1"
    @preview="emit('preview', { white: $event })"
    @commit="emit('commit', { white: $event }, `white point ${$event}`)"
  />
  <NumberSlider
    label="Gamma"
    hint="Above 1 the fringe keeps more, below 1 it drops more."
    :model-value="params.gamma"
    :min="0.1"
    :max="10"
    logarithmic
    @preview="emit('preview', { gamma: $event })"
    @commit="emit('commit', { gamma: $event }, `gamma ${$event}`)"
  />
  <div class="row">
    <span>Ramp</span>
    <ElSegmented
      :model-value="params.ramp"
      :options="RAMPS"
      aria-label="Ramp"
      @change="emit('commit', { ramp: $event as LevelsParams['ramp'] }, `${$event} ramp`)"
    />
  </div>
  <p class="soft">
    {{
      params.ramp === 'hard'
        ? 'Every texel is kept or dropped whole: no fringe is left.'
        : 'The fringe stays soft between the two points.'
    }}
  </p>
</template>

<style scoped>
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin: 6px 0;
}
</style>
