<script setup lang="ts">
// Views of the Stand that the studio keeps by name, for every piece.
import { MOST_VIEWS, type NamedView, type ViewList } from '@lithe-sieve/contract';
import { LIMITS, toPlainError } from '@lithe-sieve/core';
import { ElMessageBox } from 'element-plus';
import { Trash2 } from 'lucide-vue-next';
import { onMounted, ref, shallowRef } from 'vue';
import { deleteView, keepView, listViews, renameView } from '../../api/views.api';
import TroubleNote from '../../components/TroubleNote.vue';
import { makeId } from '../../document/ids';
import { useNamedLook } from './named-look';

const { lookNow, lookAs } = useNamedLook();
const kept = shallowRef<ViewList>({ views: [], damaged: 0 });
const name = ref('');
const trouble = ref<{ message: string; remedy: string } | null>(null);
const removed = shallowRef<NamedView | null>(null);
/** Of what was not confirmed: sent again, it is kept once. */
let unconfirmed: NamedView | null = null;

async function change(ask: () => Promise<ViewList>): Promise<boolean> {
  try {
    kept.value = await ask();
    trouble.value = null;
    return true;
  } catch (error) {
    trouble.value = toPlainError(error);
    return false;
  }
}
onMounted(() => change(listViews));

async function keep(): Promise<void> {
  const called = name.value.trim() || `View ${kept.value.views.length + 1}`;
  const now = { name: called, look: lookNow() };
  const isSame = unconfirmed && JSON.stringify({ ...unconfirmed, ...now }) === JSON.stringify(unconfirmed);
  const view = isSame ? unconfirmed! : { id: makeId(), ...now };
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

async function rename({ id, name: before }: NamedView): Promise<void> {
  const answer = await ElMessageBox.prompt('New name', 'Rename the view', {
    inputValue: before,
    confirmButtonText: 'Rename',
    inputValidator: (text) =>
      text.trim() && text.trim().length <= LIMITS.pieceName ? true : `1 to ${LIMITS.pieceName} characters.`,
  }).catch(() => null);
  if (answer) await change(() => renameView(id, answer.value.trim()));
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
      <ElButton size="small" native-type="submit" data-test="keep-view" :disabled="kept.views.length >= MOST_VIEWS">
        Keep
      </ElButton>
    </form>
    <ul v-if="kept.views.length > 0">
      <li v-for="view in kept.views" :key="view.id" class="line">
        <button type="button" class="linked" data-test="kept-view" @click="lookAs(view.look)">
          {{ view.name }}
        </button>
        <span class="buttons">
          <button type="button" class="linked small" @click="rename(view)">rename</button>
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
    <p v-if="kept.damaged > 0" class="soft" role="status">
      {{ kept.damaged }} more cannot be read: they are damaged in the studio.
    </p>
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
