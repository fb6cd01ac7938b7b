<script setup lang="ts">
import { useClip, usePiece } from '../../stores/open-piece/open-piece';

const piece = usePiece();
const clip = useClip();
</script>

<template>
  <span v-if="piece.doc">
    {{ piece.doc.levels.madeBy === 'target' ? 'by target' : 'in file' }}
    <b v-if="piece.doc.levels.madeBy === 'target'">{{ piece.doc.levels.hold ? 'held' : 'plain' }}</b>
    <b v-else>{{ piece.doc.levels.keep }}</b>
    <small>{{ clip.failure ? 'failed' : clip.busy ? 'making…' : `${clip.summaries.length} levels` }}</small>
  </span>
</template>
