<script setup lang="ts">
import { fileName, filesOf, isText, type FilePlan } from '@lithe-sieve/core';
import TroubleNote from '../components/TroubleNote.vue';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useKeys } from '../actions/keys';
import EarlierHandOffs from '../features/handoff/EarlierHandOffs.vue';
import HandOffBar from '../features/handoff/HandOffBar.vue';
import HandOffReport from '../features/handoff/HandOffReport.vue';
import HandOffVerdict from '../features/handoff/HandOffVerdict.vue';
import KeptFolder from '../features/handoff/KeptFolder.vue';
import PackChoice from '../features/handoff/PackChoice.vue';
import ProfileBar from '../features/handoff/ProfileBar.vue';
import TargetsShow from '../features/handoff/TargetsShow.vue';
import WhatIsWritten from '../features/handoff/WhatIsWritten.vue';
import WrittenText from '../features/handoff/WrittenText.vue';
import WrittenPicture from '../features/handoff/WrittenPicture.vue';
import { useNameFacts } from '../features/handoff/name-facts';
import { useHandOff } from '../features/handoff/use-hand-off';
import LostPiece from '../features/stock/LostPiece.vue';
import SnagList from '../features/sieve/SnagList.vue';
import { useEngine, usePiece } from '../stores/open-piece/open-piece';
import { useSavingStore } from '../stores/saving.store';
import { useFocusInside } from '../components/focus-inside';
import { useOpenPiece } from './use-open-piece';

const props = defineProps<{ id: string }>();
const piece = usePiece();
const engine = useEngine();
const saving = useSavingStore();
const { failure } = useOpenPiece(() => props.id);
const { job, running, waiting, remark, refused, write, cancel } = useHandOff(() => props.id);

/** A report of an older state of the piece says so. */
const outdated = computed(() => {
  const written = job.value?.report?.revision;
  return written !== undefined && (saving.state.kind !== 'saved' || written !== piece.revision());
});

/** Which of the files is shown large: at first one that holds a picture. */
const chosen = ref(0);
const hasPicture = (plan: FilePlan) => !isText(plan) && plan.extension !== 'bin';
watch(
  () => piece.doc?.handOff.profile,
  () => (chosen.value = Math.max(0, piece.doc ? filesOf(piece.doc).findIndex(hasPicture) : 0)),
  { immediate: true },
);
const chosenPlan = computed(() => piece.doc && filesOf(piece.doc)[chosen.value]);
/** Bytes of each file, as estimated. */
const disk = ref<(number | null)[]>([]);
const facts = useNameFacts();
const chosenName = computed(() => {
  const { doc } = piece;
  const plan = doc && filesOf(doc)[chosen.value];
  return plan && engine.size ? fileName(doc, plan, engine.size, facts.value) : '';
});
const chosenWritten = computed(() => {
  const index = job.value?.report?.files.findIndex((f) => f.name === chosenName.value) ?? -1;
  return job.value && index >= 0 && !outdated.value ? { job: job.value.id, index } : null;
});

/** Its buttons come and go while files are written. */
const deed = useTemplateRef<HTMLElement>('deed');
useFocusInside(deed, () => (running.value || waiting.value !== null ? null : '[data-test=write]'));

useKeys('Hand-off', [{ key: 'Enter', label: 'Write the files', run: () => void write() }]);
</script>

<template>
  <LostPiece v-if="failure" :piece-id="id" :failure="failure" />
  <div v-else-if="piece.doc" class="hand-off">
    <ProfileBar :doc="piece.doc" />
    <div class="columns">
      <div class="column">
        <WhatIsWritten :chosen="chosen" :disk="disk" @choose="chosen = $event" @sizes="disk = $event" />
        <PackChoice :doc="piece.doc" />
      </div>
      <WrittenText
        v-if="chosenPlan && !hasPicture(chosenPlan)"
        :name="chosenName"
        :readable="isText(chosenPlan)"
        :written="chosenWritten"
      />
      <WrittenPicture v-else :at="chosen" :name="chosenName" :written="chosenWritten" />
      <div class="column">
        <SnagList class="snags" />
        <TargetsShow :job="job" :outdated="outdated" />
        <HandOffReport class="report" :job="job" :outdated="outdated" />
        <EarlierHandOffs :piece-id="id" :job="job" />
        <KeptFolder :piece-id="id" />
      </div>
    </div>
    <HandOffBar :disk="disk">
      <HandOffVerdict v-if="job" :job="job" :outdated="outdated" />
      <div ref="deed" class="deed" tabindex="-1">
        <div v-if="running && job" class="progress" role="status">
          <span>{{ job.doing }}</span>
          <ElProgress :percentage="Math.round(job.progress * 100)" :stroke-width="8" />
          <ElButton size="small" data-test="cancel" @click="cancel">Cancel</ElButton>
        </div>
        <div v-else-if="waiting" class="progress" role="status">
          <span v-if="waiting.reason" data-test="waiting">{{ waiting.reason }}</span>
          <ElButton size="small" data-test="cancel" @click="waiting = null">Cancel</ElButton>
        </div>
        <ElButton v-else type="primary" data-test="write" @click="write">Write and check</ElButton>
        <p v-if="remark" class="soft" role="status">{{ remark }}</p>
        <TroubleNote
          v-if="refused"
          :message="refused.message"
          :remedy="refused.remedy"
          closable
          @close="refused = null"
        />
        <TroubleNote
          v-if="job?.error && job.state === 'failed'"
          :message="job.error.message"
          :remedy="job.error.remedy"
        />
        <p v-if="job?.state === 'cancelled'" class="soft" role="status">
          Cancelled. Nothing was written; earlier hand-offs are as they were.
        </p>
      </div>
    </HandOffBar>
  </div>
</template>

<style scoped>
.hand-off {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  height: 100%;
}

.columns {
  display: grid;
  grid-template-columns: minmax(340px, 1.1fr) minmax(0, 1.1fr) minmax(300px, 0.9fr);
  min-height: 0;
}

.column {
  padding: 12px 18px;
  overflow-y: auto;
}

.snags {
  margin-bottom: 10px;
  padding: 0 0 8px;
  border-bottom: 1px solid var(--rule);
}

.report {
  margin-top: 14px;
}

.deed {
  display: grid;
  flex: 1;
  gap: 4px;
  justify-items: end;
}

.deed:focus {
  outline: none;
}

.progress {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 4px 10px;
  align-items: center;
  width: 100%;
  max-width: 380px;
  font-size: 12.5px;
}

.progress span {
  grid-column: 1 / -1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
