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
    {{ (piece.doc.set ?? ONE_CARD).kind }}
    <b>{{ (piece.doc.form ?? FLAT).kind }}</b>
    <small data-test="card-triangles">{{ triangles }} triangles</small>
  </span>
</template>
