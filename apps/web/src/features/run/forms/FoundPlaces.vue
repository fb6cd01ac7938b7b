<script setup lang="ts">
import type { ClearHolesParams, Place, SmallRegionsParams, StepEntry, TexelAt } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import { useBenchStore } from '../../../stores/bench.store';
import { useEngine } from '../../../stores/open-piece/open-piece';
import { useKeys } from '../../../actions/keys';
import { isMarked, withPlace } from '../../../document/marked-places';

const props = defineProps<{ step: StepEntry; words: { one: string; many: string; verb: string } }>();
const emit = defineEmits<{ commit: [params: object, what: string] }>();
const engine = useEngine();
const bench = useBenchStore();

/** Two ways to decide: all are changed but those left, or only those taken are. */
const params = computed(() => props.step.params as SmallRegionsParams | ClearHolesParams);
const chosenOnly = computed(() => 'taken' in params.value);
const marked = computed(() => ('taken' in params.value ? params.value.taken : params.value.left));
const changes = (place: Place) => isMarked(marked.value, place) === chosenOnly.value;
const applied = computed(() => ('applied' in params.value ? params.value.applied : allTaken.value));
const allTaken = computed(() => Boolean(found.value?.places.every(changes)));
const found = computed(() => (engine.maskIsFull ? engine.mask?.found[props.step.id] : undefined));
const LISTED = 60;
const places = computed(() => found.value?.places.slice(0, LISTED) ?? []);
const count = (n: number) => `${n} ${n === 1 ? props.words.one : props.words.many}`;
const changing = computed(() => found.value?.places.filter(changes).length ?? 0);

function toggle(place: Place): void {
  const list = withPlace(marked.value, place, !isMarked(marked.value, place));
  const what = changes(place) ? 'leave' : props.words.verb.toLowerCase();
  emit('commit', chosenOnly.value ? { taken: list } : { left: list }, `${what} one ${props.words.one}`);
}

/** The place that was shown last by key, and the next one. */
const current = ref(-1);
function showNext(by: number): void {
  const all = found.value?.places ?? [];
  if (all.length === 0) return;
  current.value = (current.value + by + all.length) % all.length;
  bench.look = { ...all[current.value] };
}
useKeys('Places that were found', [
  { key: 'n', label: 'Show the next one close up', run: () => showNext(1) },
  { key: 'p', label: 'Show the one before', run: () => showNext(current.value < 0 ? 0 : -1) },
  {
    key: 'q',
    label: 'Take it or leave it',
    run: () => {
      const place = found.value?.places[current.value];
      if (place) toggle(place);
    },
  },
]);

function toggleAll(): void {
  const all = `${props.words.verb.toLowerCase()} ${count(found.value?.count ?? 0)}`;
  if (!chosenOnly.value) emit('commit', { applied: !applied.value }, applied.value ? 'only show them' : all);
  else emit('commit', { taken: allTaken.value ? [] : takenAll() }, allTaken.value ? 'only show them' : all);
}
const inAll = computed(() => {
  const { count = 0, places: all = [] } = found.value ?? {};
  if (!chosenOnly.value) return 'them';
  return count > all.length ? `the ${all.length} largest` : 'all of them';
});
const takenAll = () => (found.value?.places ?? []).map((p): TexelAt => [p.at[0], p.at[1]]);
</script>

<template>
  <div class="found" data-test="found">
    <p v-if="!found" class="soft" role="status">counting…</p>
    <p v-else-if="found.count === 0" class="soft">No {{ words.many }} of that size.</p>
    <template v-else>
      <p role="status">
        <strong>{{ count(found.count) }}</strong>, {{ found.texels }} texels in all<template
          v-if="changing < found.places.length"
          >, {{ changing }} chosen</template
        >
      </p>
      <ElButton :type="applied ? 'default' : 'primary'" size="small" data-test="apply-found" @click="toggleAll">
        {{ applied ? 'Only show them' : `${words.verb} ${inAll}` }}
      </ElButton>
      <ul aria-label="Places, the largest first">
        <li v-for="(place, i) in places" :key="place.at.join()" :class="{ current: i === current }">
          <input
            type="checkbox"
            :checked="changes(place)"
            :aria-label="`${words.verb} the ${words.one} at ${place.at.join(', ')}`"
            @change="toggle(place)"
          />
          <button :title="'Show it on the Sheet'" @click="bench.look = { ...place }">
            {{ place.texels }} texels at {{ place.at.join(', ') }}
          </button>
        </li>
      </ul>
      <p v-if="found.count > places.length" class="soft">and {{ found.count - places.length }} smaller</p>
    </template>
  </div>
</template>

<style scoped>
.found {
  margin-top: 8px;
}

ul {
  display: grid;
  gap: 1px;
  max-height: 150px;
  margin: 8px 0 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}

li {
  display: flex;
  align-items: center;
  gap: 6px;
}

li.current {
  font-weight: 650;
}

li input {
  accent-color: var(--green);
}

li button {
  padding: 1px 4px;
  border: 0;
  background: none;
  color: inherit;
  font-size: 12px;
  text-align: left;
  cursor: pointer;
}

li button:hover {
  text-decoration: underline;
}
</style>
