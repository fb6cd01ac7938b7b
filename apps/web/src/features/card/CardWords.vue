<script setup lang="ts">
import { FLAT, ONE_CARD } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';

const piece = usePiece();
const clip = useClip();
const triangles = computed(() => (clip.surface ? clip.surface.mesh.indices.length / 3 : 0));
</script>

<template>
  <span v-if="piece.doc">
    <b v-if="piece.doc.mesh">own mesh</b>
    <template v-else>
      {{ (piece.doc.set ?? ONE_CARD).kind }}
      <b>{{ (piece.doc.form ?? FLAT).kind }}</b>
    </template>
    <small data-test="card-triangles">{{ triangles }} triangles</small>
  </span>
</template>
