<script setup lang="ts">
import { type CutByPieceParams, type StepEntry } from '@lithe-sieve/core';
import { computed, ref, watch } from 'vue';
import type { ApiError } from '../../../api/http';
import { openPiece } from '../../../api/pieces.api';
import { useBringInStore } from '../../../stores/bring-in.store';
import { useEngine, usePiece } from '../../../stores/open-piece/open-piece';
import { useMapFile, type OtherPiece, useOtherPieces } from '../../stock/other-pieces';
import OtherPieceChoice from '../../stock/OtherPieceChoice.vue';

/** The piece whose holes are cut: a copy of its mask, which knows whether there is a newer one. */
const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: object, what: string] }>();
const piece = usePiece();
const engine = useEngine();
const bringIn = useBringInStore();
const mapFile = useMapFile();
const { take, busy, trouble } = useOtherPieces();

const params = computed(() => props.step.params as CutByPieceParams);
/** What is known of the other piece: its revision now, that it is gone, or why neither is known. */
const found = ref<{ piece: string; revision?: number; unknown?: string } | null>(null);

async function look(): Promise<void> {
  const { of } = params.value;
  found.value = null;
  if (!of) return;
  const { piece: id } = of;
  const answer = await openPiece(id).then(
    ({ revision }) => ({ piece: id, revision }),
    (error: Error) =>
      (error as Partial<ApiError>).status === 404 ? { piece: id } : { piece: id, unknown: error.message },
  );
  if (params.value.of?.piece === id) found.value = answer; // else another one was chosen meanwhile
}
watch(() => [params.value.of?.piece, params.value.of?.revision], look, { immediate: true });

/** Its card's size and wrap come with it, the first time. */
async function choose(other: OtherPiece): Promise<void> {
  const { doc, id, revision } = other;
  const again = params.value.of?.piece === id && piece.sources.some((s) => s.id === params.value.sourceId);
  const { file, metres } = await mapFile(other);
  const of = { piece: id, name: doc.name, revision };
  if (again) {
    await bringIn.replace(params.value.sourceId, file);
    emit('commit', { of }, `${doc.name}, revision ${revision}`);
    return;
  }
  const sourceId = await bringIn.asSource(file);
  const repeats = doc.levels.wrapAcross === 'repeat';
  if (sourceId) emit('commit', { sourceId, of, repeats, across: Math.round(metres * 1e4) / 10 }, doc.name);
}
</script>

<template>
  <OtherPieceChoice label="Cut by" :shown="params.of?.name ?? ''" test="cut-by" :use="choose" />
  <template v-if="params.of && found">
    <p v-if="found.unknown" role="status">Whether there is a newer one is not known: {{ found.unknown }}</p>
    <p v-else-if="found.revision === undefined" class="soft">
      {{ params.of.name }} is no longer in the Stock. Its copy stays here.
    </p>
    <p v-else-if="found.revision === params.of.revision" class="soft" data-test="cut-newest">
      A copy of its newest revision, {{ found.revision }}.
    </p>
    <p v-else role="status" data-test="cut-newer">
      A copy of revision {{ params.of.revision }}; {{ params.of.name }} is at {{ found.revision }} now.
      <ElButton size="small" :loading="busy" @click="take(params.of.piece, choose)">Take the newer one</ElButton>
    </p>
  </template>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
  <p v-if="engine.size" class="soft">
    “{{ piece.doc?.name }}”, which is cut, is {{ Math.round(1000 * engine.cardWidth) }} mm wide.
  </p>
</template>
