<script setup lang="ts">
// Bytes beside what they may be at the most, which a person sets.
import { computed } from 'vue';
import { inMegabytes } from '../../components/megabytes';
import NumberField from '../../components/NumberField.vue';

const props = defineProps<{ bytes: number; most: number | undefined; what: string }>();
const emit = defineEmits<{ most: [bytes: number | undefined] }>();

const MB = 1e6;
const over = computed(() => (props.most === undefined ? 0 : Math.max(0, props.bytes - props.most)));
const share = computed(() => Math.min(1, props.bytes / (props.most ?? props.bytes)));
</script>

<template>
  <div class="budget" :class="{ over: over > 0 }" :data-test="`budget-${what === 'on disk' ? 'disk' : 'card'}`">
    <p>
      <strong>{{ bytes > 0 ? inMegabytes(bytes) : '…' }}</strong> {{ what }}
      <span v-if="over > 0" role="status">{{ inMegabytes(over) }} too much</span>
    </p>
    <div v-if="most !== undefined" class="meter" aria-hidden="true"><i :style="{ width: `${100 * share}%` }" /></div>
    <div class="most">
      <ElCheckbox
        :model-value="most !== undefined"
        size="small"
        @change="emit('most', $event ? Math.max(MB, Math.ceil(bytes / MB) * MB) : undefined)"
        >at the most</ElCheckbox
      >
      <NumberField
        v-if="most !== undefined"
        :model-value="most / MB"
        :min="0.001"
        :max="100000"
        :digits="3"
        :label="`At the most ${what}, MB`"
        @commit="emit('most', $event * MB)"
      />
      <span v-if="most !== undefined" class="soft">MB</span>
    </div>
  </div>
</template>

<style scoped>
.budget {
  width: 220px;
  font-size: 12.5px;
}

.meter {
  height: 6px;
  margin: 3px 0;
  border-radius: 3px;
  background: var(--rule);
}

.meter i {
  display: block;
  height: 100%;
  border-radius: 3px;
  background: var(--green);
}

.over .meter i {
  background: var(--amber);
}

.over span[role='status'] {
  padding-left: 6px;
  border-left: 3px solid var(--amber);
  font-weight: 600;
}

.most {
  display: flex;
  gap: 6px;
  align-items: center;
  height: 24px;
}

.most :deep(.el-input-number) {
  width: 84px;
}
</style>
