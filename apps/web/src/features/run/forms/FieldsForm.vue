<script setup lang="ts">
import { stepKind, type Range, type StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import { isPlain, type AnyField } from './fields';
import CurveEditor from './CurveEditor.vue';
import FoundPlaces from './FoundPlaces.vue';
import LightList from './LightList.vue';
import MapHistogram from './MapHistogram.vue';
import RampEditor from './RampEditor.vue';
import SourceChoice from './SourceChoice.vue';
import CutByPiece from './CutByPiece.vue';
import PieceChoice from './PieceChoice.vue';
import PlainField from './PlainField.vue';
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
const shown = computed(() => props.fields.filter((f) => f.when?.(params.value, props.step.version ?? 1) ?? true));
const rangeOf = (name: string): Range => (stepKind(props.step.kind).ranges as Record<string, Range>)[name];
</script>

<template>
  <template v-for="(field, i) in shown" :key="i">
    <PlainField
      v-if="isPlain(field)"
      :field="field"
      :params="params"
      :range="'name' in field ? rangeOf(field.name) : undefined"
      @preview="emit('preview', $event)"
      @commit="(p, what) => emit('commit', p, what)"
    />
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
    <CutByPiece v-else-if="field.as === 'cut by'" :step="step" @commit="(p, what) => emit('commit', p, what)" />
    <ScribbleList v-else-if="field.as === 'scribbles'" :step="step" @commit="(p, what) => emit('commit', p, what)" />
    <CurveEditor
      v-else-if="field.as === 'curve'"
      :label="field.label"
      :points="params[field.name] ?? []"
      @preview="emit('preview', { [field.name]: $event })"
      @commit="emit('commit', { [field.name]: $event }, field.label.toLowerCase())"
      @abandon="emit('abandon')"
    />
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
