<script setup lang="ts">
import type { StepEntry, TexelAt } from '@lithe-sieve/core';
import { Crosshair } from 'lucide-vue-next';
import { computed } from 'vue';
import { useBenchStore } from '../../../stores/bench.store';

const props = defineProps<{ step: StepEntry; list: 'at' | 'from'; label: string; none: string }>();
const emit = defineEmits<{ commit: [params: object, what: string] }>();
const bench = useBenchStore();

const touches = computed(() => (props.step.params as Record<string, TexelAt[]>)[props.list]);
const picking = computed(() => bench.picking?.gives === 'texel' && bench.picking.stepId === props.step.id);

function toggle(): void {
  bench.picking = picking.value ? null : { gives: 'texel', stepId: props.step.id, list: props.list };
}
</script>

<template>
  <div class="touches">
    <span>{{ label }}</span>
    <p class="soft">{{ touches.length === 0 ? none : touches.map((t) => t.join(', ')).join('; ') }}</p>
    <div class="tools">
      <ElTooltip
        :trigger-keys="[]"
        content="Then touch the picture on the Sheet, or press Enter there for its middle; Esc ends it"
      >
        <ElButton
          size="small"
          :type="picking ? 'primary' : 'default'"
          :aria-pressed="picking"
          data-test="touch"
          @click="toggle"
        >
          <Crosshair :size="13" />&nbsp;{{ picking ? 'Touch the Sheet' : 'Add a point' }}
        </ElButton>
      </ElTooltip>
      <ElButton
        size="small"
        :disabled="touches.length === 0"
        @click="emit('commit', { [list]: touches.slice(0, -1) }, 'one point less')"
        >Remove last</ElButton
      >
    </div>
  </div>
</template>

<style scoped>
.touches {
  margin-bottom: 10px;
}

p {
  margin: 2px 0 5px;
}

.tools {
  display: flex;
  gap: 5px;
}

.tools .el-button {
  margin: 0;
  padding: 4px 8px;
}
</style>
