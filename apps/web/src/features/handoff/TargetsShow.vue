<script setup lang="ts">
// What simulated targets make of the files, those of the profile first.
import type { Job, ReceiverReport } from '@lithe-sieve/contract';
import { computed, ref } from 'vue';
import { receiverPicture } from '../../api/handoffs.api';
import { useReceiverCards } from './receiver-cards';
import { usePackActions } from '../../actions/pack-actions';

const props = defineProps<{ job: Job | null; outdated: boolean }>();
const { setGreen } = usePackActions();

const all = computed(() => (props.job?.report?.receivers ?? []).map((receiver, at) => ({ ...receiver, at })));
/** Those of the profile; the others, of which most would show it otherwise, behind a fold. */
const groups = computed(() => {
  const others = all.value.filter((r) => !r.meant);
  const differ = others.filter((r) => !r.agrees).length;
  return [
    { title: '', receivers: all.value.filter((r) => r.meant) },
    { title: `${others.length} targets that the profile is not for: ${differ} would differ`, receivers: others },
  ];
});

/** The others are drawn when somebody looks. */
const unfolded = ref(false);
const cards = useReceiverCards(() => {
  if (!props.job?.report) return null;
  const seen = all.value.filter((r) => r.picture && (r.meant || unfolded.value));
  return { job: props.job.id, places: seen.map((r) => r.at) };
});

/** Shares kept at each level, for those who want to know. */
const levelWords = ({ levels }: Pick<ReceiverReport, 'levels'>) =>
  levels.map((l) => `${l.side}: ${(100 * l.shown).toFixed(1)} % (Bench ${(100 * l.bench).toFixed(1)} %)`).join('\n');
</script>

<template>
  <section class="targets" aria-label="What targets show" :class="{ outdated }">
    <h2>What targets show</h2>
    <template v-for="group in groups" :key="group.title">
      <component
        :is="group.title ? 'details' : 'div'"
        v-if="group.receivers.length"
        @toggle="unfolded ||= ($event.target as HTMLDetailsElement).open"
      >
        <summary v-if="group.title" class="soft" data-test="other-targets">{{ group.title }}</summary>
        <ul>
          <li
            v-for="r in group.receivers"
            :key="r.id"
            :class="{ differs: !r.agrees, meant: r.meant }"
            :data-test="`target-${r.id}`"
            :data-agrees="r.agrees"
          >
            <img v-if="cards.get(r.at)" class="card" :src="cards.get(r.at)" alt="" :data-test="`card-${r.id}`" />
            <img v-else-if="r.picture && job" class="linen" :src="receiverPicture(job.id, r.at)" alt="" />
            <i v-else />
            <div>
              <strong :title="r.rule">{{ r.label }}</strong>
              <p :title="levelWords(r)">{{ r.words }}</p>
              <p v-if="r.remedy" class="remedy">
                <button v-if="r.fix" type="button" @click="setGreen(r.fix.green)">{{ r.remedy }}</button>
                <template v-else>{{ r.remedy }}</template>
              </p>
            </div>
          </li>
        </ul>
      </component>
    </template>
    <p v-if="all.length === 0" class="soft">
      After the files are written, each kind of target reads them by its own rules, and shows here what it makes of
      them.
    </p>
  </section>
</template>

<style scoped>
h2 {
  margin-bottom: 6px;
  font-size: 15px;
  font-weight: 650;
}

summary {
  margin-top: 8px;
  font-size: 12.5px;
  cursor: pointer;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 10px;
  padding: 7px 0 7px 8px;
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}

li.differs.meant {
  border-left-color: var(--amber);
}

li > :first-child {
  width: 84px;
  height: 84px;
  object-fit: contain;
}

strong {
  font-size: 12.5px;
  font-weight: 600;
}

li p {
  font-size: 12px;
  line-height: 1.35;
  color: var(--ink-soft);
}

li.differs.meant p:not(.remedy) {
  color: var(--amber);
}

.remedy button {
  padding: 0;
  border: 0;
  background: none;
  color: var(--green);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}

.outdated ul {
  opacity: 0.55;
}
</style>
