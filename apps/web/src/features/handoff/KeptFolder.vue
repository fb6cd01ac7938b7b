<script setup lang="ts">
// A folder on disk that is kept current: each settled edit writes the hand-off there again.
import type { Output } from '@lithe-sieve/contract';
import { onScopeDispose, ref, shallowRef, watch } from 'vue';
import { endOutput, outputOf, setOutput } from '../../api/outputs.api';
import { ApiError } from '../../api/http';
import TroubleNote from '../../components/TroubleNote.vue';
import FollowDialog from '../follow/FollowDialog.vue';

const props = defineProps<{ pieceId: string }>();
const output = shallowRef<Output | null>(null);
const trouble = ref('');
const choosing = ref(false);

const LOOK_EVERY_MS = 1000;
let timer: ReturnType<typeof setTimeout> | undefined;
let turn = 0;
onScopeDispose(() => {
  turn++;
  clearTimeout(timer);
});

async function look(): Promise<void> {
  clearTimeout(timer);
  const mine = ++turn;
  try {
    const found = await outputOf(props.pieceId);
    if (mine !== turn) return;
    output.value = found;
    trouble.value = '';
  } catch (error) {
    if (mine !== turn) return;
    trouble.value = wordsOf(error);
  }
  if (output.value || trouble.value) timer = setTimeout(() => void look(), LOOK_EVERY_MS); // nothing moves by itself where there is none
}
watch(() => props.pieceId, look, { immediate: true });

async function tried(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
    await look();
  } catch (error) {
    turn++; // what is on its way knows nothing of it
    trouble.value = wordsOf(error);
  }
}
const wordsOf = (error: unknown) => (error instanceof ApiError ? `${error.message} ${error.remedy}` : String(error));

const STATES: Record<Output['state'], string> = {
  current: 'current',
  waiting: 'waits until edits settle',
  writing: 'is being written',
  paused: 'paused',
};
</script>

<template>
  <section class="kept-folder" aria-label="A folder that is kept current" data-test="kept-folder">
    <template v-if="output">
      <p>
        <strong>{{ output.folder }}</strong>
        <span role="status" data-test="output-state">
          {{ STATES[output.state] }}{{ output.revision === null ? '' : `; holds revision ${output.revision}` }}
        </span>
      </p>
      <TroubleNote v-if="output.error" :message="output.error.message" :remedy="output.error.remedy" />
      <button type="button" class="linked" data-test="end-output" @click="tried(() => endOutput(pieceId))">
        Keep it current no longer
      </button>
    </template>
    <button v-else type="button" class="linked" data-test="choose-output" @click="choosing = true">
      Keep a folder current…
    </button>
    <p v-if="trouble" class="soft" role="alert">{{ trouble }}</p>
    <FollowDialog v-model="choosing" for-output file-name="" @choose="tried(() => setOutput(pieceId, $event))" />
  </section>
</template>

<style scoped>
.kept-folder {
  display: grid;
  gap: 4px;
  justify-items: start;
  margin-top: 12px;
  font-size: 12.5px;
}

strong {
  overflow-wrap: anywhere;
}

strong + span {
  display: block;
  color: var(--ink-soft);
}
</style>
