<script setup lang="ts">
import { focusTile } from '../../components/focus';
import { coverageAt, stepKind, thresholdByte, type StepEntry } from '@lithe-sieve/core';
import { Trash2 } from 'lucide-vue-next';
import { computed } from 'vue';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { AnyField } from './forms/fields';
import { FIELDS } from './forms/trays';
import TroubleNote from '../../components/TroubleNote.vue';
import FieldsForm from './forms/FieldsForm.vue';
import { FORMS } from './forms/forms';
import { useRunActions } from '../../actions/run-actions';

const props = defineProps<{ step: StepEntry }>();
const piece = usePiece();
const engine = useEngine();
const actions = useRunActions();

const kind = computed(() => stepKind(props.step.kind));
const fields = computed(() => FIELDS[props.step.kind] as readonly AnyField[] | undefined);
const report = computed(() => engine.steps.find((s) => s.stepId === props.step.id));

/** The newest version of the step, where this run was made with an earlier one. */
const newer = computed(() => ((props.step.version ?? 1) < (kind.value.version ?? 1) ? kind.value.version : null));

/** What the step has to say, from the full size once it is there. */
const notice = computed(() => engine.mask?.notices[props.step.id] ?? engine.maps?.notices[props.step.id]);

/** Kept share before and after the step, at the material's cutoff, from view size. */
const kept = computed(() => {
  const at = engine.steps.findIndex((s) => s.stepId === props.step.id);
  if (at < 0 || !piece.saidMaterial || kind.value.stretch !== 'mask') return null;
  const byte = thresholdByte(piece.saidMaterial.cutoff, piece.saidMaterial.opacity);
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
  const before = at === 0 ? 1 : coverageAt(engine.steps[at - 1].counts, byte);
  return { before: percent(before), after: percent(coverageAt(engine.steps[at].counts, byte)) };
});

function remove(): void {
  actions.remove(props.step);
  void focusTile();
}
</script>

<template>
  <h2>{{ kind.label }}</h2>
  <p class="soft hint">{{ kind.hint }}</p>
  <TroubleNote
    v-if="report?.error"
    :message="report.error.message"
    :remedy="report.error.remedy"
    data-test="step-error"
  />
  <p v-if="newer" class="newer" data-test="newer-version">
    There is a version {{ newer }}. {{ kind.better }}
    <button type="button" class="linked" @click="actions.takeNewest(step)">Use it</button>
  </p>
  <component
    :is="FORMS[step.kind]"
    v-if="FORMS[step.kind]"
    :key="step.id"
    :step="step"
    @preview="actions.previewParams(step, $event)"
    @commit="(params: object, what: string) => actions.setParams(step, params, what)"
  />
  <FieldsForm
    v-else-if="fields"
    :key="`${step.id} fields`"
    :step="step"
    :fields="fields"
    @preview="actions.previewParams(step, $event)"
    @commit="(params: object, what: string) => actions.setParams(step, params, what)"
    @abandon="piece.abandon()"
  />
  <p v-else class="soft">There is nothing to set.</p>
  <p v-if="notice" role="status" data-test="notice">{{ notice }}</p>
  <p v-if="kept" class="soft kept">Before this step {{ kept.before }} kept<br />After it {{ kept.after }}</p>
  <ElButton size="small" class="delete" @click="remove"><Trash2 :size="13" />&nbsp;Delete this step</ElButton>
</template>

<style scoped>
.hint {
  margin-bottom: 12px;
}

.kept {
  margin-top: 12px;
}

.delete {
  margin-top: 14px;
}
</style>
