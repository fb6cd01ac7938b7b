<script setup lang="ts" generic="T">
// Things that the studio keeps by name, for every piece: kept, taken up, renamed, deleted, put back.
import { LIMITS, toPlainError } from '@lithe-sieve/core';
import { ElMessageBox } from 'element-plus';
import { Trash2 } from 'lucide-vue-next';
import { onMounted, ref, shallowRef } from 'vue';
import TroubleNote from './TroubleNote.vue';
import { whilePointed } from './pointed';
import { makeId } from '../document/ids';
import type { KeptApi, KeptList, KeptThing } from '../api/kept.api';

const props = defineProps<{
  api: KeptApi<T>;
  /** What one is called, and kept ones at the most. */
  what: string;
  most: number;
  /** What is there to be kept now; null: nothing that can be. */
  now: (() => T) | null;
}>();
const emit = defineEmits<{ take: [held: T, name: string]; point: [held: T]; leave: [] }>();
const kept = shallowRef<KeptList<T>>({ kept: [], damaged: 0 });
const name = ref('');
const trouble = ref<{ message: string; remedy: string } | null>(null);
const removed = shallowRef<KeptThing<T> | null>(null);
/** Of what was not confirmed: sent again, it is kept once. */
let unconfirmed: KeptThing<T> | null = null;

async function change(ask: () => Promise<KeptList<T>>): Promise<boolean> {
  try {
    kept.value = await ask();
    trouble.value = null;
    return true;
  } catch (error) {
    trouble.value = toPlainError(error);
    return false;
  }
}
onMounted(() => change(() => props.api.list()));

const capital = (text: string) => text[0].toUpperCase() + text.slice(1);

async function keep(): Promise<void> {
  if (!props.now) return;
  const called = name.value.trim() || `${capital(props.what)} ${kept.value.kept.length + 1}`;
  const now = { name: called, held: props.now() };
  const isSame = unconfirmed && JSON.stringify({ ...unconfirmed, ...now }) === JSON.stringify(unconfirmed);
  const view = isSame ? unconfirmed! : { id: makeId(), ...now };
  unconfirmed = view;
  if (!(await change(() => props.api.keep(view)))) return;
  unconfirmed = null;
  name.value = '';
}

async function remove(view: KeptThing<T>): Promise<void> {
  if (await change(() => props.api.remove(view.id))) removed.value = view;
}

async function putBack(view: KeptThing<T>): Promise<void> {
  if (await change(() => props.api.keep(view))) removed.value = null;
}

async function rename({ id, name: before }: KeptThing<T>): Promise<void> {
  const answer = await ElMessageBox.prompt('New name', `Rename the ${props.what}`, {
    inputValue: before,
    confirmButtonText: 'Rename',
    inputValidator: (text) =>
      text.trim() && text.trim().length <= LIMITS.pieceName ? true : `1 to ${LIMITS.pieceName} characters.`,
  }).catch(() => null);
  if (answer) await change(() => props.api.rename(id, answer.value.trim()));
}
</script>

<template>
  <section class="kept" :aria-label="`Each ${what} kept by name`">
    <form v-if="now" class="line" @submit.prevent="keep">
      <ElInput
        v-model="name"
        size="small"
        :maxlength="LIMITS.pieceName"
        :placeholder="`Keep this ${what} as…`"
        :aria-label="`Name of the ${what}`"
        :data-test="`${what}-name`"
      />
      <ElButton size="small" native-type="submit" :data-test="`keep-${what}`" :disabled="kept.kept.length >= most">
        Keep
      </ElButton>
    </form>
    <ul v-if="kept.kept.length > 0">
      <li v-for="view in kept.kept" :key="view.id" class="line">
        <button
          type="button"
          class="linked named"
          :data-test="`kept-${what}`"
          v-bind="
            whilePointed(
              () => emit('point', view.held),
              () => emit('leave'),
            )
          "
          @click="emit('take', view.held, view.name)"
        >
          <slot name="picture" :held="view.held" />
          {{ view.name }}
        </button>
        <span class="buttons">
          <slot name="more" :held="view.held" :called="view.name" />
          <button type="button" class="linked small" @click="rename(view)">rename</button>
          <button
            type="button"
            class="bare"
            :aria-label="`Delete the ${what} ${view.name}`"
            :data-test="`delete-${what}`"
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
    <TroubleNote v-if="trouble" v-bind="trouble" :data-test="`${what}s-trouble`" />
  </section>
</template>

<style scoped>
.kept {
  margin: 6px 0 12px;
}

/* as in the tray around it, where there is one */
.line {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
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

.named {
  display: flex;
  gap: 8px;
  align-items: center;
  text-align: left;
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
