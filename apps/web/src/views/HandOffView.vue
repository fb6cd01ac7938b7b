<script setup lang="ts">
import TroubleNote from '../components/TroubleNote.vue';
import { computed, useTemplateRef } from 'vue';
import { useKeys } from '../actions/keys';
import FileTable from '../features/handoff/FileTable.vue';
import HandOffReport from '../features/handoff/HandOffReport.vue';
import PackChoice from '../features/handoff/PackChoice.vue';
import { useHandOff } from '../features/handoff/use-hand-off';
import LostPiece from '../features/stock/LostPiece.vue';
import SnagList from '../features/sieve/SnagList.vue';
import { usePiece } from '../stores/open-piece/open-piece';
import { useSavingStore } from '../stores/saving.store';
import { useFocusInside } from '../components/focus-inside';
import { useOpenPiece } from './use-open-piece';

const props = defineProps<{ id: string }>();
const piece = usePiece();
const saving = useSavingStore();
const { failure } = useOpenPiece(() => props.id);
const { job, running, waiting, remark, refused, write, cancel } = useHandOff(() => props.id);

/** The picture of the revision that the server holds: the address changes with it, so that no older picture is shown. */
const picture = computed(() =>
  saving.state.kind === 'saved' ? `/api/pieces/${piece.id}/picture.png?revision=${piece.revision()}` : '',
);
/** A report of an older state of the piece says so. */
const outdated = computed(() => {
  const written = job.value?.report?.revision;
  return written !== undefined && (saving.state.kind !== 'saved' || written !== piece.revision());
});

/** Its buttons come and go while files are written. */
const deed = useTemplateRef<HTMLElement>('deed');
useFocusInside(deed, () => (running.value || waiting.value !== null ? null : '[data-test=write]'));

useKeys('Hand-off', [{ key: 'Enter', label: 'Write the files', run: () => void write() }]);
</script>

<template>
  <LostPiece v-if="failure" :piece-id="id" :failure="failure" />
  <div v-else-if="piece.doc" class="hand-off">
    <section class="choose">
      <PackChoice :hand-off="piece.doc.handOff" />
      <SnagList class="snags" />
    </section>
    <section class="write">
      <h2>What is written</h2>
      <div class="piece linen"><img v-if="picture" :src="picture" alt="" /></div>
      <FileTable />
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
      </div>
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
    </section>
    <HandOffReport :job="job" :outdated="outdated" />
  </div>
</template>

<style scoped>
.hand-off {
  display: grid;
  grid-template-columns: 320px minmax(0, 1fr) minmax(320px, 0.9fr);
  height: 100%;
}

section {
  padding: 20px 24px;
  overflow-y: auto;
}

.hand-off > section + section {
  border-left: 1px solid var(--rule);
}

h2 {
  margin-bottom: 14px;
  font-size: 16px;
  font-weight: 650;
}

.snags {
  margin-top: 18px;
  padding: 12px 0 0;
  border-top: 1px solid var(--rule);
}

.piece {
  display: grid;
  place-items: center;
  height: 220px;
  margin-bottom: 16px;
  border-radius: 5px;
}

.piece img {
  max-width: 100%;
  max-height: 204px;
}

.deed:focus {
  outline: none;
}

.progress {
  display: grid;
  gap: 8px;
  justify-items: start;
}

.progress .el-progress {
  width: 100%;
}

.write .trouble {
  margin-top: 12px;
}
</style>
