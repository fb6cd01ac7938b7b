<script setup lang="ts">
import type { Snag } from '@lithe-sieve/core';
import { onBeforeUnmount, watch } from 'vue';
import { useSnagActions } from '../../actions/snag-actions';
import { useBenchStore } from '../../stores/bench.store';
import { useHelpStore } from '../../stores/help.store';
import { useClip, useEngine } from '../../stores/open-piece/open-piece';
import WhyPanel from './WhyPanel.vue';

const engine = useEngine();
const clip = useClip();
const bench = useBenchStore();
const help = useHelpStore();

const isMarked = ({ where }: Snag) => where !== undefined && bench.texelMarks?.texels === where.texels;
function mark(snag: Snag): void {
  bench.texelMarks = isMarked(snag) ? null : (snag.where ?? null);
}
// marks of a snag that is gone, or is elsewhere now, mean nothing
watch(
  () => clip.snags,
  (now, before) => {
    const { texelMarks: marks } = bench;
    const isOf = (snags: readonly Snag[]) => snags.some((s) => s.where?.texels === marks?.texels);
    if (marks && isOf(before) && !isOf(now)) bench.texelMarks = null;
  },
);
onBeforeUnmount(() => {
  if (clip.snags.some(isMarked)) bench.texelMarks = null;
});

const { mend } = useSnagActions();
</script>

<template>
  <section class="snags" aria-label="Snags" aria-live="polite">
    <h2>
      <span>Snags</span><WhyPanel v-if="bench.open" /><span class="soft">{{ clip.snags.length }}</span>
    </h2>
    <ul v-if="clip.snags.length > 0" :class="{ provisional: clip.provisional }">
      <li v-for="snag in clip.snags" :key="snag.id" :data-test="`snag-${snag.id}`" :data-help="`snags.md#${snag.id}`">
        <p>{{ snag.text }}</p>
        <button v-if="snag.remedy" @click="mend(snag)">{{ snag.remedy.label }}</button>
        <button
          v-if="snag.where && bench.open"
          :aria-pressed="isMarked(snag)"
          :data-test="`where-${snag.id}`"
          @click="mark(snag)"
        >
          {{ isMarked(snag) ? 'Hide where' : 'Show where' }}
        </button>
        <a
          href="#"
          class="more"
          :aria-label="`What is this: ${snag.text}`"
          @click.prevent="help.show(`snags.md#${snag.id}`)"
          >What is this?</a
        >
      </li>
    </ul>
    <p v-else class="soft">
      {{ engine.mask ? 'No snags' : 'Checked once the mask is computed.' }}
    </p>
  </section>
</template>

<style scoped>
.snags {
  min-width: 0;
  padding: 8px 14px 6px;
  overflow-y: auto;
}

h2 {
  display: flex;
  justify-content: space-between;
  min-height: 24px;
  align-items: center;
  font-size: 12px;
  font-weight: 600;
}

ul {
  display: grid;
  gap: 9px;
  margin: 2px 0 0;
  padding: 0;
  list-style: none;
}

li {
  padding-left: 10px;
  border-left: 3px solid var(--amber);
}

button {
  margin-right: 12px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--green);
  font-size: inherit;
  text-align: left;
  text-decoration: underline;
  text-underline-offset: 2px;
  cursor: pointer;
}

.more {
  color: var(--ink-soft);
}
</style>
