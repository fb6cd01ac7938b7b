<script setup lang="ts">
// What was recognised in a drop: pieces, their files, and what each is taken for. Changed by dragging or by the lists, agreed to once.
import { ROLE_ENDINGS, SOURCE_ROLES, type NamedRole, type SourceRole } from '@lithe-sieve/core';
import Sortable from 'sortablejs';
import { computed, reactive, ref } from 'vue';
import SmallPicture from '../../components/SmallPicture.vue';
import PlainDialog from '../../components/PlainDialog.vue';
import type { StoredSource } from '@lithe-sieve/contract';
import { sourcePicture } from '../../api/sources.api';
import type { GroupOffer, Placed } from '../../stores/bring-in/grouping';
import { readEndings, writeEndings } from '../../stores/endings';

const props = defineProps<{ offer: GroupOffer }>();

const files = ref<Placed[]>(props.offer.files.map((f) => ({ ...f })));
/** What is known of each file once it has arrived: its picture and its size. */
const stored = ref<(StoredSource | null)[]>(props.offer.files.map(() => null));
for (const [i, coming] of props.offer.arrived.entries()) void coming.then((source) => (stored.value[i] = source));
/** Files whose size is not that of the colour picture of their piece. */
function otherSize(i: number): boolean {
  const own = stored.value[i]?.facts;
  const first = files.value.findIndex((f) => f.piece === files.value[i].piece && f.role === 'colour');
  const colour = stored.value[first]?.facts;
  return Boolean(own && colour && (own.width !== colour.width || own.height !== colour.height));
}

const pieces = computed(() => [...new Set(files.value.map((f) => f.piece))].sort((a, b) => a - b));
const filesOf = (piece: number) => files.value.flatMap((file, i) => (file.piece === piece ? [{ file, i }] : []));
const nameOf = (piece: number) => {
  const files = filesOf(piece).map(({ file }) => file);
  return (files.find((f) => f.role === 'colour') ?? files[0]).fileName.replace(/\.[^.]*$/, '');
};
const next = computed(() => Math.max(...pieces.value) + 1);
/** A piece has one colour picture. */
const odd = computed(() =>
  pieces.value.filter((p) => filesOf(p).filter(({ file }) => file.role === 'colour').length !== 1),
);

function move(i: number, piece: number): void {
  const [file, alone] = [files.value[i], !pieces.value.includes(piece)];
  Object.assign(file, { piece, role: alone ? 'colour' : file.role });
}
const setRole = (i: number, role: SourceRole) => (files.value[i].role = role);

const sortables = new Map<HTMLElement, Sortable>();
/** A block whose files can be dragged to another: once it stands in the page, which is after the dialog has opened. */
const vFiles = {
  mounted: (element: HTMLElement) =>
    sortables.set(
      element,
      Sortable.create(element, { group: 'files', handle: '.grip', draggable: '.row', forceFallback: true, onEnd }),
    ),
  unmounted(element: HTMLElement) {
    sortables.get(element)?.destroy();
    sortables.delete(element);
  },
};

/** The library has moved the element; it is put back, and the list follows what it says. */
function onEnd({ from, to, item, oldIndex }: Sortable.SortableEvent): void {
  from.insertBefore(item, from.children[oldIndex ?? 0] ?? null);
  if (to !== from) move(Number(item.dataset['file']), Number(to.dataset['piece']));
}

const endings = reactive(
  Object.fromEntries(Object.entries(readEndings()).map(([role, words]) => [role, words.join(' ')])) as Record<
    NamedRole,
    string
  >,
);
function keepEndings(): void {
  const split = Object.entries(endings).map(([role, text]) => [
    role,
    text
      .toLowerCase()
      .split(/[\s,]+/)
      .filter(Boolean),
  ]);
  writeEndings({ ...ROLE_ENDINGS, ...(Object.fromEntries(split) as Partial<typeof ROLE_ENDINGS>) });
}
</script>

<template>
  <PlainDialog
    :model-value="true"
    title="These files belong together by name"
    width="640px"
    @close="offer.answer(null)"
  >
    <p class="soft">Each block becomes a piece. Drag a file to another block, or choose in the lists.</p>
    <div class="pieces">
      <section
        v-for="piece in pieces"
        :key="piece"
        class="piece"
        :class="{ odd: odd.includes(piece) }"
        data-test="named-piece"
      >
        <h3>{{ nameOf(piece) }}</h3>
        <div v-files class="list" :data-piece="piece">
          <div v-for="{ file, i } in filesOf(piece)" :key="i" class="row" :data-file="i">
            <span class="grip" aria-hidden="true" title="Drag to another piece">⠿</span>
            <SmallPicture :src="stored[i] ? sourcePicture(stored[i].sha256) : null" />
            <span class="file" :title="file.fileName"
              >{{ file.fileName }}
              <small v-if="stored[i]" :class="{ other: otherSize(i) }"
                >{{ stored[i].facts.width }} × {{ stored[i].facts.height
                }}{{ otherSize(i) ? ', not as the colour' : '' }}</small
              >
            </span>
            <ElSelect
              :model-value="file.role"
              size="small"
              :aria-label="`What ${file.fileName} is`"
              @change="setRole(i, $event)"
            >
              <ElOption v-for="r in SOURCE_ROLES" :key="r" :value="r" :label="r" />
            </ElSelect>
            <ElSelect
              :model-value="piece"
              size="small"
              :aria-label="`Piece of ${file.fileName}`"
              @change="move(i, $event)"
            >
              <ElOption v-for="p in pieces" :key="p" :value="p" :label="nameOf(p)" />
              <ElOption :value="next" label="a piece of its own" />
            </ElSelect>
          </div>
        </div>
        <p v-if="odd.includes(piece)" class="bad">A piece needs one colour picture: set one of these to “colour”.</p>
      </section>
    </div>
    <details>
      <summary>Endings of names</summary>
      <p class="soft">Kept in this browser; used from the next drop on.</p>
      <label v-for="(_, role) in endings" :key="role" class="ending">
        <span>{{ role }}</span>
        <ElInput v-model="endings[role]" size="small" :aria-label="`Endings of ${role}`" @change="keepEndings" />
      </label>
    </details>
    <template #footer>
      <ElButton @click="offer.answer(null)">Each file a piece</ElButton>
      <ElButton type="primary" :disabled="odd.length > 0" data-test="one-piece" @click="offer.answer(files)">
        Bring in {{ pieces.length }} {{ pieces.length === 1 ? 'piece' : 'pieces' }}
      </ElButton>
    </template>
  </PlainDialog>
</template>

<style scoped>
.pieces {
  max-height: 46vh;
  overflow: auto;
}

.piece {
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}

h3 {
  margin: 0 0 4px;
  font-size: 13.5px;
  font-weight: 650;
}

.row {
  display: grid;
  grid-template-columns: 18px 34px 1fr 128px 150px;
  gap: 8px;
  align-items: center;
  padding: 2px 0;
}

.grip {
  cursor: grab;
  color: var(--ink-soft);
}

.file {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

small {
  display: block;
  color: var(--ink-soft);
}

small.other {
  color: var(--amber);
  font-weight: 600;
}

.bad {
  margin: 4px 0 0;
  color: var(--red);
}

details {
  margin-top: 10px;
}

.ending {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 8px;
  align-items: center;
  margin-bottom: 3px;
}
</style>
