<script setup lang="ts">
import { boxOfStroke, idleStrokes, isHandStep, type BrushStroke, type SourceRef } from '@lithe-sieve/core';
import { computed, shallowRef, watch } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';

/** What was done by hand on top of a recipe, and where it repairs nothing any more since the recipe moved away. */
const props = defineProps<{ source: SourceRef }>();
const piece = usePiece();
const bench = useBenchStore();
const engine = useEngine();

const steps = computed(() =>
  piece.run.filter(isHandStep).filter((s) => s.kind === 'strokes' && s.on && s.params.strokes.length > 0),
);
const count = computed(() => steps.value.reduce((sum, s) => sum + s.params.strokes.length, 0));
const idle = shallowRef<BrushStroke[]>([]);
let shown = -1;

async function look(): Promise<void> {
  const { doc } = piece;
  const found: BrushStroke[] = [];
  for (const step of doc ? steps.value : []) {
    const mask = (await engine.engine().maskBefore(doc!, step.id))?.[0];
    if (!mask) return; // a change came in between, which looks again
    const strokes = step.params.strokes.flatMap((id) => piece.strokes.get(id) ?? []);
    found.push(...idleStrokes(strokes, mask));
  }
  idle.value = found;
  shown = -1;
}
watch(
  () => [engine.busy, props.source.sha256, count.value] as const,
  ([busy]) => void (busy || look()),
  { immediate: true },
);

/** One after the other. */
function show(): void {
  shown = (shown + 1) % idle.value.length;
  const box = boxOfStroke(idle.value[shown]);
  if (box) bench.look = box;
}
</script>

<template>
  <div v-if="count > 0" class="soft" role="status" data-test="by-hand-stays">
    <p>
      Drawn by hand: {{ count }} {{ count === 1 ? 'stroke' : 'strokes' }}. What was drawn stays where it is when this
      changes.
    </p>
    <p v-if="idle.length > 0" class="warn">
      {{ idle.length }} of {{ count }} repair nothing now: what was under them has moved away.
      <ElButton size="small" data-test="show-idle" @click="show"
        >Show {{ idle.length > 1 ? 'the next' : 'it' }}</ElButton
      >
    </p>
  </div>
</template>

<style scoped>
.warn {
  color: var(--amber);
}
</style>
