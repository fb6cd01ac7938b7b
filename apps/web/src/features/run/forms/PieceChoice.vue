<script setup lang="ts">
import type { FromPieceParams, StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBringInStore } from '../../../stores/bring-in.store';
import { usePiece } from '../../../stores/open-piece/open-piece';
import { useMapFile, type OtherPiece } from '../../stock/other-pieces';
import OtherPieceChoice from '../../stock/OtherPieceChoice.vue';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: object, what: string] }>();
const piece = usePiece();
const mapFile = useMapFile();
const bringIn = useBringInStore();

const source = computed(() => piece.sources.find((s) => s.id === (props.step.params as FromPieceParams).sourceId));

/** The mask becomes a source here. */
async function choose(other: OtherPiece): Promise<void> {
  const sourceId = await bringIn.asSource((await mapFile(other)).file);
  if (sourceId) emit('commit', { sourceId }, `the mask of ${other.doc.name}`);
}
</script>

<template>
  <OtherPieceChoice
    label="Take the mask of"
    :shown="source?.fileName.replace(/, mask\.png$/, '') ?? ''"
    :use="choose"
  />
  <p class="soft">It stays as it is now. Choose it again to update it.</p>
</template>
