<script setup lang="ts">
import TroubleNote from '../components/TroubleNote.vue';
import type { PieceSummary } from '@lithe-sieve/contract';
import { cutText, LIMITS } from '@lithe-sieve/core';
import { ElMessage, ElMessageBox } from 'element-plus';
import 'element-plus/theme-chalk/el-message-box.css';
import { Search, Sprout, Upload } from 'lucide-vue-next';
import { onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue';
import { useRouter } from 'vue-router';
import * as piecesApi from '../api/pieces.api';
import { diffDocs } from '../document/diff';
import DropArea from '../features/bringin/DropArea.vue';
import { useKeys } from '../actions/keys';
import GrowDialog from '../features/recipe/GrowDialog.vue';
import StockGrid from '../features/stock/StockGrid.vue';
import { useStock } from '../features/stock/use-stock';
import { useBenchStore } from '../stores/bench.store';
import { ACCEPTED, useBringInStore } from '../stores/bring-in.store';
import { filesOf } from '../stores/files';
import { useHelpStore } from '../stores/help.store';
import { useNoticesStore } from '../stores/notices.store';
import { useStorageStore } from '../stores/storage.store';
import { openPiece } from '../stores/open-piece/open-piece';

const router = useRouter();
const bench = useBenchStore();
const help = useHelpStore();
const bringIn = useBringInStore();
const notices = useNoticesStore();
const wanted = ref('');
const growing = ref(false);
const { total, found, failure, at, show, load, gone, remove, restore } = useStock(wanted);
const chooser = useTemplateRef<HTMLInputElement>('chooser');
const search = useTemplateRef<{ focus(): void }>('search');

onMounted(() => {
  sayWhatWasLeft();
  openPiece().close();
  useStorageStore().reset();
  void load();
  requestIdleCallback(() => void prepareBench());
});

/** The Bench was left before its piece was computed to the end. */
function sayWhatWasLeft(): void {
  const { piece, engine } = openPiece();
  const { doc } = piece;
  const { busy, mask, maskIsFull, failure } = engine;
  if (!doc?.sources.length || failure || (!busy && mask && maskIsFull)) return;
  ElMessage({
    message: `“${doc.name || 'Untitled piece'}” was still being computed in full. Nothing is lost: that begins again when it is opened.`,
    duration: 7000,
    customClass: 'left-early',
  });
}

let left = false;
onBeforeUnmount(() => (left = true));

/** So that the Bench opens at once: its code is fetched, its shaders are compiled. */
async function prepareBench(): Promise<void> {
  const { theStage } = await import('../features/stage/stage');
  await import('./BenchView.vue');
  if (!left) theStage().forget(); // else the Bench is using it
}

/** Does something to a piece; a failure is said and stays, and the list shows what is so. @param again - Whether the list is fetched again where it succeeds. */
async function attempt(what: string, work: () => Promise<void>, again = true): Promise<void> {
  let failed = false;
  try {
    await work();
  } catch (error) {
    failed = true;
    const { message, remedy = '' } = error as Error & { remedy?: string };
    notices.tell({ id: `stock ${what}`, bad: true, text: `${what} failed: ${message}`, remedy });
  }
  if (again || failed) await load();
}

async function take(files: File[]): Promise<void> {
  const ids = await bringIn.asPieces(files);
  if (ids.length !== 1 || files.length > 2) return load();
  [bench.arrived] = ids;
  await router.push(`/bench/${ids[0]}`);
}

function choose(event: Event): void {
  const input = event.target as HTMLInputElement;
  const files = filesOf(input.files);
  input.value = '';
  if (files.length > 0) void take(files);
}

const rename = ({ id, name }: PieceSummary) =>
  attempt(`Renaming “${name}”`, async () => {
    const { doc, revision } = await piecesApi.openPiece(id);
    const answer = await ElMessageBox.prompt('New name', 'Rename', {
      inputValue: doc.name,
      inputValidator: (value) =>
        (value.trim().length > 0 && value.trim().length <= LIMITS.pieceName) || `1 to ${LIMITS.pieceName} characters`,
      confirmButtonText: 'Rename',
    }).catch(() => null);
    if (!answer) return;
    const change = diffDocs(doc, { ...doc, name: answer.value.trim() });
    if (change.patches.length === 0) return;
    await piecesApi.sendEdit(id, { kind: 'do', baseRevision: revision, entry: { label: 'Rename', ...change } });
  });

const duplicate = ({ id, name }: PieceSummary) =>
  attempt(`Duplicating “${name}”`, async () => {
    const { doc } = await piecesApi.openPiece(id);
    await piecesApi.copyPiece({ doc: { ...doc, name: `${cutText(doc.name, LIMITS.pieceName - 5)} copy` } });
  });

const deleteIt = ({ id, name }: PieceSummary) => attempt(`Deleting “${name}”`, () => remove(id), false);
const bringBack = ({ id, name }: PieceSummary) => attempt(`Restoring “${name}”`, () => restore(id), false);

useKeys('Stock', [
  { key: 'b', label: 'Bring pictures in', run: () => chooser.value?.click() },
  { key: 'g', label: 'Grow a piece', run: () => void (growing.value = true) },
  { key: '/', label: 'Search', run: () => search.value?.focus() },
]);
</script>

<template>
  <DropArea hint="Drop pictures: each becomes a piece" @files="take">
    <div class="stock" data-scrolls>
      <div class="bar">
        <h1>Stock</h1>
        <ElInput
          ref="search"
          v-model="wanted"
          class="search"
          placeholder="Search by name or mode"
          clearable
          aria-label="Search pieces"
        >
          <template #prefix><Search :size="14" /></template>
        </ElInput>
        <ElButton data-test="grow" @click="growing = true"><Sprout :size="15" class="lead" />Grow a piece</ElButton>
        <ElButton type="primary" @click="chooser?.click()"
          ><Upload :size="15" class="lead" />Bring pictures in</ElButton
        >
        <input ref="chooser" type="file" multiple hidden :accept="ACCEPTED" data-test="chooser" @change="choose" />
      </div>
      <GrowDialog v-model="growing" @made="(id) => router.push(`/bench/${id}`)" />
      <p v-if="help.offersWalk && total" class="offer" data-test="offer-walk">
        New here? A walk of two minutes shows a piece from its picture to its files.
        <button type="button" class="linked" data-test="take-walk" @click="help.walk()">Take it</button>
        <button type="button" class="linked" @click="help.noWalk()">Not now</button>
      </p>
      <TroubleNote v-if="failure" :message="failure.message" :remedy="failure.remedy" />
      <StockGrid
        v-if="found > 0"
        :count="found"
        :at="at"
        :gone="gone"
        @show="show"
        @rename="rename"
        @duplicate="duplicate"
        @remove="deleteIt"
        @restore="bringBack"
      />
      <div v-else-if="total" class="empty">
        <p>No piece matches “{{ wanted }}”.</p>
        <ElButton @click="wanted = ''">Show all</ElButton>
      </div>
      <div v-else-if="total === 0" class="empty linen">
        <p class="big">Drop a picture here</p>
        <p>
          A leaf, a clump of grass, a lock of hair: PNG, JPEG, WebP, TIFF, DDS, KTX2, TGA or layered .ora, with or
          without alpha.<br />
          A colour picture and its mask picture of the same name become one piece.
        </p>
        <ElButton type="primary" @click="chooser?.click()">Choose files</ElButton>
        <ElButton @click="growing = true">Or grow a piece</ElButton>
      </div>
      <p v-else-if="!failure" class="soft" role="status">Loading pieces…</p>
    </div>
  </DropArea>
</template>

<style>
/* it must not be in the way of what is pressed next */
.left-early {
  pointer-events: none;
}
</style>

<style scoped>
.offer {
  display: flex;
  gap: 14px;
  margin: 0 0 10px;
}

.stock {
  height: 100%;
  padding: 20px 28px 40px;
  overflow: auto;
}

.bar {
  display: flex;
  align-items: center;
  gap: 14px;
  margin-bottom: 20px;
}

h1 {
  flex: 1;
  font-size: 22px;
  font-weight: 600;
}

.search {
  width: 240px;
}

.lead {
  margin-right: 6px;
}

.empty {
  display: grid;
  gap: 14px;
  place-items: center;
  place-content: center;
  min-height: 55vh;
  text-align: center;
  border-radius: 8px;
}

.empty.linen {
  color: #22302b;
}

.big {
  font-size: 24px;
  font-weight: 600;
}
</style>
