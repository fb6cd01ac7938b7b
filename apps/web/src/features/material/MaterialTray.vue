<script setup lang="ts">
import type { AlphaMode, PieceDoc } from '@lithe-sieve/core';
import NumberSlider from '../../components/NumberSlider.vue';
import BlendChoice from './BlendChoice.vue';
import ClipComparison from './ClipComparison.vue';
import DrawnChoice from './DrawnChoice.vue';
import FringeLine from './FringeLine.vue';
import { MODES, useMaterialActions } from '../../actions/material-actions';

defineProps<{ doc: PieceDoc }>();
const actions = useMaterialActions();

const MODE_WORDS: Record<AlphaMode, string> = {
  opaque: 'Alpha is ignored: the whole card shows.',
  mask: 'Texels at or above the cutoff show whole, the rest not at all.',
  blend: 'Alpha blends with what is behind; cards may be drawn in the wrong order, and the shadow is cut at one half.',
};
</script>

<template>
  <h2>Material</h2>
  <p class="soft hint">How the renderer treats the card. Nothing here changes a texel.</p>
  <ElSegmented
    :model-value="doc.material.mode"
    :options="MODES"
    aria-label="Alpha mode"
    @change="actions.set({ mode: $event as AlphaMode }, `${$event}`)"
  />
  <p class="soft mode">{{ MODE_WORDS[doc.material.mode] }}</p>
  <NumberSlider
    label="Cutoff"
    hint="Alpha from which a texel is kept. Lower keeps more of the fringe, higher thins it."
    :model-value="doc.material.cutoff"
    :min="0"
    :max="1"
    :step="0.005"
    :digits="3"
    @preview="actions.preview({ cutoff: $event })"
    @commit="actions.setCutoff($event)"
  />
  <FringeLine />
  <BlendChoice v-if="doc.material.mode === 'blend'" />
  <DrawnChoice v-if="doc.material.mode === 'mask'" :drawn="doc.drawn" />
  <NumberSlider
    label="Opacity factor"
    hint="Multiplies alpha before it is compared with the cutoff, or blended."
    :model-value="doc.material.opacity"
    :min="0"
    :max="1"
    @preview="actions.preview({ opacity: $event })"
    @commit="actions.set({ opacity: $event }, `opacity factor ${$event}`)"
  />
  <label class="line">
    <span>Two-sided</span>
    <ElSwitch
      :model-value="doc.material.doubleSided"
      aria-label="Two-sided"
      @change="actions.set({ doubleSided: Boolean($event) }, $event ? 'two sides' : 'one side')"
    />
  </label>
  <p class="soft mode">
    {{
      doc.material.doubleSided
        ? 'The back shows too, lit with its normals reversed.'
        : 'From behind the card is invisible.'
    }}
  </p>
  <slot />
  <ClipComparison />
</template>

<style scoped>
.hint {
  margin-bottom: 10px;
}

.mode {
  margin: 4px 0 12px;
}
</style>
