<script setup lang="ts">
import type { Suggestion } from '@lithe-sieve/core';
import { computed } from 'vue';

const props = defineProps<{
  suggestions: readonly Suggestion[];
  /** Left edge and width of the plot, in CSS pixels. */
  plot: { left: number; width: number };
  /** The one that is taken now. */
  cutoff: number;
}>();
const emit = defineEmits<{ take: [suggestion: Suggestion] }>();

/** CSS pixels: width and height of a mark, and what is free between two. */
const WIDE = 16;
const TALL = 16;
const FREE = 4;

const marks = computed(() => {
  const rows: number[] = []; // right end of each row
  return [...props.suggestions]
    .sort((a, b) => a.cutoff - b.cutoff)
    .map((suggestion) => {
      const x = props.plot.left + suggestion.cutoff * props.plot.width;
      const found = rows.findIndex((end) => end + FREE <= x - WIDE / 2);
      const row = found < 0 ? rows.length : found;
      rows[row] = x + WIDE / 2;
      return { suggestion, left: x - WIDE / 2, bottom: row * (TALL + FREE) };
    });
});
</script>

<template>
  <div class="marks" role="group" aria-label="Suggested cutoffs">
    <ElTooltip
      v-for="{ suggestion, left, bottom } in marks"
      :key="suggestion.kind"
      :content="`${suggestion.label} ${suggestion.cutoff}: ${suggestion.reason}`"
      placement="top"
    >
      <button
        :style="{ left: `${left}px`, bottom: `${bottom}px`, width: `${WIDE}px`, height: `${TALL}px` }"
        :class="{ on: suggestion.cutoff === cutoff }"
        :aria-label="`Cutoff ${suggestion.cutoff}, ${suggestion.label}: ${suggestion.reason}`"
        :aria-pressed="suggestion.cutoff === cutoff"
        :data-test="`suggest-${suggestion.kind}`"
        @pointerdown.stop
        @click="emit('take', suggestion)"
      >
        {{ suggestion.letter }}
      </button>
    </ElTooltip>
  </div>
</template>

<style scoped>
.marks {
  position: absolute;
  inset: 0;
  pointer-events: none;
}

button {
  position: absolute;
  padding: 0;
  border: 1px solid var(--ink-soft);
  border-radius: 50% 50% 0 0;
  background: var(--paper-high);
  color: var(--ink);
  font-size: 10.5px;
  font-weight: 600;
  line-height: 14px;
  pointer-events: auto;
  cursor: pointer;
}

button:hover,
button.on {
  border-color: var(--green);
  background: var(--green);
  color: var(--paper-high);
}
</style>
