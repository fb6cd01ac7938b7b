<script setup lang="ts">
// Files whose channels a person fills: with a map, its inverse, or a value; by the list of a channel, or by dragging a map onto it.
import {
  MAP_NAMES,
  mapKind,
  PACKED_AS,
  PACKING_LIMITS,
  type ChannelFill,
  type MapName,
  type PackedFile,
} from '@lithe-sieve/core';
import { Plus } from 'lucide-vue-next';
import { computed } from 'vue';
import { usePackActions } from '../../actions/pack-actions';
import { useEngine } from '../../stores/open-piece/open-piece';
import FromOtherPiece from './FromOtherPiece.vue';
import PackedChannel from './PackedChannel.vue';
import PackedFileLine from './PackedFileLine.vue';

const props = defineProps<{ packing: readonly PackedFile[] }>();
const engine = useEngine();
const { setPacking } = usePackActions();

const made = computed(() => {
  const names = new Set<MapName>(['colour', 'mask', ...(engine.maps?.maps.map((m) => m.map) ?? [])]);
  return MAP_NAMES.filter((name) => names.has(name));
});

function change(at: number, file: PackedFile, what: string): void {
  setPacking(
    props.packing.map((one, i) => (i === at ? file : one)),
    `${file.name}, ${what}`,
  );
}

function fill(at: number, channel: number, to: ChannelFill): void {
  const file = props.packing[at];
  const words = 'value' in to ? String(to.value) : `${to.inverted ? '1 − ' : ''}${mapKind(to.map).label}`;
  change(at, { ...file, fills: file.fills.map((one, i) => (i === channel ? to : one)) }, `${PACKED_AS[file.as][channel]} ${words}`); // prettier-ignore
}

function add(): void {
  const taken = new Set(props.packing.map((f) => f.name));
  let n = props.packing.length + 1;
  while (taken.has(`file-${n}`)) n++;
  const grey: ChannelFill = { map: 'mask', channel: 'red', inverted: false };
  setPacking([...props.packing, { name: `file-${n}`, as: 'grey', bits: 8, halvings: 0, fills: [grey] }], 'a file more');
}

function remove(at: number): void {
  setPacking(
    props.packing.filter((_, i) => i !== at),
    `without ${props.packing[at].name}`,
  );
}

const isTaken = (name: string, at: number) =>
  props.packing.some((f, i) => i !== at && f.name.toLowerCase() === name.toLowerCase());
</script>

<template>
  <section class="packing" aria-label="Files packed by yourself" data-test="packing">
    <p class="soft">Drag a map onto a channel, or choose it there.</p>
    <ul class="maps">
      <li
        v-for="map in made"
        :key="map"
        draggable="true"
        :data-test="`drag-${map}`"
        @dragstart="$event.dataTransfer?.setData('text/x-map', map)"
      >
        {{ mapKind(map).label }}
      </li>
    </ul>
    <FromOtherPiece />
    <article v-for="(file, at) in packing" :key="at" :data-test="`packed-${at}`">
      <PackedFileLine
        :file="file"
        :last="packing.length === 1"
        :taken="(name) => isTaken(name, at)"
        @change="(to, what) => change(at, to, what)"
        @remove="remove(at)"
      />
      <PackedChannel
        v-for="(name, channel) in PACKED_AS[file.as]"
        :key="name"
        :name="name"
        :fill="file.fills[channel]"
        :of="file.name"
        :made="made"
        @fill="fill(at, channel, $event)"
      />
    </article>
    <ElButton size="small" :disabled="packing.length >= PACKING_LIMITS.files" data-test="add-file" @click="add">
      <Plus :size="13" />&nbsp;A file more
    </ElButton>
  </section>
</template>

<style scoped>
.packing {
  margin-top: 18px;
}

.maps {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  /* in sight beside the channel that a map is dragged to */
  position: sticky;
  top: -12px;
  z-index: 3; /* above what is pressed in the files below */
  margin: 6px 0 4px;
  padding: 4px 0;
  background: var(--paper);
  list-style: none;
}

.maps li {
  padding: 1px 8px;
  border: 1px solid var(--rule);
  border-radius: 9px;
  background: var(--paper-high);
  font-size: 11.5px;
  cursor: grab;
}

article {
  margin-bottom: 12px;
  padding: 8px 0 4px;
  border-top: 1px solid var(--rule);
}
</style>
