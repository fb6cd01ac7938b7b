<script setup lang="ts">
import { onMounted, ref, useTemplateRef, watch } from 'vue';
import { sayAt } from './say-at';

/** A number that is typed. An empty field, or one that holds no number, means: as it was; what is taken instead is said. */
const props = defineProps<{ modelValue: number; label: string; min: number; max: number; digits: number }>();
const emit = defineEmits<{ commit: [value: number] }>();

/** Another field in its place shows the number again. */
const fields = ref(0);

const field = useTemplateRef<{ $el: HTMLElement }>('field');
const listen = () => field.value?.$el.addEventListener('change', hear, true); // before the field itself, which rounds it
onMounted(listen);
watch(field, listen);

function hear({ target }: Event): void {
  const { value: text, validity } = target as HTMLInputElement;
  const value = Number(text);
  if (validity.badInput || !Number.isFinite(value))
    sayAt(target as Element, `No number: it stays ${props.modelValue}.`);
  else if (text.trim() === '') sayAt(target as Element, `Empty: it stays ${props.modelValue}.`);
  else if (value < props.min) sayAt(target as Element, `${props.min} is the least: it was taken.`);
  else if (value > props.max) sayAt(target as Element, `${props.max} is the most: it was taken.`);
}

function onChange(value: number | null | undefined): void {
  if (typeof value !== 'number' || !Number.isFinite(value))
    fields.value++; // shows what it was
  else if (value !== props.modelValue) emit('commit', Math.min(props.max, Math.max(props.min, value)));
}
</script>

<template>
  <ElInputNumber
    ref="field"
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
