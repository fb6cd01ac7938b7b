<script setup lang="ts">
import { ref } from 'vue';
import { uploadSource } from '../../api/sources.api';
import { useEngine } from '../../stores/open-piece/open-piece';
import { useHandStore } from '../../stores/hand.store';
import { useMapFile, type OtherPiece } from '../stock/other-pieces';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';

/** The mask of another piece becomes the tip: strokes keep it, whatever becomes of that piece. */
const hand = useHandStore();
const engine = useEngine();
const mapFile = useMapFile();
const name = ref('');

async function choose(other: OtherPiece): Promise<void> {
  const { file } = await mapFile(other);
  const { sha256 } = await uploadSource(file, () => undefined, new AbortController().signal);
  await engine.engine().bringTip(sha256);
  hand.brush.picture = sha256;
  name.value = other.doc.name;
}
</script>

<template>
  <OtherPieceChoice
    label="Shape"
    said="Piece whose mask is the tip"
    test="tip-piece"
    beside
    :shown="name || (hand.brush.picture ? 'as chosen before' : '')"
    :use="choose"
  />
</template>
