<script setup lang="ts">
import { NORMAL_KINDS, type CardNormals, type PieceDoc } from '@lithe-sieve/core';
import { useCardActions } from '../../actions/card-actions';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';

/** Whether the card is lit as its surface lies, or as a soft body. */
defineProps<{ doc: PieceDoc }>();
const { setNormals, previewNormals } = useCardActions();

type Choice = CardNormals['kind'] | 'surface';
const LABELS: Record<Choice, string> = {
  surface: 'as the surface lies',
  sphere: 'away from the middle',
  hull: 'as a hull around it',
  upwards: 'upwards, as the ground',
};
const HINTS: Record<Choice, string> = {
  surface: '',
  sphere: 'A crown or a tuft is lit as one ball: no card of it stands out.',
  hull: 'As an ellipsoid that just holds the cards: long hedges, flat crowns.',
  upwards: 'Grass is lit as the ground that it stands on, and fades into it.',
};
</script>

<template>
  <ListLine
    label="Card normals"
    :value="doc.normals?.kind ?? 'surface'"
    :options="(['surface', ...NORMAL_KINDS] as Choice[]).map((value) => ({ value, label: LABELS[value] }))"
    data-test="card-normals"
    @choose="setNormals($event === 'surface' ? null : { kind: $event }, LABELS[$event])"
  />
  <template v-if="doc.normals">
    <p class="soft hint">
      {{ HINTS[doc.normals.kind] }} Handed off as normals of the vertices. The Stand’s overlay “normals” shows them.
      <template v-if="doc.material.doubleSided">
        Backs by the material turn them over; a back as geometry keeps them outwards.
      </template>
    </p>
    <NumberSlider
      label="Bent by"
      hint="0: as the surface lies; 1: wholly outwards."
      :model-value="doc.normals.share"
      :min="0"
      :max="1"
      @preview="previewNormals({ share: $event })"
      @commit="setNormals({ share: $event }, `bent by ${$event}`)"
    />
  </template>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}
</style>
