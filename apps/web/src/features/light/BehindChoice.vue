<script setup lang="ts">
// What is seen behind the card, and through its holes.
import { READABLE_EXTENSIONS, THINGS_BEHIND, toPlainError, type Behind } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import { uploadSource } from '../../api/sources.api';
import { hexOf, rgbOf } from '../../components/colours';
import ListLine from '../../components/ListLine.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import { useBenchStore } from '../../stores/bench.store';
import { chooseFiles } from '../../stores/files';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';

const bench = useBenchStore();
/** What was chosen and is not there yet. */
const choosing = ref<'piece' | null>(null);
const busy = ref(false);
const trouble = ref<{ message: string; remedy: string } | null>(null);

const WAYS = [...THINGS_BEHIND, 'one colour', 'another piece', 'a photograph'] as const;
type Way = (typeof WAYS)[number];
const isThing = (way: Way): way is (typeof THINGS_BEHIND)[number] => THINGS_BEHIND.some((thing) => thing === way);

const way = computed((): Way => {
  const { behind } = bench;
  if (choosing.value || behind.kind === 'piece') return 'another piece';
  if (behind.kind === 'things') return behind.things;
  return behind.kind === 'colour' ? 'one colour' : 'a photograph';
});

function choose(to: Way): void {
  trouble.value = null;
  choosing.value = to === 'another piece' ? 'piece' : null;
  if (isThing(to)) put({ kind: 'things', things: to });
  else if (to === 'one colour') put({ kind: 'colour', colour: [0x7d, 0x8a, 0x6a] });
  else if (to === 'a photograph') void choosePhotograph();
}

function put(behind: Behind): void {
  choosing.value = null;
  bench.behind = behind;
}

function chooseColour(hex: string): void {
  const colour = rgbOf(hex);
  if (colour) put({ kind: 'colour', colour });
}

async function choosePhotograph(): Promise<void> {
  const [file] = await chooseFiles(READABLE_EXTENSIONS.join(','), false);
  if (!file) return;
  busy.value = true;
  try {
    const { sha256, fileName } = await uploadSource(file, () => undefined, new AbortController().signal);
    put({ kind: 'photograph', sha256, name: fileName });
  } catch (error) {
    const { message, remedy } = toPlainError(error);
    trouble.value = { message: message.includes(file.name) ? message : `${file.name}: ${message}`, remedy };
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ListLine
    label="Behind the card"
    :value="way"
    :options="WAYS.map((value) => ({ value, label: value }))"
    data-test="behind"
    @choose="choose"
  />
  <label v-if="bench.behind.kind === 'colour'" class="line">
    <span>Its colour</span>
    <input
      type="color"
      aria-label="Colour behind the card"
      data-test="behind-colour"
      :value="hexOf(bench.behind.colour)"
      @input="chooseColour(($event.target as HTMLInputElement).value)"
    />
  </label>
  <OtherPieceChoice
    v-if="way === 'another piece'"
    label="Piece"
    said="Piece behind the card"
    test="behind-piece"
    beside
    :shown="bench.behind.kind === 'piece' ? bench.behind.name : ''"
    :use="async ({ id, doc }) => put({ kind: 'piece', id, name: doc.name })"
  />
  <p v-if="bench.behind.kind === 'photograph'" class="line">
    <span class="name">{{ bench.behind.name }}</span>
    <button type="button" class="linked" data-test="other-photograph" @click="choosePhotograph">Another…</button>
  </p>
  <p v-if="busy" class="soft" role="status">The photograph is sent and read…</p>
  <TroubleNote v-if="trouble" v-bind="trouble" data-test="behind-trouble" />
</template>

<style scoped>
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
