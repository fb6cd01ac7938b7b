<script setup lang="ts">
import type { FromStrokesParams, Scribble, StepEntry } from '@lithe-sieve/core';
import { computed, ref, watch } from 'vue';
import NumberSlider from '../../../components/NumberSlider.vue';
import { useBenchStore } from '../../../stores/bench.store';
import { useEngineStore } from '../../../stores/engine.store';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: Partial<FromStrokesParams>, what: string] }>();
const bench = useBenchStore();
const engine = useEngineStore();

const strokes = computed(() => (props.step.params as FromStrokesParams).strokes);
const count = (says: Scribble['says']) => strokes.value.filter((s) => s.says === says).length;
/** A two-hundredth of the picture is a handy width to begin with. */
const radius = ref(Math.max(1, Math.round(Math.max(engine.size?.width ?? 0, engine.size?.height ?? 0) / 200)));
const isPicking = (says: Scribble['says']) =>
  bench.picking?.gives === 'scribble' && bench.picking.stepId === props.step.id && bench.picking.says === says;

function scribble(says: Scribble['says']): void {
  bench.picking = isPicking(says) ? null : { gives: 'scribble', stepId: props.step.id, says, radius: radius.value };
}
watch(radius, (value) => {
  if (bench.picking?.gives === 'scribble') bench.picking = { ...bench.picking, radius: value };
});
</script>

<template>
  <div class="tools">
    <ElButton
      v-for="says in ['keep', 'drop'] as const"
      :key="says"
      size="small"
      :type="isPicking(says) ? 'primary' : 'default'"
      :aria-pressed="isPicking(says)"
      :data-test="`scribble-${says}`"
      @click="scribble(says)"
      >{{ says }} here ({{ count(says) }})</ElButton
    >
    <ElButton
      size="small"
      :disabled="strokes.length === 0"
      @click="emit('commit', { strokes: strokes.slice(0, -1) }, 'one scribble less')"
      >Last one off</ElButton
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
