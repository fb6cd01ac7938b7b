<script setup lang="ts">
// Views of the Stand that the studio keeps by name, for every piece.
import { MOST_VIEWS, type NamedView } from '@lithe-sieve/contract';
import { LIMITS, toPlainError } from '@lithe-sieve/core';
import { Trash2 } from 'lucide-vue-next';
import { onMounted, ref, shallowRef } from 'vue';
import { deleteView, keepView, listViews, renameView } from '../../api/views.api';
import TroubleNote from '../../components/TroubleNote.vue';
import { makeId } from '../../document/ids';
import { useNamedLook } from './named-look';

const { lookNow, lookAs } = useNamedLook();
const views = shallowRef<NamedView[]>([]);
const name = ref('');
const renaming = ref<{ id: string; name: string } | null>(null);
const trouble = ref<{ message: string; remedy: string } | null>(null);
const removed = shallowRef<NamedView | null>(null);
/** Of what was not confirmed: sent again, it is kept once. */
let unconfirmed: NamedView | null = null;

async function change(ask: () => Promise<NamedView[]>): Promise<boolean> {
  try {
    views.value = await ask();
    trouble.value = null;
    return true;
  } catch (error) {
    trouble.value = toPlainError(error);
    return false;
  }
}
onMounted(() => change(listViews));

async function keep(): Promise<void> {
  const called = name.value.trim() || `View ${views.value.length + 1}`;
  const same = unconfirmed?.name === called ? unconfirmed : null;
  const view = same ?? { id: makeId(), name: called, look: lookNow() };
  unconfirmed = view;
  if (!(await change(() => keepView(view)))) return;
  unconfirmed = null;
  name.value = '';
}

async function remove(view: NamedView): Promise<void> {
  if (await change(() => deleteView(view.id))) removed.value = view;
}

async function putBack(view: NamedView): Promise<void> {
  if (await change(() => keepView(view))) removed.value = null;
}

const startRenaming = ({ id, name: now }: NamedView) => (renaming.value = { id, name: now });

async function rename({ id, name: before }: NamedView): Promise<void> {
  const to = renaming.value?.name.trim();
  if (!to || to === before || (await change(() => renameView(id, to)))) renaming.value = null;
}
</script>

<template>
  <section class="views" aria-label="Views kept by name">
    <form class="line" @submit.prevent="keep">
      <ElInput
        v-model="name"
        size="small"
        :maxlength="LIMITS.pieceName"
        placeholder="Keep this view as…"
        aria-label="Name of the view"
        data-test="view-name"
      />
      <ElButton size="small" native-type="submit" data-test="keep-view" :disabled="views.length >= MOST_VIEWS">
        Keep
      </ElButton>
    </form>
    <ul v-if="views.length > 0">
      <li v-for="view in views" :key="view.id" class="line">
        <ElInput
          v-if="renaming?.id === view.id"
          v-model="renaming.name"
          size="small"
          :maxlength="LIMITS.pieceName"
          aria-label="New name of the view"
          data-test="new-name"
          @change="rename(view)"
          @keydown.escape.stop="renaming = null"
        />
        <button
          v-else
          type="button"
          class="linked"
          data-test="kept-view"
          @click="lookAs(view.look)"
          @dblclick="startRenaming(view)"
        >
          {{ view.name }}
        </button>
        <span class="buttons">
          <button type="button" class="linked small" @click="startRenaming(view)">rename</button>
          <button
            type="button"
            class="bare"
            :aria-label="`Delete the view ${view.name}`"
            data-test="delete-view"
            @click="remove(view)"
          >
            <Trash2 :size="13" />
          </button>
        </span>
      </li>
    </ul>
    <p v-if="removed" class="soft" role="status">
      {{ removed.name }} is deleted.
      <button type="button" class="linked" data-test="put-back" @click="putBack(removed)">Put it back</button>
    </p>
    <TroubleNote v-if="trouble" v-bind="trouble" data-test="views-trouble" />
  </section>
</template>

<style scoped>
.views {
  margin: 6px 0 12px;
}

ul {
  max-height: 168px;
  margin: 4px 0 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}

.buttons {
  display: flex;
  align-items: center;
  gap: 6px;
}

.small {
  font-size: 11px;
}

.bare {
  padding: 2px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
</style>
