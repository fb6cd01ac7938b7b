<script setup lang="ts">
import type { FromStrokesParams, Scribble, StepEntry } from '@lithe-sieve/core';
import { computed, ref, watch } from 'vue';
import { startingRadius } from '../../../actions/run-actions';
import NumberSlider from '../../../components/NumberSlider.vue';
import { useBenchStore } from '../../../stores/bench.store';
import { useEngine } from '../../../stores/open-piece/open-piece';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: Partial<FromStrokesParams>, what: string] }>();
const bench = useBenchStore();
const engine = useEngine();

const strokes = computed(() => (props.step.params as FromStrokesParams).strokes);
const count = (effect: Scribble['effect']) => strokes.value.filter((s) => s.effect === effect).length;
const radius = ref(startingRadius(engine.size));
const isPicking = (effect: Scribble['effect']) =>
  bench.picking?.gives === 'scribble' && bench.picking.stepId === props.step.id && bench.picking.effect === effect;

function scribble(effect: Scribble['effect']): void {
  bench.picking = isPicking(effect) ? null : { gives: 'scribble', stepId: props.step.id, effect, radius: radius.value };
}
watch(radius, (value) => {
  if (bench.picking?.gives === 'scribble') bench.picking = { ...bench.picking, radius: value };
});
</script>

<template>
  <div class="tools">
    <ElButton
      v-for="effect in ['keep', 'drop'] as const"
      :key="effect"
      size="small"
      :type="isPicking(effect) ? 'primary' : 'default'"
      :aria-pressed="isPicking(effect)"
      :data-test="`scribble-${effect}`"
      @click="scribble(effect)"
      >{{ effect }} here ({{ count(effect) }})</ElButton
    >
    <ElButton
      size="small"
      :disabled="strokes.length === 0"
      @click="emit('commit', { strokes: strokes.slice(0, -1) }, 'one scribble less')"
      >Remove last</ElButton
    >
  </div>
  <NumberSlider
    label="Half width"
    hint="Texels to each side of the next scribble that are kept or dropped for sure."
    :model-value="radius"
    :min="0.5"
    :max="200"
    :digits="1"
    unit="texels"
    logarithmic
    @preview="radius = $event"
    @commit="radius = $event"
  />
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin-bottom: 10px;
}

.tools .el-button {
  margin: 0;
  padding: 4px 8px;
}
</style>
