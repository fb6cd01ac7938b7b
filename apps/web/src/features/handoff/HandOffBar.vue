<script setup lang="ts">
// What it takes, on disk and on the card, beside what it may take; what would save some.
import { bytesOnCard, savingsOf } from '@lithe-sieve/core';
import { computed } from 'vue';
import { usePackActions } from '../../actions/pack-actions';
import { inMegabytes } from '../../components/megabytes';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import BudgetMeter from './BudgetMeter.vue';
import { levelState } from './level-state';

const props = defineProps<{ disk: (number | null)[] }>();
const piece = usePiece();
const engine = useEngine();
const { setBudget, save } = usePackActions();

/** Shown at once; the bar is narrow. */
const MOST_SAVINGS = 3;
const onDisk = computed(() => props.disk.reduce((sum: number, bytes) => sum + (bytes ?? 0), 0));
const state = computed(() => levelState(engine, 128));
const onCard = computed(() => {
  const { doc } = piece;
  return doc && engine.size && state.value ? bytesOnCard(doc, engine.size, state.value) : 0;
});
const savings = computed(() => {
  const { doc } = piece;
  return doc && engine.size && state.value ? savingsOf(doc, engine.size, state.value).slice(0, MOST_SAVINGS) : [];
});
const budget = computed(() => piece.doc?.handOff.budget ?? {});

function setMost(which: 'disk' | 'card', bytes: number | undefined): void {
  const others = { ...budget.value };
  delete others[which];
  const words = bytes === undefined ? 'no limit' : inMegabytes(bytes);
  setBudget(
    bytes === undefined ? others : { ...others, [which]: bytes },
    `${which === 'disk' ? 'on disk' : 'on the card'} ${words}`,
  );
}
</script>

<template>
  <footer class="bar">
    <BudgetMeter :bytes="onDisk" :most="budget.disk" what="on disk" @most="setMost('disk', $event)" />
    <BudgetMeter :bytes="onCard" :most="budget.card" what="on the card" @most="setMost('card', $event)" />
    <ul v-if="savings.length" aria-label="What saves bytes on the card">
      <li v-for="saving in savings" :key="saving.label">
        {{ saving.label }}
        <button
          type="button"
          data-test="saving"
          :aria-label="`${saving.label}: saves ${inMegabytes(saving.bytes)}`"
          @click="save(saving)"
        >
          −{{ inMegabytes(saving.bytes) }}
        </button>
      </li>
    </ul>
    <div class="deed"><slot /></div>
  </footer>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 24px;
  align-items: center;
  min-height: 76px;
  padding: 6px 18px;
  border-top: 1px solid var(--rule);
  background: var(--paper-deep);
}

ul {
  margin: 0;
  padding: 0;
  font-size: 12.5px;
  list-style: none;
}

li button {
  padding: 0;
  border: 0;
  background: none;
  color: var(--green);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}

.deed {
  display: flex;
  flex: 1;
  gap: 18px;
  align-items: center;
  justify-content: flex-end;
  min-width: 180px;
}
</style>
