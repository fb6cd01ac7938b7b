<script setup lang="ts">
import type { PieceSummary } from '@lithe-sieve/contract';
import type { FromPieceParams, StepEntry } from '@lithe-sieve/core';
import { computed, onMounted, ref, shallowRef } from 'vue';
import { listPieces, openPiece } from '../../../api/pieces.api';
import { useBringInStore } from '../../../stores/bring-in.store';
import { useEngineStore } from '../../../stores/engine.store';
import { usePieceStore } from '../../../stores/piece.store';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: object, what: string] }>();
const piece = usePieceStore();
const engine = useEngineStore();
const bringIn = useBringInStore();

const others = shallowRef<PieceSummary[]>([]);
const busy = ref(false);
const trouble = ref('');
onMounted(async () => {
  others.value = (await listPieces()).filter((p) => p.id !== piece.id);
});

const source = computed(() => piece.sources.find((s) => s.id === (props.step.params as FromPieceParams).sourceId));

/** Its mask as it is now becomes a source here, so that nothing changes behind this piece's back. */
async function take(id: string): Promise<void> {
  busy.value = true;
  trouble.value = '';
  try {
    const { doc } = await openPiece(id);
    const png = await engine.engine().maskFileOf(doc);
    const file = new File([png as BlobPart], `${doc.name}, mask.png`.slice(0, 200));
    const sourceId = await bringIn.asSource(file);
    if (sourceId) emit('commit', { sourceId }, `the mask of ${doc.name}`);
  } catch (error) {
    trouble.value = (error as Error).message;
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <label class="field">
    <span>Take the mask of</span>
    <ElSelect
      :model-value="source?.fileName.replace(/, mask\.png$/, '') ?? ''"
      size="small"
      aria-label="Take the mask of"
      placeholder="choose a piece"
      no-data-text="There is no other piece yet."
      data-test="piece"
      :loading="busy"
      @change="take"
    >
      <ElOption v-for="p in others" :key="p.id" :value="p.id" :label="p.name" />
    </ElSelect>
  </label>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
  <p class="soft">It is kept as it is now; choose it again to take it anew.</p>
</template>

<style scoped>
.field {
  display: grid;
  gap: 4px;
  margin-bottom: 6px;
}
</style>
