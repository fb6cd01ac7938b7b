<script setup lang="ts">
import { ref } from 'vue';
import { uploadSource } from '../../api/sources.api';
import { useEngineStore } from '../../stores/engine.store';
import { useHandStore } from '../../stores/hand.store';
import { useMaskFile, useOtherPieces } from '../run/forms/other-pieces';

/** The mask of another piece becomes the tip: strokes keep it, whatever becomes of that piece. */
const hand = useHandStore();
const engine = useEngineStore();
const { others, find, busy, trouble, take } = useOtherPieces();
const maskFile = useMaskFile();
const name = ref('');

const choose = (id: string) =>
  take(id, async (other) => {
    const { sha256 } = await uploadSource(await maskFile(other), () => undefined, new AbortController().signal);
    await engine.engine().bringTip(sha256);
    hand.brush.picture = sha256;
    name.value = other.doc.name;
  });
</script>

<template>
  <div class="field">
    <span>Shape</span>
    <ElSelect
      :model-value="name || (hand.brush.picture ? 'as chosen before' : '')"
      size="small"
      aria-label="Piece whose mask is the tip"
      placeholder="choose a piece"
      no-data-text="There is no other piece yet."
      data-test="tip-piece"
      filterable
      remote
      :remote-method="find"
      :loading="busy"
      @change="choose"
    >
      <ElOption v-for="p in others" :key="p.id" :value="p.id" :label="p.name" />
    </ElSelect>
  </div>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
</template>

<style scoped>
.field {
  display: grid;
  grid-template-columns: 64px 1fr;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
</style>
