<script setup lang="ts">
import { usePiece } from '../../stores/open-piece/open-piece';

const piece = usePiece();
</script>

<template>
  <!-- apart from the strip around it, so that a drag of the cutoff renders this alone -->
  <span v-if="piece.saidMaterial">
    {{ piece.saidMaterial.mode }}
    <b v-if="piece.saidMaterial.mode === 'mask'">{{ piece.saidMaterial.cutoff.toFixed(2) }}</b>
    <small>{{ piece.saidMaterial.doubleSided ? 'two sides' : 'one side' }}</small>
  </span>
</template>
