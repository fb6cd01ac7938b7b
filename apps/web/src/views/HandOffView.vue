<script setup lang="ts">
import Trouble from '../components/Trouble.vue';
import { fileStem, NAME_PARTS, PROFILES, profileOf, type ProfileId } from '@lithe-sieve/core';
import { computed, ref, watch } from 'vue';
import { useKeys } from '../actions/keys';
import HandOffReport from '../features/handoff/HandOffReport.vue';
import { inMegabytes } from '../components/megabytes';
import { useHandOff } from '../features/handoff/use-hand-off';
import LostPiece from '../features/stock/LostPiece.vue';
import SnagList from '../features/sieve/SnagList.vue';
import { useEngineStore } from '../stores/engine.store';
import { usePieceStore } from '../stores/piece.store';
import { useSavingStore } from '../stores/saving.store';
import { useOpenPiece } from './use-open-piece';

const props = defineProps<{ id: string }>();
const piece = usePieceStore();
const engine = useEngineStore();
const saving = useSavingStore();
const { failure } = useOpenPiece(() => props.id);
const { job, running, waiting, remark, refused, write, cancel } = useHandOff(() => props.id);
const sizes = ref<number[]>([]);

const profile = computed(() => profileOf(piece.doc?.handOff.profile ?? 'glb'));
const names = computed(() => {
  const { doc } = piece;
  const { size } = engine;
  return doc && size ? profile.value.files.map((f) => `${fileStem(doc, f.slot, size)}.${f.extension}`) : [];
});
/** Of the revision that the server holds: the address changes with it, so that no older picture is shown. */
const picture = computed(() =>
  saving.state.kind === 'saved' ? `/api/pieces/${piece.id}/picture.png?revision=${piece.revision()}` : '',
);
/** A report of an older state of the piece says so. */
const outdated = computed(() => {
  const written = job.value?.report?.revision;
  return written !== undefined && (saving.state.kind !== 'saved' || written !== piece.revision());
});

function setProfile(id: ProfileId): void {
  piece.edit(`Profile: ${profileOf(id).label}`, (doc) => ({ ...doc, handOff: { ...doc.handOff, profile: id } }));
}
function setPattern(pattern: string): void {
  if (pattern) piece.edit(`Names: ${pattern}`, (doc) => ({ ...doc, handOff: { ...doc.handOff, pattern } }));
}

// sizes are estimated once the result is there in full
watch(
  () => [engine.busy, engine.maps, profile.value.id] as const,
  async ([busy, maps, id]) => {
    sizes.value = [];
    if (busy || !maps) return;
    const estimated = await engine.engine().estimate(id);
    if (profile.value.id === id) sizes.value = estimated;
  },
  { immediate: true },
);

useKeys('Hand-off', [{ key: 'Enter', label: 'Write the files', run: () => void write() }]);
</script>

<template>
  <LostPiece v-if="failure" :piece-id="id" :failure="failure" />
  <div v-else-if="piece.doc" class="hand-off">
    <section class="choose">
      <h2>How it is packed</h2>
      <div role="radiogroup" aria-label="Profile">
        <label v-for="p in PROFILES" :key="p.id" class="profile" :class="{ on: p.id === profile.id }">
          <input
            type="radio"
            name="profile"
            :value="p.id"
            :checked="p.id === profile.id"
            :data-test="`profile-${p.id}`"
            @change="setProfile(p.id)"
          />
          <span
            ><strong>{{ p.label }}</strong
            ><span class="soft">{{ p.hint }}</span></span
          >
        </label>
      </div>
      <label class="pattern">
        <span>File names</span>
        <ElInput
          :model-value="piece.doc.handOff.pattern"
          aria-label="File name pattern"
          data-test="pattern"
          @change="setPattern"
        />
        <span class="soft">Parts: {{ NAME_PARTS.join('  ') }}</span>
      </label>
      <SnagList class="snags" />
    </section>
    <section class="write">
      <h2>What is written</h2>
      <div class="piece linen"><img v-if="picture" :src="picture" alt="" /></div>
      <table>
        <thead>
          <tr>
            <th>File</th>
            <th>Holds</th>
            <th class="number">About</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(file, i) in profile.files" :key="file.slot">
            <td>{{ names[i] }}</td>
            <td class="soft">{{ file.contents }}</td>
            <td class="number">{{ sizes[i] ? inMegabytes(sizes[i]) : '…' }}</td>
          </tr>
        </tbody>
      </table>
      <div v-if="running && job" class="progress" role="status">
        <span>{{ job.doing }}</span>
        <ElProgress :percentage="Math.round(job.progress * 100)" :stroke-width="8" />
        <ElButton size="small" data-test="cancel" @click="cancel">Cancel</ElButton>
      </div>
      <div v-else-if="waiting" class="progress" role="status">
        <span data-test="waiting">{{ waiting.reason }}</span>
        <ElButton size="small" data-test="cancel" @click="waiting = null">Cancel</ElButton>
      </div>
      <ElButton v-else type="primary" data-test="write" @click="write">Write and check</ElButton>
      <p v-if="remark" class="soft" role="status">{{ remark }}</p>
      <Trouble v-if="refused" :message="refused.message" :remedy="refused.remedy" closable @close="refused = null" />
      <Trouble v-if="job?.error && job.state === 'failed'" :message="job.error.message" :remedy="job.error.remedy" />
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

.profile {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin-bottom: 6px;
  padding: 8px 10px;
  border-left: 3px solid transparent;
  cursor: pointer;
}

.profile.on {
  border-color: var(--green);
  background: var(--green-pale);
}

.profile > span {
  display: grid;
}

.profile input {
  accent-color: var(--green);
}

.pattern {
  display: grid;
  gap: 4px;
  margin-top: 18px;
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

table {
  width: 100%;
  margin-bottom: 16px;
  border-collapse: collapse;
}

th {
  font-weight: 500;
  text-align: left;
  color: var(--ink-soft);
}

td,
th {
  padding: 4px 10px 4px 0;
  vertical-align: top;
  border-bottom: 1px solid var(--rule);
  overflow-wrap: anywhere;
}

.number {
  text-align: right;
  white-space: nowrap;
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
