<script setup lang="ts">
import type { PieceDoc } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useCardActions } from '../../actions/card-actions';
import NumberSlider from '../../components/NumberSlider.vue';
import { useEngine } from '../../stores/open-piece/open-piece';
import CardMeshChoice from './CardMeshChoice.vue';
import CardFormChoice from './CardFormChoice.vue';
import CardNormalsChoice from './CardNormalsChoice.vue';
import CardOutlineChoice from './CardOutlineChoice.vue';
import CardSidesChoice from './CardSidesChoice.vue';
import CardSetChoice from './CardSetChoice.vue';

defineProps<{ doc: PieceDoc }>();
const engine = useEngine();
const { setWidth } = useCardActions();
const height = computed(() => (engine.size ? (engine.cardWidth * engine.size.height) / engine.size.width : 0));
</script>

<template>
  <h2>Card</h2>
  <p class="soft hint">
    What the picture lies on: its size, how it is bent, how many there are. Nothing here changes a texel.
  </p>
  <NumberSlider
    v-if="!doc.mesh"
    label="Card width"
    hint="Width of the flat card in metres; its height follows from the picture."
    :model-value="doc.cardWidth"
    :min="0.01"
    :max="100"
    :digits="3"
    unit="metres"
    logarithmic
    @preview="setWidth($event, false)"
    @commit="setWidth($event, true)"
  />
  <p v-if="!doc.mesh" class="soft hint">
    {{ engine.cardWidth.toPrecision(3) }} × {{ height.toPrecision(3) }} m,
    {{ Math.round((engine.size?.width ?? 0) / engine.cardWidth) }} texels per metre
  </p>
  <template v-if="!doc.mesh">
    <CardFormChoice :doc="doc" :size="{ width: engine.cardWidth, height }" />
    <CardSetChoice :doc="doc" />
    <CardOutlineChoice :doc="doc" />
  </template>
  <CardSidesChoice :doc="doc" />
  <CardNormalsChoice :doc="doc" />
  <CardMeshChoice :doc="doc" />
</template>

<style scoped>
.hint {
  margin-bottom: 10px;
}
</style>
