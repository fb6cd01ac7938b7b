<script setup lang="ts">
import { useClip, useEngine } from '../../stores/open-piece/open-piece';
import { useClipLook } from '../../stores/open-piece/use-clip-look';
import { BREAK_KINDS, type LevelBreaks, type PieceDoc } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useKeys } from '../../actions/keys';
import TroubleNote from '../../components/TroubleNote.vue';
import { useBenchStore } from '../../stores/bench.store';
import { metresTo } from '../levels/metres';

defineProps<{ doc: PieceDoc }>();
const engine = useEngine();
const clip = useClip();
useClipLook('breaks');
const bench = useBenchStore();

const HEADS = { 'comes apart': 'apart', vanishes: 'gone', 'loses its end': 'ends' } as const;
/** A loss that is worth a look comes first. */
const NOTABLE = 0.01;

const chosen = ref<number | null>(null);
const current = ref(-1);
const level = computed<LevelBreaks | null>(() => {
  const all = clip.breaks ?? [];
  return all.find((l) => l.level === chosen.value) ?? all.find((l) => l.share > NOTABLE) ?? all[0] ?? null;
});
const none = computed(() => clip.breaks?.every(({ worst }) => worst.length === 0));
const percent = (share: number) => `${(100 * share).toFixed(share < 0.00995 ? 2 : share < 0.0995 ? 1 : 0)} %`;

watch(
  level,
  (shown) => {
    current.value = -1;
    bench.texelMarks = shown && shown.marks.texels.length > 0 ? shown.marks : null;
  },
  { immediate: true },
);
onBeforeUnmount(() => (bench.texelMarks = null));

function show(index: number): void {
  const { worst = [] } = level.value ?? {};
  if (worst.length === 0) return;
  current.value = (index + worst.length) % worst.length;
  bench.look = { ...worst[current.value].box };
}
function nextLevel(by: number): void {
  const at = clip.breaks?.findIndex((l) => l === level.value) ?? -1;
  chosen.value = clip.breaks?.[at + by]?.level ?? level.value?.level ?? null;
}
useKeys('What breaks', [
  { key: 'n', label: 'Show the next lost part close up', run: () => show(current.value + 1) },
  { key: 'p', label: 'Show the one before', run: () => show(current.value < 0 ? 0 : current.value - 1) },
  { key: 'Alt+ArrowDown', label: 'What breaks further away', run: () => nextLevel(1) },
  { key: 'Alt+ArrowUp', label: 'What breaks nearer', run: () => nextLevel(-1) },
]);
</script>

<template>
  <h2>What breaks</h2>
  <p class="soft hint">
    Thin parts of the silhouette that a mip level does not show: how many come apart, are gone, or lose an end, and how
    much of all that is kept.
  </p>
  <TroubleNote v-if="clip.failure ?? clip.breaksFailure" v-bind="(clip.failure ?? clip.breaksFailure)!" />
  <p v-else-if="!clip.breaks" class="soft" role="status">Looking at every level…</p>
  <p v-else-if="doc.material.mode !== 'mask'" class="soft hint">
    Nothing is clipped in mode {{ doc.material.mode }}: this is what a clip at {{ doc.material.cutoff }} would lose.
  </p>
  <p v-if="none" role="status">Nothing breaks on any level down to 16 texels.</p>
  <template v-else-if="clip.breaks && level">
    <table class="figures" data-test="breaks">
      <thead>
        <tr>
          <th scope="col">width</th>
          <th scope="col">from</th>
          <th v-for="kind in BREAK_KINDS" :key="kind" scope="col">{{ HEADS[kind] }}</th>
          <th scope="col">lost</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in clip.breaks" :key="l.level" :class="{ on: l === level }">
          <th scope="row">
            <button
              class="linked"
              :aria-pressed="l === level"
              :aria-label="`What breaks at a width of ${l.width} texels: mark it`"
              @click="chosen = l.level"
            >
              {{ l.width }}
            </button>
          </th>
          <td>{{ metresTo(l.width, doc, engine.cardWidth) }}</td>
          <td v-for="kind in BREAK_KINDS" :key="kind">{{ l.counts[kind] || '–' }}</td>
          <td>{{ percent(l.share) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft hint">
      Marked on the Sheet: what is lost from {{ metresTo(level.width, doc, engine.cardWidth) }} on. Largest losses, in
      parts of what is kept:
    </p>
    <ol v-if="level.worst.length > 0" aria-label="Lost parts, the largest first" data-test="break-list">
      <li v-for="(part, i) in level.worst" :key="i" :class="{ on: i === current }">
        <button class="linked" title="Show it on the Sheet" @click="show(i)">
          {{ percent(part.share) }} {{ part.kind }} at {{ Math.round((part.box.x0 + part.box.x1) / 2) }},
          {{ Math.round((part.box.y0 + part.box.y1) / 2) }}
        </button>
      </li>
    </ol>
    <p v-else class="soft">Nothing on this level.</p>
  </template>
</template>

<style scoped>
.hint {
  margin: 2px 0 10px;
}

table {
  margin-bottom: 8px;
}

ol {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 12px;
}

li.on .linked {
  font-weight: 650;
}

li .linked {
  color: var(--ink);
  text-align: left;
  text-decoration: none;
}

li .linked:hover {
  text-decoration: underline dotted;
}
</style>
