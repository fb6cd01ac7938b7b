<script setup lang="ts">
import { RECIPE_SEED, type PinnedBlade, type SourceRef, type TuftParams } from '@lithe-sieve/core';
import { Dices, X } from 'lucide-vue-next';
import { nextTick, useTemplateRef, watch } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import { useBenchStore } from '../../stores/bench.store';

/** Blades that stay as they are while the others grow from another seed. */
const props = defineProps<{ source: SourceRef; params: TuftParams }>();
const actions = useRecipeActions();
const bench = useBenchStore();
const list = useTemplateRef<HTMLElement>('list');

// one that is selected on the Sheet is seen in the list
watch(
  () => bench.blade,
  async () => {
    await nextTick();
    list.value?.querySelector('li.on')?.scrollIntoView({ block: 'nearest' });
  },
);

function release(blade: number): void {
  const pinned = props.params.pinned.filter((p) => p.blade !== blade);
  actions.set(props.source, { pinned }, `blade ${blade + 1} released`);
}

function change(pin: PinnedBlade, news: Partial<PinnedBlade>, what: string): void {
  const pinned = props.params.pinned.map((p) => (p === pin ? { ...p, ...news } : p));
  actions.set(props.source, { pinned }, `blade ${pin.blade + 1} ${what}`);
}

/** Pressed again, it goes back to its own depth. */
function setOrder(pin: PinnedBlade, order: 'front' | 'back'): void {
  const own = pin.order === order;
  change(pin, { order: own ? undefined : order }, own ? 'at its own depth' : `to the ${order}`);
}

const reseed = (pin: PinnedBlade) => change(pin, { seed: 1 + Math.floor(Math.random() * RECIPE_SEED.max) }, 'reseeded');
</script>

<template>
  <details :open="params.pinned.length > 0">
    <summary>Pinned blades ({{ params.pinned.length }})</summary>
    <p class="soft">Touch a blade on the Sheet to pin it, then drag its root or its tip. It is released here.</p>
    <ul ref="list">
      <li v-for="pin in params.pinned" :key="pin.blade" :class="{ on: bench.blade === pin.blade }">
        <button
          class="blade"
          :aria-pressed="bench.blade === pin.blade"
          :aria-label="`Blade ${pin.blade + 1}: show its handles`"
          @click="bench.blade = bench.blade === pin.blade ? null : pin.blade"
        >
          Blade {{ pin.blade + 1 }}
        </button>
        <span class="tools">
          <button
            v-for="order in ['front', 'back'] as const"
            :key="order"
            :class="{ on: pin.order === order }"
            :aria-pressed="pin.order === order"
            :aria-label="`Blade ${pin.blade + 1} to the ${order}`"
            @click="setOrder(pin, order)"
          >
            {{ order }}
          </button>
          <button :aria-label="`Reseed blade ${pin.blade + 1}`" @click="reseed(pin)"><Dices :size="13" /></button>
          <button :aria-label="`Release blade ${pin.blade + 1}`" @click="release(pin.blade)"><X :size="13" /></button>
        </span>
      </li>
    </ul>
    <ElButton
      v-if="params.pinned.length > 1"
      size="small"
      @click="actions.set(source, { pinned: [] }, 'all blades released')"
      >Release all</ElButton
    >
  </details>
</template>

<style scoped>
.blade {
  padding: 0 4px;
}

li.on .blade {
  color: var(--green);
  font-weight: 650;
}

.tools {
  display: flex;
  gap: 2px;
}

.tools button.on {
  color: var(--green);
  font-weight: 650;
}
</style>
<style scoped src="./recipe-lists.css"></style>
