<script setup lang="ts">
import type { PieceSummary } from '@lithe-sieve/contract';
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue';
import GoneCard from './GoneCard.vue';
import PieceCard from './PieceCard.vue';

/** A grid of any length: only the rows in view, and a few around them, are there. */
const props = defineProps<{
  count: number;
  at: (index: number) => PieceSummary | undefined;
  /** Deleted pieces whose places are kept, and who holds copies of them. */
  gone: ReadonlyMap<string, readonly string[]>;
}>();
const emit = defineEmits<{
  show: [from: number, to: number];
  rename: [piece: PieceSummary];
  duplicate: [piece: PieceSummary];
  remove: [piece: PieceSummary];
  restore: [piece: PieceSummary];
}>();

const NARROWEST = 236;
const GAP = 24;
const ROW = 340;
/** Rows kept on each side of what is seen. */
const AROUND = 2;

const grid = useTemplateRef<HTMLElement>('grid');
const columns = ref(1);
const top = ref(0);
const height = ref(800);

const rows = computed(() => Math.ceil(props.count / columns.value));
const first = computed(() => Math.max(0, Math.floor(top.value / ROW) - AROUND));
const last = computed(() => Math.min(rows.value, Math.ceil((top.value + height.value) / ROW) + AROUND));
const indices = computed(() => {
  const [from, to] = [first.value * columns.value, Math.min(props.count, last.value * columns.value)];
  return Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
});

let scroller: HTMLElement | null = null;
let observer: ResizeObserver | null = null;

function measure(): void {
  if (!grid.value || !scroller) return;
  columns.value = Math.max(1, Math.floor((grid.value.clientWidth + GAP) / (NARROWEST + GAP)));
  top.value = scroller.getBoundingClientRect().top - grid.value.getBoundingClientRect().top;
  height.value = scroller.clientHeight;
}

onMounted(() => {
  scroller = grid.value!.closest<HTMLElement>('[data-scrolls]');
  scroller?.addEventListener('scroll', measure, { passive: true });
  observer = new ResizeObserver(measure);
  observer.observe(grid.value!);
  measure();
});
onBeforeUnmount(() => {
  scroller?.removeEventListener('scroll', measure);
  observer?.disconnect();
});
watch([indices, () => props.count], ([now]) => now.length > 0 && emit('show', now[0], now[now.length - 1] + 1), {
  immediate: true,
});
</script>

<template>
  <div ref="grid" class="grid" :style="{ height: `${rows * ROW}px` }">
    <ul
      :style="{ transform: `translateY(${first * ROW}px)`, gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }"
    >
      <li v-for="i in indices" :key="at(i)?.id ?? `at ${i}`">
        <GoneCard
          v-if="gone.has(at(i)?.id ?? '')"
          :piece="at(i)!"
          :used-by="gone.get(at(i)!.id)!"
          @restore="$emit('restore', at(i)!)"
        />
        <PieceCard
          v-else-if="at(i)"
          :piece="at(i)!"
          @rename="$emit('rename', at(i)!)"
          @duplicate="$emit('duplicate', at(i)!)"
          @remove="$emit('remove', at(i)!)"
        />
        <div v-else class="linen place" />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.grid {
  position: relative;
}

ul {
  display: grid;
  grid-auto-rows: 340px;
  column-gap: 24px;
  position: absolute;
  inset: 0 0 auto;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  min-width: 0;
  overflow: hidden;
}

.place {
  height: 216px;
  border-radius: 5px;
  opacity: 0.4;
}
</style>
