<script setup lang="ts">
import { lineLength, type PieceDoc } from '@lithe-sieve/core';
import { computed, onBeforeUnmount } from 'vue';
import { useLineActions } from '../../actions/line-actions';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine } from '../../stores/open-piece/open-piece';

/** The line that cards stand along. */
const props = defineProps<{ doc: PieceDoc }>();
const bench = useBenchStore();
const engine = useEngine();
const line = useLineActions();
onBeforeUnmount(() => (bench.lining = false));

const places = computed(() => (engine.size ? line.of(props.doc, engine.size, engine.cardWidth) : null));
const metres = computed(() => (places.value ? lineLength(places.value) : 0));
</script>

<template>
  <template v-if="places">
    <p class="soft hint" role="status" data-test="line-length">
      <template v-if="bench.lining">Drag over the ground of the Stand, from end to end. Esc ends it.</template>
      <template v-else>
        {{ metres.toPrecision(3) }} m, a card every {{ (metres / (doc.set?.cards ?? 1)).toPrecision(3) }} m. Places are
        dragged on the Stand; dark dots add one.
      </template>
    </p>
    <div class="hands">
      <ElButton
        size="small"
        :type="bench.lining ? 'primary' : undefined"
        :aria-pressed="bench.lining"
        data-test="draw-line"
        @click="bench.lining = !bench.lining"
      >
        Draw the line
      </ElButton>
      <ElButton size="small" data-test="fill-line" @click="line.fill(places, engine.cardWidth)">Fill it</ElButton>
      <ElButton size="small" @click="line.set(places.toReversed(), 'turned round')">Turn round</ElButton>
    </div>
  </template>
</template>

<style scoped>
.hint {
  margin: 4px 0 8px;
}

.hands {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 12px;
}

.hands :deep(.el-button) {
  margin: 0;
}
</style>
