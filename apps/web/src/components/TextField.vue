<script setup lang="ts">
import { ref, watch } from 'vue';

defineOptions({ inheritAttrs: false });
/** A line of text that is typed, and taken when it is left or Enter is pressed; Escape takes nothing. */
const props = withDefaults(
  defineProps<{
    modelValue: string;
    label: string;
    /** Why a text cannot be taken; '' where it can. */
    lack?: (text: string) => string;
  }>(),
  { lack: () => '' },
);
const emit = defineEmits<{ commit: [text: string] }>();

const typed = ref(props.modelValue);
watch(
  () => props.modelValue,
  (text) => (typed.value = text),
);

function onChange(): void {
  if (typed.value !== props.modelValue && !props.lack(typed.value)) emit('commit', typed.value);
}
</script>

<template>
  <span class="text-field">
    <ElInput
      v-model="typed"
      size="small"
      :aria-label="label"
      :aria-invalid="lack(typed) !== ''"
      v-bind="$attrs"
      @change="onChange"
      @keydown.escape.stop="typed = modelValue"
    />
    <span v-if="lack(typed)" class="lack" role="status">{{ lack(typed) }}</span>
  </span>
</template>

<style scoped>
.text-field {
  display: grid;
  gap: 2px;
}

.lack {
  color: var(--red);
}
</style>
