<script setup lang="ts">
import { usePieceStore } from '../../stores/piece.store';
import { useClipStore } from '../../stores/clip.store';

const piece = usePieceStore();
const clip = useClipStore();
</script>

<template>
  <span v-if="piece.doc">
    {{ piece.doc.levels.madeBy === 'target' ? 'by target' : 'in file' }}
    <b v-if="piece.doc.levels.madeBy === 'target'">{{ piece.doc.levels.hold ? 'held' : 'plain' }}</b>
    <b v-else>{{ piece.doc.levels.keep }}</b>
    <small>{{ clip.failure ? 'failed' : clip.busy ? 'making…' : `${clip.summaries.length} levels` }}</small>
  </span>
</template>
