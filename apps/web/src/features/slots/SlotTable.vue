<script setup lang="ts">
// Every slot of the material, and what fills it: press one to change that.
import { computed, shallowRef } from 'vue';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { SLOT_ROWS, useSlotActions, type SlotRow } from '../../actions/slot-actions';
import SlotFilling from './SlotFilling.vue';

const piece = usePiece();
const engine = useEngine();
const actions = useSlotActions();

const open = shallowRef<SlotRow | null>(null);
const reports = computed(() => new Map(engine.steps.map((s) => [s.stepId, s])));
const rows = computed(() =>
  SLOT_ROWS.map((row) => {
    const step = actions.stepOf(row);
    const report = step && reports.value.get(step.id);
    const first = piece.sources[0];
    const own = row.map === 'colour' && first ? engine.sourceThumbs.get(first.sha256) : null;
    return {
      row,
      said: actions.saidOf(row),
      thumb: step?.on ? (report?.thumb ?? null) : (own ?? null),
      trouble: report?.error,
    };
  }),
);
</script>

<template>
  <section class="slots" aria-label="Slots of the material">
    <h3>Slots</h3>
    <ul>
      <li v-for="{ row, said, thumb, trouble } in rows" :key="row.map">
        <button
          type="button"
          class="slot"
          :aria-expanded="open === row"
          :data-test="`slot-${row.map}`"
          @click="open = open === row ? null : row"
        >
          <ThumbCanvas v-if="thumb" class="thumb" :thumb="thumb" />
          <i v-else class="thumb" />
          <span>{{ row.label }}</span>
          <small :class="{ failed: trouble }">{{ trouble ? 'not computed' : said }}</small>
        </button>
        <SlotFilling v-if="open === row" :row="row" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.slots {
  margin: 14px 0;
}

h3 {
  margin-bottom: 4px;
  font-size: 13px;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

.slot {
  display: grid;
  grid-template-columns: 26px auto 1fr;
  align-items: center;
  gap: 8px;
  width: 100%;
  padding: 2px 0;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.slot[aria-expanded='true'] {
  border-bottom-color: var(--green);
  font-weight: 650;
}

.thumb {
  width: 26px;
  height: 26px;
  object-fit: contain;
  background: var(--paper-deep);
}

small {
  overflow: hidden;
  color: var(--ink-soft);
  text-align: right;
  text-overflow: ellipsis;
  white-space: nowrap;
}

small.failed {
  color: var(--red);
}
</style>
