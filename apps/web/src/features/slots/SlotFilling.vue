<script setup lang="ts">
// What fills one slot: nothing, a value, another map, a picture, or a map of another piece.
import { EMISSION_MOST, MAP_NAMES, mapKind, type MapName } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { useMaterialActions } from '../../actions/material-actions';
import { useRunActions } from '../../actions/run-actions';
import { useSlotActions, type SlotRow } from '../../actions/slot-actions';
import type { AnyField } from '../run/forms/fields';
import FieldsForm from '../run/forms/FieldsForm.vue';
import { FIELDS } from '../run/forms/trays';
import type { OtherPiece } from '../stock/other-pieces';
import { useTakeOfPiece } from './take-of-piece';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';

const props = defineProps<{ row: SlotRow }>();
const piece = usePiece();
const engine = useEngine();
const bench = useBenchStore();
const takeOfPiece = useTakeOfPiece();
const run = useRunActions();
const material = useMaterialActions();
const slots = useSlotActions();

const NOTHING = 'nothing';
const AS_MADE = 'its own step';

const step = computed(() => slots.stepOf(props.row));
const isOwn = computed(() => step.value?.kind === props.row.kind);
const error = computed(() => engine.steps.find((s) => s.stepId === step.value?.id)?.error);

/** Which of the ways to fill it this is: the one whose first value the step has. */
const taking = computed(() => {
  const { takes, map } = props.row;
  if (!step.value?.on) return map === 'mask' ? AS_MADE : NOTHING;
  if (!isOwn.value) return AS_MADE;
  const params = step.value.params as { from?: string };
  return Object.keys(takes).find((name) => (takes[name] as { from?: string }).from === params.from) ?? AS_MADE;
});
const options = computed(() => {
  const { takes, map } = props.row;
  const names = [...(map === 'mask' ? [] : [NOTHING]), ...Object.keys(takes)];
  return [...names, ...(taking.value === AS_MADE ? [AS_MADE] : [])].map((value) => ({ value, label: value }));
});

/** The list stands above them, and what the map looks like is shown in the row. */
const fields = computed(() =>
  (FIELDS[props.row.kind] as readonly AnyField[]).filter(
    (f) => f.as !== 'histogram' && f.as !== 'note' && !('name' in f && f.name === 'from'),
  ),
);

function take(name: string): void {
  if (name === NOTHING) slots.empty(props.row);
  else if (name !== AS_MADE) slots.fill(props.row, props.row.takes[name], name);
}

const wanted = ref<MapName>(props.row.map);
const MAPS = MAP_NAMES.map((value) => ({ value, label: mapKind(value).label }));

const takeOf = (other: OtherPiece) => takeOfPiece(props.row, wanted.value, other);

const POLARITIES = [
  { value: 'opacity', label: 'opacity' },
  { value: 'transparency', label: 'transparency' },
];
</script>

<template>
  <div class="filling" :data-test="`filling-${row.map}`">
    <ListLine label="Filled by" :value="taking" :options="options" data-test="filled-by" @choose="take" />
    <ListLine
      v-if="row.map === 'mask'"
      label="Read as"
      :value="slots.isTransparency() ? 'transparency' : 'opacity'"
      :options="POLARITIES"
      data-test="polarity"
      @choose="slots.setPolarity($event === 'transparency')"
    />
    <TroubleNote v-if="step?.on && error" :message="error.message" :remedy="error.remedy" />
    <FieldsForm
      v-if="step?.on && isOwn"
      :key="step.id"
      :step="step"
      :fields="fields"
      @preview="run.previewParams(step, $event)"
      @commit="(params: object, what: string) => step && run.setParams(step, params, what)"
      @abandon="piece.abandon()"
    />
    <NumberSlider
      v-if="row.map === 'emission'"
      label="Strength"
      hint="Multiplies the light that it gives off: 1 is as bright as white paper in full light."
      :model-value="piece.material?.emission ?? 1"
      :min="0"
      :max="EMISSION_MOST"
      :step="0.1"
      @preview="material.preview({ emission: $event })"
      @commit="material.set({ emission: $event }, `emission ${$event}`)"
    />
    <button
      v-if="step"
      type="button"
      class="linked"
      data-test="slot-step"
      @click="bench.selection = { kind: 'step', id: step.id }"
    >
      Its step in the run
    </button>
    <ListLine label="Or take the" :value="wanted" :options="MAPS" data-test="wanted-map" @choose="wanted = $event" />
    <OtherPieceChoice label="of" beside said="Piece whose map is taken" test="slot-piece" shown="" :use="takeOf" />
  </div>
</template>

<style scoped>
.filling {
  padding: 2px 0 10px 8px;
  border-bottom: 1px solid var(--rule);
}
</style>
