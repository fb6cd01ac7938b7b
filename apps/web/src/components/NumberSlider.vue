<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import NumberField from './NumberField.vue';

const props = withDefaults(
  defineProps<{
    modelValue: number;
    label: string;
    /** What the control does to the picture. */
    hint: string;
    min: number;
    max: number;
    step?: number;
    /** Digits after the point in the typed field. */
    digits?: number;
    unit?: string;
    /** What 0 stands for, where it is no amount. */
    zero?: string;
    /** Slides over powers instead of steps. */
    logarithmic?: boolean;
  }>(),
  { step: 0.01, digits: 2, unit: '', zero: '', logarithmic: false },
);
const emit = defineEmits<{
  /** While it is dragged. */
  preview: [value: number];
  /** When the gesture ends, or a number was typed. */
  commit: [value: number];
}>();

const dragged = ref<number | null>(null);
watch(
  () => props.modelValue,
  () => (dragged.value = null),
);
const shown = computed(() => dragged.value ?? props.modelValue);
const shownUnit = computed(() => (shown.value === 0 && props.zero ? props.zero : props.unit));

const toTrack = (v: number) => (props.logarithmic ? Math.log(v / props.min) / Math.log(props.max / props.min) : v);
const fromTrack = (t: number) => (props.logarithmic ? props.min * Math.pow(props.max / props.min, t) : t);
const rounded = (v: number) => Number(v.toFixed(props.digits + (props.logarithmic ? 1 : 0)));

function onInput(track: number | number[]): void {
  dragged.value = rounded(fromTrack(track as number));
  emit('preview', dragged.value);
}

function onChange(track: number | number[]): void {
  emit('commit', rounded(fromTrack(track as number)));
  dragged.value = null;
}
</script>

<template>
  <div class="number-slider">
    <div class="line">
      <ElTooltip :trigger-keys="[]" :content="hint" placement="left" :show-after="350">
        <span class="label"
          >{{ label }}<span v-if="shownUnit" class="unit">{{ shownUnit }}</span></span
        >
      </ElTooltip>
      <NumberField
        :model-value="shown"
        :min="min"
        :max="max"
        :digits="digits"
        :label="`${label}${unit ? `, ${unit}` : ''}`"
        @commit="emit('commit', $event)"
      />
    </div>
    <ElSlider
      :model-value="toTrack(shown)"
      :min="logarithmic ? 0 : min"
      :max="logarithmic ? 1 : max"
      :step="logarithmic ? 0.005 : step"
      :show-tooltip="false"
      size="small"
      :aria-label="label"
      @input="onInput"
      @change="onChange"
    />
  </div>
</template>

<style scoped>
.number-slider {
  margin-bottom: 8px;
}

.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

.label {
  cursor: help;
}

.unit {
  margin-left: 5px;
  color: var(--ink-soft);
  font-size: 11px;
}

.line :deep(.el-input-number) {
  width: 62px;
}

.line :deep(.el-input__wrapper) {
  box-shadow: none;
  background: none;
  border-bottom: 1px solid var(--rule);
  border-radius: 0;
  padding: 0 2px;
}

.line :deep(.el-input__wrapper.is-focus) {
  border-bottom: 2px solid var(--green);
}

.line :deep(.el-input__inner) {
  text-align: right;
  color: var(--ink);
}

:deep(.el-slider) {
  --el-slider-height: 3px;
  --el-slider-button-size: 13px;
  --el-slider-button-wrapper-offset: -16px;
  height: 20px;
  padding: 0 6px;
}
</style>
