<script setup lang="ts">
// The files that will be written: their names, what they hold, about how large they are, on disk and on the card.
import {
  fileName,
  filesOf,
  formatOf,
  isText,
  keptReadAsColour,
  mapKind,
  MAPS,
  profileOf,
  type FilePlan,
  type MapName,
} from '@lithe-sieve/core';
import { Box, FileText } from 'lucide-vue-next';
import { computed, ref, watch } from 'vue';
import FileName from '../../components/FileName.vue';
import { inMegabytes } from '../../components/megabytes';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { useNameFacts } from './name-facts';
import { levelState, thumbOf } from './level-state';

const props = defineProps<{ chosen: number; disk: (number | null)[] }>();
const emit = defineEmits<{ choose: [at: number]; sizes: [sizes: (number | null)[]] }>();
const piece = usePiece();
const engine = useEngine();
const clip = useClip();

const facts = useNameFacts();
const profile = computed(() => profileOf(piece.doc?.handOff.profile ?? 'glb'));

/** A map as it is called elsewhere. */
const slotWords = (slot: string) => (slot in MAPS ? mapKind(slot as MapName).label : slot.replace('-', ' '));

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

const made = computed(() => new Set(engine.maps?.maps.map((m) => m.map)));
const small = computed(() => levelState(engine, 128));
const rows = computed(() => {
  const { doc } = piece;
  const { size } = engine;
  if (!doc) return [];
  return filesOf(doc).map((file, at) => ({
    at,
    file,
    name: size ? fileName(doc, file, size, facts.value) : '',
    written: formatOf(file).isWritten(file, made.value),
    placeless: formatOf(file).leavesOut(file, made.value, doc),
    card: size && small.value ? formatOf(file).onCard(file, size, small.value) : 0,
    thumb: thumbOfFile(file),
  }));
});
const written = computed(() => rows.value.filter((row) => row.written));
const leftOut = computed(() => rows.value.filter((row) => !row.written).map((row) => slotWords(row.file.slot)));

function thumbOfFile(file: FilePlan) {
  const { doc } = piece;
  const raster = small.value && doc && formatOf(file).picture(file, small.value, doc);
  return raster ? thumbOf(raster) : null;
}

/** Of each file that has no place for something that the run makes. */
const placelessWords = computed(() => {
  if (profile.value.id === 'own-packing') {
    const all = rows.value.flatMap((row) => row.placeless);
    return all.length ? [`No file holds ${all.join(', ')}: give them channels, or leave them.`] : [];
  }
  return rows.value
    .filter((row) => row.placeless.length > 0)
    .map(({ file, placeless }) => `The ${file.extension} has no place for ${placeless.join(', ')}.`);
});

function sizeWords(size: number | null | undefined): string {
  if (size === null) return 'small';
  return size ? inMegabytes(size) : '…';
}

/** A file of the mask alone: what a target keeps of it, and what it keeps that takes its values for colours. */
const maskAlone = computed(() => {
  const { doc } = piece;
  const row = written.value.find(({ file }) => file.holds === 'mask');
  const [level] = clip.summaries;
  if (!doc || !row || !level || engine.busy || clip.busy) return null;
  const values = row.file.extension === 'png' && !row.file.divisor; // not distances
  return { name: row.name, kept: values ? keptReadAsColour(level.counts, doc.material) : null };
});

// sizes are estimated once the result is there in full; again with each change of how they are packed
const plans = ref(0);
watch(
  () => piece.doc?.handOff,
  () => plans.value++,
);
watch(
  () => [engine.busy || clip.busy, engine.maps, plans.value, clip.shown] as const,
  async ([busy, maps, turn, shown]) => {
    emit('sizes', []);
    if (busy || !maps || !piece.doc) return;
    const mask = shown?.held ? shown.levels[0] : null;
    const estimated = await engine.engine().estimate(filesOf(piece.doc), mask, piece.doc);
    if (plans.value === turn && clip.shown === shown) emit('sizes', estimated);
  },
  { immediate: true },
);
</script>

<template>
  <section class="written" aria-label="What is written">
    <h2>What is written</h2>
    <ul>
      <li v-for="{ file, name, at, card, thumb } in written" :key="at">
        <button
          type="button"
          class="file"
          :aria-pressed="at === props.chosen"
          :data-test="`written-${at}`"
          @click="emit('choose', at)"
        >
          <ThumbCanvas v-if="thumb" class="thumb linen" :thumb="thumb" />
          <span v-else class="thumb icon"><component :is="isText(file) ? FileText : Box" :size="22" /></span>
          <span class="what">
            <strong><FileName :name="name" /></strong>
            <span class="soft">{{ file.contents }}</span>
          </span>
          <span class="bytes">
            <span>{{ sizeWords(props.disk[at]) }}</span>
            <small v-if="card" class="soft">{{ inMegabytes(card) }} on the card</small>
          </span>
        </button>
      </li>
    </ul>
    <p v-if="maskAlone" class="soft" data-test="mask-as-data">
      {{ maskAlone.name }} holds values, no colours: have it read as linear, not as sRGB.
      <template v-if="maskAlone.kept">
        Read as sRGB, {{ percent(maskAlone.kept.asColour) }} would be kept instead of
        {{ percent(maskAlone.kept.meant) }}.
      </template>
    </p>
    <p v-for="words in placelessWords" :key="words" class="soft" data-test="placeless">{{ words }}</p>
    <p v-if="leftOut.length" class="soft" data-test="left-out">
      Left out, since the run makes no such map: {{ leftOut.join(', ') }}.
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
  font-size: 15px;
  font-weight: 650;
}

ul {
  margin: 0 0 10px;
  padding: 0;
  list-style: none;
}

p {
  margin-bottom: 10px;
  font-size: 12.5px;
}

.file {
  display: grid;
  grid-template-columns: 46px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  width: 100%;
  padding: 7px 8px;
  border: 0;
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.file[aria-pressed='true'] {
  border-left-color: var(--green);
  background: var(--paper-high);
}

.thumb {
  width: 46px;
  height: 46px;
  object-fit: contain;
}

.icon {
  display: grid;
  place-items: center;
  color: var(--ink-soft);
}

.what,
.bytes {
  display: grid;
  overflow-wrap: anywhere;
  font-size: 12.5px;
}

.what .soft {
  font-size: 12px;
  line-height: 1.3;
}

.bytes {
  justify-items: end;
  white-space: nowrap;
}
</style>
