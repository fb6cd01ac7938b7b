<script setup lang="ts">
import type { Place, SmallRegionsParams, StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBenchStore } from '../../../stores/bench.store';
import { useEngineStore } from '../../../stores/engine.store';
import { isLeft, withPlace } from './places';

const props = defineProps<{ step: StepEntry; words: { one: string; many: string; verb: string } }>();
const emit = defineEmits<{ commit: [params: Partial<SmallRegionsParams>, what: string] }>();
const engine = useEngineStore();
const bench = useBenchStore();

const params = computed(() => props.step.params as SmallRegionsParams);
const found = computed(() => (engine.maskIsFull ? engine.mask?.found[props.step.id] : undefined));
const LISTED = 60;
const places = computed(() => found.value?.places.slice(0, LISTED) ?? []);
const count = (n: number) => `${n} ${n === 1 ? props.words.one : props.words.many}`;
const left = computed(() => found.value?.places.filter((p) => isLeft(params.value.left, p)).length ?? 0);

function toggle(place: Place): void {
  const was = isLeft(params.value.left, place);
  emit(
    'commit',
    { left: withPlace(params.value.left, place, !was) },
    `${was ? 'take' : 'leave'} one ${props.words.one}`,
  );
}
</script>

<template>
  <div class="found" data-test="found">
    <p v-if="!found" class="soft" role="status">counting…</p>
    <p v-else-if="found.count === 0" class="soft">No {{ words.many }} of that size.</p>
    <template v-else>
      <p role="status">
        <strong>{{ count(found.count) }}</strong>, {{ found.texels }} texels in all<template v-if="left"
          >, {{ left }} left as they are</template
        >
      </p>
      <ElButton
        :type="params.applied ? 'default' : 'primary'"
        size="small"
        data-test="apply-found"
        @click="
          emit(
            'commit',
            { applied: !params.applied },
            params.applied ? 'only show them' : `${words.verb.toLowerCase()} ${count(found.count)}`,
          )
        "
      >
        {{ params.applied ? 'Only show them' : `${words.verb} ${found.count - left === 1 ? 'it' : 'them'}` }}
      </ElButton>
      <ul aria-label="Places, the largest first">
        <li v-for="place in places" :key="place.at.join()">
          <input
            type="checkbox"
            :checked="!isLeft(params.left, place)"
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
