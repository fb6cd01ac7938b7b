<script setup lang="ts">
import { STORAGE_NAMES, STORAGES, type Storage } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, watch } from 'vue';
import TroubleNote from '../../components/TroubleNote.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useStorageStore } from '../../stores/storage.store';

const store = useStorageStore();
const bench = useBenchStore();

/** Five figures and more are too wide for the tray. */
const inShort = (n: number) => (n < 10_000 ? String(n) : `${Math.round(n / 1000)}k`);
const steps = (error: number | null) => (error === null ? '–' : error.toFixed(1));
const lines = computed(() =>
  STORAGE_NAMES.flatMap((storage) => {
    const row = store.rows.get(storage);
    if (!row) return [];
    const same = row.exact.flips === row.plain.flips && row.exact.alphaError === row.plain.alphaError;
    return [
      { storage, by: 'exact' as const, label: STORAGES[storage].label, ...row.exact },
      ...(same ? [] : [{ storage, by: 'plain' as const, label: STORAGES[storage].plain, ...row.plain }]),
    ];
  }),
);
/** One unit for all, in which none comes to nothing. */
const unit = computed(() => (lines.value.some((line) => line.bytes >= 1e6) ? 'MB' : 'kB'));
function sizeOf(bytes: number): string {
  const size = bytes / (unit.value === 'MB' ? 1e6 : 1e3);
  return size.toFixed(size < 10 ? 2 : 1);
}
const isShown = (storage: Storage, by: string) => store.shown?.storage === storage && store.shown.by === by;
const isMarked = (storage: Storage, by: string) => store.marked?.storage === storage && store.marked.by === by;

watch(
  () => store.marked,
  (marked) => {
    const texels = marked && store.rows.get(marked.storage)?.[marked.by].texels;
    bench.texelMarks = texels ? { ...store.size, texels } : null;
  },
  { immediate: true },
);
onBeforeUnmount(() => {
  bench.texelMarks = null;
  store.endPreview();
});

function mark(storage: Storage, by: 'exact' | 'plain'): void {
  store.marked = isMarked(storage, by) ? null : { storage, by };
}
</script>

<template>
  <h2>Compression</h2>
  <p class="soft hint">
    What a graphics card would read out of each format at the full size. Ours keep every texel on its side of the
    cutoff; a plain encoder takes the nearest value.
  </p>
  <p class="buttons">
    <ElButton
      v-if="!store.running"
      size="small"
      type="primary"
      :disabled="!store.canRun"
      data-test="compare-storage"
      @click="store.run()"
    >
      {{ store.rows.size > 0 ? 'Compare again' : 'Compare formats' }}
    </ElButton>
    <template v-else>
      <span role="status">{{ STORAGES[store.running].label }} {{ Math.round(100 * store.progress) }} %</span>
      <ElButton size="small" @click="store.cancel()">Cancel</ElButton>
    </template>
  </p>
  <TroubleNote v-if="store.failure" :message="store.failure.message" :remedy="store.failure.remedy" />
  <p v-if="store.preview" class="soft hint" role="status" data-test="storage-shown">
    Sheet and Stand show what is read out of {{ STORAGES[store.shown!.storage].label
    }}{{ store.shown!.by === 'plain' ? `, ${STORAGES[store.shown!.storage].plain}` : '' }}.
  </p>
  <p v-if="store.rows.size > 0 && !store.current && !store.running" class="soft hint">
    The piece has changed since: these figures are out of date.
  </p>
  <table v-if="lines.length > 0" class="figures" data-test="storage-figures">
    <caption>
      Texels that change side, and errors of alpha and of kept colour in steps of a byte. Press a name to see what is
      read out of it
    </caption>
    <thead>
      <tr>
        <th scope="col">format</th>
        <th scope="col">{{ unit }}</th>
        <th scope="col">flips</th>
        <th scope="col">alpha</th>
        <th scope="col">colour</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in lines" :key="`${line.storage} ${line.by}`" :class="{ soft: line.by === 'plain' }">
        <th scope="row" :class="line.by">
          <button
            class="linked"
            :aria-pressed="isShown(line.storage, line.by)"
            :aria-label="`${STORAGES[line.storage].label}${line.by === 'plain' ? `, ${line.label}` : ''}: show it on Sheet and Stand`"
            :disabled="!store.current || store.running !== null"
            @click="store.show(line.storage, line.by)"
          >
            {{ line.label }}
          </button>
        </th>
        <td>{{ line.by === 'exact' ? sizeOf(line.bytes) : '' }}</td>
        <td>
          <button
            v-if="line.flips > 0"
            class="linked"
            :aria-pressed="isMarked(line.storage, line.by)"
            :aria-label="`${line.flips} texels change side in ${line.label}: mark them on the Sheet`"
            @click="mark(line.storage, line.by)"
          >
            {{ inShort(line.flips) }}
          </button>
          <template v-else>0</template>
        </td>
        <td>{{ steps(line.alphaError) }}</td>
        <td>{{ steps(line.colourError) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.hint {
  margin: 2px 0 10px;
}

.buttons {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

table {
  margin-top: 10px;
  white-space: nowrap;
}

caption {
  white-space: normal;
}

th[scope='row'],
thead th:first-child {
  text-align: left;
}

th.plain {
  padding-left: 8px;
  font-weight: 400;
}

th .linked {
  color: inherit;
}
</style>
