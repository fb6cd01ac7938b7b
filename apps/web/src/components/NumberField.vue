<script setup lang="ts">
import { ref } from 'vue';

/** A number that is typed. An empty field, or one that holds no number, means: as it was. */
const props = defineProps<{ modelValue: number; label: string; min: number; max: number; digits: number }>();
const emit = defineEmits<{ commit: [value: number] }>();

/** Another field in its place shows the number again. */
const fields = ref(0);

function onChange(value: number | null | undefined): void {
  if (typeof value !== 'number' || !Number.isFinite(value))
    fields.value++; // shows what it was
  else if (value !== props.modelValue) emit('commit', Math.min(props.max, Math.max(props.min, value)));
}
</script>

<template>
  <ElInputNumber
    :key="fields"
    :model-value="modelValue"
    :min="min"
    :max="max"
    :precision="digits"
    :controls="false"
    size="small"
    :aria-label="label"
    @change="onChange"
    @keydown.enter="($event.target as HTMLElement).blur()"
  />
</template>
