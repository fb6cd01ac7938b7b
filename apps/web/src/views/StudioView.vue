<script setup lang="ts">
import TroubleNote from '../components/TroubleNote.vue';
import type { Studio, StudioCheck } from '@lithe-sieve/contract';
import { onMounted, ref, shallowRef } from 'vue';
import type { ApiError } from '../api/http';
import { restorePiece } from '../api/pieces.api';
import { backStudioUp, checkStudio, freeStudio, lookAtStudio } from '../api/studio.api';
import { inMegabytes } from '../components/megabytes';

/** What takes room, and what keeps it safe. */
const studio = shallowRef<Studio | null>(null);
const failure = ref<ApiError | null>(null);
const doing = ref<'free' | 'restore' | 'back-up' | 'check' | null>(null);
const freed = ref('');
const checked = shallowRef<StudioCheck | null>(null);

const day = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
});
const count = new Intl.NumberFormat('en-GB');
const LOOK_AGAIN_MS = 1000;
const LABELS: Record<Studio['parts'][number]['what'], [label: string, one: string]> = {
  sources: ['Sources and their small copies', 'file'],
  'hand-offs': ['Files that were handed off', 'file'],
  history: ['History, for undo', 'change'],
  strokes: ['Strokes', 'stroke'],
  pictures: ['Pictures of the Stock', 'picture'],
};

async function attempt(what: typeof doing.value, work: () => Promise<void>): Promise<void> {
  if (doing.value) return;
  doing.value = what;
  failure.value = null;
  try {
    await work();
  } catch (error) {
    failure.value = error as ApiError;
  } finally {
    doing.value = null;
  }
}

const look = async () => void (studio.value = await lookAtStudio());
const free = () =>
  attempt('free', async () => {
    const { files, pieces, bytes } = await freeStudio();
    freed.value = `${count.format(files)} files and ${count.format(pieces)} deleted pieces are gone: ${inMegabytes(bytes)}.`;
    await look();
    // the room is given back behind it, bit by bit
    for (let last = Infinity; studio.value && studio.value.empty > 0 && studio.value.empty < last;) {
      last = studio.value.empty;
      await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
      await look();
    }
  });
const restore = ({ id }: Studio['deleted'][number]) =>
  attempt('restore', async () => {
    await restorePiece(id);
    await look();
  });
const backUp = () => attempt('back-up', async () => void (studio.value = await backStudioUp()));
const check = () => attempt('check', async () => void (checked.value = await checkStudio()));

onMounted(() => void look().catch((error: unknown) => (failure.value = error as ApiError)));
</script>

