<script setup lang="ts">
import {
  fileName,
  filesOf,
  formatOf,
  keptReadAsColour,
  mapKind,
  MAPS,
  profileOf,
  type MapName,
} from '@lithe-sieve/core';
import { computed, ref, watch } from 'vue';
import FileName from '../../components/FileName.vue';
import { inMegabytes } from '../../components/megabytes';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';

/** The files that will be written: their names, what they hold, and about how large they are. */
const piece = usePiece();
const engine = useEngine();
const clip = useClip();
const sizes = ref<(number | null)[]>([]);

const profile = computed(() => profileOf(piece.doc?.handOff.profile ?? 'glb'));

/** A map as it is called elsewhere. */
const slotWords = (slot: string) => (slot in MAPS ? mapKind(slot as MapName).label : slot.replace('-', ' '));

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

const made = computed(() => new Set(engine.maps?.maps.map((m) => m.map)));
const rows = computed(() => {
  const { doc } = piece;
  const { size } = engine;
  if (!doc) return [];
  return filesOf(doc).map((file, i) => ({
    file,
    name: size ? fileName(doc, file, size) : '',
    size: i < sizes.value.length ? sizes.value[i] : undefined,
    written: formatOf(file).isWritten(file, made.value),
    placeless: formatOf(file).leavesOut(file, made.value, doc),
  }));
});
const written = computed(() => rows.value.filter((row) => row.written));
const leftOut = computed(() => rows.value.filter((row) => !row.written).map((row) => slotWords(row.file.slot)));
/** What the run makes and a file has no place for. */
const placeless = computed(() => rows.value.flatMap((row) => row.placeless));

const placelessWords = computed(() =>
  profile.value.id === 'own-packing'
    ? `No file holds ${placeless.value.join(', ')}: give them channels, or leave them.`
    : `glTF has no place for ${placeless.value.join(', ')}. Maps can be files of their own.`,
);

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

// sizes are estimated once the result is there in full
watch(
  () => [engine.busy || clip.busy, engine.maps, profile.value.id, clip.shown] as const,
  async ([busy, maps, id, shown]) => {
    sizes.value = [];
    if (busy || !maps || !piece.doc) return;
    const mask = shown?.held ? shown.levels[0] : null;
    const estimated = await engine.engine().estimate(filesOf(piece.doc), mask, piece.doc);
    if (profile.value.id === id && clip.shown === shown) sizes.value = estimated;
  },
  { immediate: true },
);
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>File</th>
        <th>Holds</th>
        <th class="number">About</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="{ file, name, size } in written" :key="`${file.slot}.${file.extension}`">
        <td class="name"><FileName :name="name" /></td>
        <td class="soft">{{ file.contents }}</td>
        <td class="number">{{ sizeWords(size) }}</td>
      </tr>
    </tbody>
  </table>
  <p v-if="maskAlone" class="soft" data-test="mask-as-data">
    {{ maskAlone.name }} holds values, no colours: have it read as linear, not as sRGB.
    <template v-if="maskAlone.kept">
      Read as sRGB, {{ percent(maskAlone.kept.asColour) }} would be kept instead of {{ percent(maskAlone.kept.meant) }}.
    </template>
  </p>
  <p v-if="placeless.length > 0" class="soft" data-test="placeless">{{ placelessWords }}</p>
  <p v-if="leftOut.length" class="soft" data-test="left-out">
    Left out, since the run makes no such map: {{ leftOut.join(', ') }}.
  </p>
</template>

<style scoped>
p {
  margin-bottom: 12px;
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

.name {
  min-width: 140px;
}

.number {
  text-align: right;
  white-space: nowrap;
}
</style>
