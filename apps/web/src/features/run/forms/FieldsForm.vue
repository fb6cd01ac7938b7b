<script setup lang="ts">
import { stepKind, type Range, type StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import NumberSlider from '../../../components/NumberSlider.vue';
import type { AnyField } from './fields';
import { hexOf, rgbOf } from './colours';
import CurveEditor from './CurveEditor.vue';
import FoundPlaces from './FoundPlaces.vue';
import LightList from './LightList.vue';
import MapHistogram from './MapHistogram.vue';
import RampEditor from './RampEditor.vue';
import SourceChoice from './SourceChoice.vue';
import PieceChoice from './PieceChoice.vue';
import ScribbleList from './ScribbleList.vue';
import StepChoice from './StepChoice.vue';
import StrokesForm from './StrokesForm.vue';
import TouchList from './TouchList.vue';

const props = defineProps<{ step: StepEntry; fields: readonly AnyField[] }>();
const emit = defineEmits<{
  preview: [params: object];
  commit: [params: object, what: string];
  abandon: [];
}>();

const params = computed(() => props.step.params as Record<string, never>);
const shown = computed(() => props.fields.filter((f) => f.when?.(params.value) ?? true));
const rangeOf = (name: string): Range => (stepKind(props.step.kind).ranges as Record<string, Range>)[name];
</script>

<template>
  <template v-for="(field, i) in shown" :key="i">
    <NumberSlider
      v-if="field.as === 'number'"
      v-bind="rangeOf(field.name)"
      :label="field.label"
      :hint="field.hint"
      :model-value="params[field.name]"
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
    <SourceChoice
      v-else-if="field.as === 'source'"
      :label="field.label"
      :colour-too="field.colourToo"
      :source-id="params[field.name]"
      :fit="params['fit']"
      @source="emit('commit', { [field.name]: $event }, field.label.toLowerCase())"
      @fit="emit('commit', { fit: $event }, $event)"
    />
    <StepChoice
      v-else-if="field.as === 'step'"
      :label="field.label"
      :step="step"
      :chosen="params[field.name]"
      @choose="emit('commit', { [field.name]: $event }, field.label.toLowerCase())"
    />
    <FoundPlaces
      v-else-if="field.as === 'found'"
      :step="step"
      :words="field"
      @commit="(p, what) => emit('commit', p, what)"
    />
    <TouchList
      v-else-if="field.as === 'touches'"
      :step="step"
      :list="field.list"
      :label="field.label"
      :none="field.none"
      @commit="(p, what) => emit('commit', p, what)"
    />
    <PieceChoice v-else-if="field.as === 'piece'" :step="step" @commit="(p, what) => emit('commit', p, what)" />
    <ScribbleList v-else-if="field.as === 'scribbles'" :step="step" @commit="(p, what) => emit('commit', p, what)" />
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
    <CurveEditor
      v-else-if="field.as === 'curve'"
      :label="field.label"
      :points="params[field.name] ?? []"
      @preview="emit('preview', { [field.name]: $event })"
      @commit="emit('commit', { [field.name]: $event }, field.label.toLowerCase())"
      @abandon="emit('abandon')"
    />
    <ElCheckbox
      v-else-if="field.as === 'toggle'"
      :model-value="params[field.name]"
      size="small"
      class="toggle"
      @change="emit('commit', { [field.name]: $event }, `${field.label.toLowerCase()} ${$event ? 'on' : 'off'}`)"
      >{{ field.label }}</ElCheckbox
    >
    <RampEditor
      v-else-if="field.as === 'ramp'"
      :step="step"
      @preview="emit('preview', $event)"
      @commit="(p, what) => emit('commit', p, what)"
    />
    <LightList v-else-if="field.as === 'lights'" :step="step" @commit="(p, what) => emit('commit', p, what)" />
    <StrokesForm v-else-if="field.as === 'hand'" :step="step" @commit="(p, what) => emit('commit', p, what)" />
    <MapHistogram v-else-if="field.as === 'histogram'" :map="field.map" />
    <p v-else class="soft">{{ field.text(params) }}</p>
  </template>
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
