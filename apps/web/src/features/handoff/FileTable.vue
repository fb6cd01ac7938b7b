<script setup lang="ts">
import {
  fileStem,
  hasRegions,
  profileOf,
  regionsName,
  keptReadAsColour,
  leftOutOfGlb,
  mapKind,
  MAPS,
  type FilePlan,
  type MapName,
} from '@lithe-sieve/core';
import { computed, ref, watch } from 'vue';
import FileName from '../../components/FileName.vue';
import { inMegabytes } from '../../components/megabytes';
import { useClipStore } from '../../stores/clip.store';
import { useEngineStore } from '../../stores/engine.store';
import { usePieceStore } from '../../stores/piece.store';

/** The files that will be written: their names, what they hold, and about how large they are. */
const piece = usePieceStore();
const engine = useEngineStore();
const clip = useClipStore();
const sizes = ref<number[]>([]);

const profile = computed(() => profileOf(piece.doc?.handOff.profile ?? 'glb'));
const names = computed(() => {
  const { doc } = piece;
  const { size } = engine;
  return doc && size ? profile.value.files.map((f) => `${fileStem(doc, f.slot, size)}.${f.extension}`) : [];
});

/** Of an atlas as it is packed. */
const regions = computed(() => {
  const { doc } = piece;
  return doc && engine.size && hasRegions(doc) ? regionsName(doc, engine.size) : null;
});

/** A map as it is called elsewhere. */
const slotWords = (slot: string) => (slot in MAPS ? mapKind(slot as MapName).label : slot.replace('-', ' '));

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

/** What the run makes nothing for is left out, and said. */
const made = computed(() => new Set<string>(engine.maps?.maps.map((m) => m.map)));
function isMade({ holds }: FilePlan): boolean {
  if (holds === 'colour' || holds === 'mask' || holds === 'colour and mask') return true;
  return holds.split(', ').some((map) => made.value.has(map));
}
const rows = computed(() =>
  profile.value.files.map((file, i) => ({ file, name: names.value[i], size: sizes.value[i], made: isMade(file) })),
);
const written = computed(() => rows.value.filter((row) => row.made));
const leftOut = computed(() => rows.value.filter((row) => !row.made).map((row) => slotWords(row.file.slot)));
/** What the run makes and a GLB has no place for. */
const placeless = computed(() =>
  profile.value.id === 'glb' ? leftOutOfGlb(engine.maps?.maps.map((m) => m.map) ?? []) : [],
);

/** A file of the mask alone: what a target keeps of it, and what it keeps that takes its values for colours. */
const maskAlone = computed(() => {
  const { doc } = piece;
  const row = written.value.find(({ file }) => file.holds === 'mask');
  const [level] = clip.summaries;
  if (!doc || !row || !level || engine.busy || clip.busy) return null;
  return { name: row.name, kept: row.file.divisor ? null : keptReadAsColour(level.counts, doc.material) };
});

// sizes are estimated once the result is there in full
watch(
  () => [engine.busy || clip.busy, engine.maps, profile.value.id, clip.shown] as const,
  async ([busy, maps, id, made]) => {
    sizes.value = [];
    if (busy || !maps) return;
    const estimated = await engine.engine().estimate(id, made?.held ? made.levels[0] : null);
    if (profile.value.id === id && clip.shown === made) sizes.value = estimated;
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
      <tr v-for="{ file, name, size } in written" :key="file.slot">
        <td class="name"><FileName :name="name" /></td>
        <td class="soft">{{ file.contents }}</td>
        <td class="number">{{ size ? inMegabytes(size) : '…' }}</td>
      </tr>
      <tr v-if="regions">
        <td class="name"><FileName :name="regions" /></td>
        <td class="soft">JSON: name, UV rectangle and outline of each part</td>
        <td class="number">small</td>
      </tr>
    </tbody>
  </table>
  <p v-if="maskAlone" class="soft" data-test="mask-as-data">
    {{ maskAlone.name }} holds values, no colours: have it read as linear, not as sRGB.
    <template v-if="maskAlone.kept">
      Read as sRGB, {{ percent(maskAlone.kept.asColour) }} would be kept instead of {{ percent(maskAlone.kept.meant) }}.
    </template>
  </p>
  <p v-if="placeless.length" class="soft" data-test="placeless">
    glTF has no place for {{ placeless.join(', ') }}: hand those off as files of their own.
  </p>
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
