<script setup lang="ts">
import { METHODS, type LevelSettings, type MethodFigures, type PieceDoc } from '@lithe-sieve/core';
import { computed, ref, shallowRef } from 'vue';
import { useLevelActions } from '../../actions/level-actions';
import TroubleNote from '../../components/TroubleNote.vue';
import { useClip } from '../../stores/open-piece/open-piece';
import { KEEP_LABELS } from './keep-labels';

const props = defineProps<{ doc: PieceDoc }>();
const clip = useClip();
const { set } = useLevelActions();

const rows = shallowRef<MethodFigures[]>([]);
const of = ref('');
const running = ref(false);
const failure = ref<{ message: string; remedy: string } | null>(null);
const current = computed(() => of.value === clip.methodBasis);

async function compare(): Promise<void> {
  rows.value = [];
  failure.value = null;
  of.value = clip.methodBasis;
  running.value = true;
  try {
    for (const method of METHODS) {
      const figures = await clip.methodOf(method);
      if (!figures || !current.value) break;
      rows.value = [...rows.value, figures];
    }
  } catch (error) {
    failure.value = { message: (error as Error).message, remedy: (error as { remedy?: string }).remedy ?? '' };
  } finally {
    running.value = false;
  }
}

const labelOf = ({ madeBy, hold, keep }: Partial<LevelSettings>) =>
  madeBy === 'target' ? (hold ? 'target, held' : 'target, plain') : `ours, ${KEEP_LABELS[keep!]}`;
const isSet = (settings: Partial<LevelSettings>) =>
  Object.entries(settings).every(([name, value]) => props.doc.levels[name as keyof LevelSettings] === value);
const points = (share: number) => (100 * share).toFixed(1);
</script>

<template>
  <p class="compare">
    <ElButton size="small" :disabled="clip.methodBasis === '' || running" data-test="compare-methods" @click="compare">
      {{ running ? 'Comparing…' : 'Compare all ways' }}
    </ElButton>
    <span v-if="rows.length > 0 && !current" class="soft">out of date</span>
  </p>
  <TroubleNote v-if="failure" v-bind="failure" />
  <table v-if="rows.length > 0" class="figures" data-test="method-figures">
    <caption>
      Worst in all, and means in places (at texels, and as sampled) and of each texel, down to 32 texels. Press a name
      to take it
    </caption>
    <thead>
      <tr>
        <th scope="col">levels</th>
        <th scope="col">in all</th>
        <th scope="col">at texels</th>
        <th scope="col">sampled</th>
        <th scope="col">each</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="labelOf(row.settings)" :class="{ on: isSet(row.settings) }">
        <th scope="row">
          <button class="linked" :aria-pressed="isSet(row.settings)" @click="set(row.settings, labelOf(row.settings))">
            {{ labelOf(row.settings) }}
          </button>
        </th>
        <td>{{ points(row.drift) }}</td>
        <td>{{ points(row.localError) }}</td>
        <td>{{ points(row.sampledError) }}</td>
        <td>{{ points(row.silhouetteError) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.compare {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 10px 0 4px;
}

th:first-child,
th button {
  text-align: left;
}
</style>