<template>
  <div class="studio">
    <h1>Studio</h1>
    <TroubleNote v-if="failure" :message="failure.message" :remedy="failure.remedy" />
    <p v-if="!studio && !failure" class="soft" role="status">Loading…</p>
    <div v-if="studio" class="parts">
      <section>
        <h2>Disk space</h2>
        <p>
          <b data-test="studio-bytes">{{ inMegabytes(studio.bytes) }}</b> in {{ studio.folder }};
          {{ inMegabytes(studio.left) }} are left on its disk. {{ count.format(studio.pieces) }} pieces.
        </p>
        <table>
          <tbody>
            <tr v-for="p in studio.parts" :key="p.what">
              <td>{{ LABELS[p.what][0] }}</td>
              <td class="number">{{ inMegabytes(p.bytes) }}</td>
              <td class="number soft">
                {{ count.format(p.count) }} {{ LABELS[p.what][1] }}{{ p.count === 1 ? '' : 's' }}
              </td>
            </tr>
            <tr>
              <td>Free space in the file</td>
              <td class="number">{{ inMegabytes(studio.empty) }}</td>
              <td />
            </tr>
          </tbody>
        </table>
        <h2>Unused</h2>
        <p>
          {{ count.format(studio.unnamed.count) }} files ({{ inMegabytes(studio.unnamed.bytes) }}) are no longer used by
          any piece, undo or hand-off. They are removed after {{ studio.keepDays }} days; old versions of followed files
          after minutes. Anything an undo can reach stays.
        </p>
        <ElButton :loading="doing === 'free'" :disabled="doing !== null" data-test="free" @click="free"
          >Remove now</ElButton
        >
        <p v-if="freed" role="status" data-test="freed">{{ freed }}</p>
        <p class="soft">Anything deleted in the last minute or added in the last hour stays.</p>
        <h2>Deleted pieces</h2>
        <p v-if="studio.deletedPieces === 0" class="soft">None.</p>
        <template v-else>
          <p>
            Kept for {{ studio.keepDays }} days.
            <template v-if="studio.deletedPieces > studio.deleted.length"
              >{{ count.format(studio.deletedPieces) }} in all; those deleted last are listed.</template
            >
          </p>
          <ul data-test="deleted">
            <li v-for="p in studio.deleted" :key="p.id">
              {{ p.name || 'Untitled piece' }} <span class="soft">{{ day.format(new Date(p.deletedAt)) }}</span>
              <ElButton size="small" :disabled="doing !== null" @click="restore(p)">Restore</ElButton>
            </li>
          </ul>
        </template>
      </section>
      <section>
        <h2>Backups</h2>
        <p v-if="studio.backupHours > 0">
          The studio is copied every {{ studio.backupHours }} hours if something changed. The two newest copies are kept
          in the folder “backups”.
        </p>
        <p v-else>No automatic backups (--backup-hours 0).</p>
        <TroubleNote
          v-if="studio.backupProblem"
          :message="studio.backupProblem.message"
          :remedy="studio.backupProblem.remedy"
        />
        <ul v-if="studio.backups.length > 0" data-test="backups">
          <li v-for="b in studio.backups" :key="b.name">
            {{ b.name }} <span class="soft">{{ inMegabytes(b.bytes) }}, {{ day.format(new Date(b.madeAt)) }}</span>
          </li>
        </ul>
        <p v-else class="soft">No backup yet.</p>
        <ElButton :loading="doing === 'back-up'" :disabled="doing !== null" data-test="back-up" @click="backUp"
          >Back up now</ElButton
        >
        <p class="soft">
          To restore one: stop the server, replace studio.sqlite with the copy, delete studio.sqlite-wal.
        </p>
        <h2>Check</h2>
        <p>Reads every stored file and compares its hash, and validates every document and history.</p>
        <ElButton :loading="doing === 'check'" :disabled="doing !== null" data-test="check" @click="check"
          >Check now</ElButton
        >
        <div v-if="checked" role="status" data-test="checked">
          <p>
            {{ count.format(checked.files) }} files, {{ count.format(checked.pieces) }} pieces,
            {{ count.format(checked.entries) }} changes and {{ count.format(checked.strokes) }} strokes checked:
            <b>{{ checked.found.length === 0 ? 'no problem found.' : `${checked.found.length} problems found.` }}</b>
          </p>
          <ul v-if="checked.found.length > 0" class="bad">
            <li v-for="line in checked.found" :key="line">{{ line }}</li>
          </ul>
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.studio {
  height: 100%;
  padding: 20px 28px 40px;
  overflow: auto;
}

h1 {
  margin-bottom: 16px;
  font-size: 22px;
  font-weight: 600;
}

h2 {
  margin: 0 0 8px;
  font-size: 15px;
  font-weight: 650;
}

section h2:not(:first-child) {
  margin-top: 30px;
}

.parts {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 48px;
  max-width: 1180px;
}

section > p {
  max-width: 62ch;
  margin-bottom: 10px;
}

.el-button + p,
.el-button + div {
  margin-top: 8px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

td {
  padding: 5px 10px 5px 0;
  border-bottom: 1px solid var(--rule);
}

.number {
  text-align: right;
  white-space: nowrap;
}

ul {
  margin: 0 0 12px;
  padding: 0;
  list-style: none;
}

li {
  padding: 3px 0;
  overflow-wrap: anywhere;
}

.bad li {
  padding-left: 8px;
  border-left: 3px solid var(--red);
}
</style>
