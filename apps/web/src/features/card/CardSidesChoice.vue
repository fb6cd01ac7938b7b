<script setup lang="ts">
import { CARD_SIDES, SIDES_APART, type PieceDoc, type Rgb } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useCardActions, type Sided } from '../../actions/card-actions';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { hexOf, rgbOf } from '../../components/colours';
import { useClip, useEngine } from '../../stores/open-piece/open-piece';

/** How the back of the card comes about. */
const props = defineProps<{ doc: PieceDoc }>();
const { setSided, previewSides: preview, setSides: commit } = useCardActions();
const clip = useClip();
const engine = useEngine();

const sides = computed(() => props.doc.sides);
const sided = computed<Sided>(() => (sides.value ? 'geometry' : props.doc.material.doubleSided ? 'flag' : 'one'));
const triangles = computed(() => (clip.surface ? clip.surface.mesh.indices.length / 3 : 0));
const ofBack = computed(() => {
  const { indices, backFrom = indices.length } = clip.surface?.mesh ?? { indices: [], backFrom: 0 };
  return (indices.length - backFrom) / 3;
});
const LABELS: Record<Sided, string> = { one: 'front alone', flag: 'by the material', geometry: 'as geometry' };
const words = computed(() => {
  switch (sided.value) {
    case 'one':
      return 'From behind there is nothing to see: the renderer drops what faces away. No pixel is drawn in vain.';
    case 'flag':
      return 'The same triangles show from behind, with their normals turned over. No triangle more, and every pixel of both faces is drawn.';
    default:
      return `A back of its own, ${ofBack.value} of ${triangles.value} triangles: for renderers that light both faces alike, or drop backs. What faces away is dropped: no pixel more.`;
  }
});
const tint = computed(() => sides.value?.tint ?? CARD_SIDES.tint);
const hasColour = computed(() => engine.maps?.maps.some(({ map }) => map === 'backColour') ?? false);
const isTinted = computed(() => tint.value.some((v) => v < 255));
const asTint = (value: string): { tint: Rgb } => ({ tint: rgbOf(value) ?? CARD_SIDES.tint });
</script>

<template>
  <ListLine
    label="Back"
    :value="sided"
    :options="(Object.keys(LABELS) as Sided[]).map((value) => ({ value, label: LABELS[value] }))"
    data-test="card-sides"
    @choose="setSided($event, LABELS[$event])"
  />
  <p class="soft hint" data-test="sides-words">{{ words }}</p>
  <template v-if="sides">
    <p v-if="doc.material.doubleSided" class="soft hint">
      The material shows both sides too: each face is drawn twice.
      <button class="linked" @click="setSided('geometry', 'one-sided')">Show fronts alone</button>
    </p>
    <NumberSlider
      label="Between them"
      hint="Front and back lie this far apart: on one another they would fight for each pixel."
      :model-value="sides.apart"
      v-bind="SIDES_APART"
      unit="mm"
      @preview="preview({ apart: $event })"
      @commit="commit({ apart: $event }, `${$event} mm apart`)"
    />
    <label class="line">
      <span>Closed by a rim</span>
      <ElSwitch
        :model-value="sides.rim"
        aria-label="Closed by a rim"
        data-test="sides-rim"
        @change="commit({ rim: Boolean($event) }, $event ? 'with a rim' : 'without a rim')"
      />
    </label>
    <p v-if="sides.rim" class="soft hint">
      The rim shows what the picture has at the sides of its triangles: where that is dropped, there is none.
    </p>
    <label class="line">
      <span>Tint of the back</span>
      <input
        type="color"
        :value="hexOf(tint)"
        aria-label="Tint of the back"
        data-test="sides-tint"
        @input="preview(asTint(($event.target as HTMLInputElement).value))"
        @change="commit(asTint(($event.target as HTMLInputElement).value), 'tint of the back')"
      />
    </label>
    <p class="soft hint">
      <template v-if="hasColour">The back shows the map “back colour”. </template>
      <template v-else>Another picture comes with a step “Back colour” of the maps. </template>
      <template v-if="isTinted || hasColour">It is a material of its own: one draw call more.</template>
      <template v-else>White: the back looks as the front.</template>
    </p>
  </template>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}
</style>
