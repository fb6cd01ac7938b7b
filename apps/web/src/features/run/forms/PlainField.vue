<script setup lang="ts">
import type { Range } from '@lithe-sieve/core';
import NumberSlider from '../../../components/NumberSlider.vue';
import { hexOf, rgbOf } from '../../../components/colours';
import type { AnyField, PlainFieldKind } from './fields';

/** A control that needs no more than the parameter it sets: a number, a choice, a colour, a switch. */
defineProps<{
  field: AnyField & { as: PlainFieldKind };
  params: Record<string, never>;
  /** Range of a number. */
  range: Range | undefined;
}>();
const emit = defineEmits<{ preview: [params: object]; commit: [params: object, what: string] }>();
</script>

<template>
  <NumberSlider
    v-if="field.as === 'number' && range"
    v-bind="range"
    :label="field.label"
    :hint="field.hint"
    :zero="field.zero"
    :model-value="params[field.name] ?? range.min"
    @preview="emit('preview', { [field.name]: $event })"
    @commit="emit('commit', { [field.name]: $event }, `${field.label.toLowerCase()} ${$event}`)"
  />
  <div v-else-if="field.as === 'choice'" class="field" :class="{ wide: field.list }">
    <span>{{ field.label }}</span>
    <ElSelect
      v-if="field.list"
      :model-value="params[field.name]"
      size="small"
      :aria-label="field.label"
      :data-test="field.name"
      @change="emit('commit', { [field.name]: $event }, `${$event}`)"
    >
      <ElOption v-for="o in field.options" :key="o" :value="o" :label="field.names?.[o] ?? o" />
    </ElSelect>
    <ElSegmented
      v-else
      :model-value="params[field.name]"
      :options="[...field.options]"
      size="small"
      :aria-label="field.label"
      @change="emit('commit', { [field.name]: $event }, `${field.label.toLowerCase()} ${$event}`)"
    />
  </div>
  <label v-else-if="field.as === 'colour'" class="field">
    <span>{{ field.label }}</span>
    <input
      type="color"
      :value="hexOf(params[field.name])"
      @change="
        emit('commit', { [field.name]: rgbOf(($event.target as HTMLInputElement).value) }, field.label.toLowerCase())
      "
    />
  </label>
  <ElCheckbox
    v-else-if="field.as === 'toggle'"
    :model-value="params[field.name]"
    size="small"
    class="toggle"
    @change="emit('commit', { [field.name]: $event }, `${field.label.toLowerCase()} ${$event ? 'on' : 'off'}`)"
    >{{ field.label }}</ElCheckbox
  >
</template>

<style scoped>
.field {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 4px;
  margin: 6px 0 10px;
}

.toggle {
  margin: 2px 0 8px;
}

.field.wide {
  display: grid;
  justify-content: stretch; /* else the list is as narrow as its words */
}
</style>
