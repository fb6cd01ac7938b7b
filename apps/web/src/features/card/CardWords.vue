<script setup lang="ts">
import { FLAT, ONE_CARD } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';

const piece = usePiece();
const clip = useClip();
const triangles = computed(() => (clip.surface ? clip.surface.mesh.indices.length / 3 : 0));
/** What is not as the document says; empty where all is. */
const trouble = computed(() => {
  if (clip.meshFailure) return 'mesh failed';
  if (piece.doc?.mesh && clip.mesh?.sha256 !== piece.doc.mesh.sha256) return 'mesh comes…';
  if (clip.outlineFailure) return 'outline failed';
  return clip.outline && clip.outline.outside > 0 ? 'outline cuts' : '';
});
</script>

<template>
  <span v-if="piece.doc">
    <b v-if="piece.doc.mesh">own mesh</b>
    <template v-else>
      {{ (piece.doc.set ?? ONE_CARD).kind }}
      <b>{{ (piece.doc.form ?? FLAT).kind }}</b>
    </template>
    <small data-test="card-triangles">{{ trouble || `${triangles} triangles` }}</small>
  </span>
</template>
