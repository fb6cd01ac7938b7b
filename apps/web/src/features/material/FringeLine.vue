<script setup lang="ts">
import { STEP_KINDS } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import { useRunActions } from '../../actions/run-actions';
import NumberField from '../../components/NumberField.vue';
import { useClip } from '../../stores/open-piece/open-piece';
import { useClipLook } from '../../stores/open-piece/use-clip-look';

const clip = useClip();
useClipLook('fringe');
const { hardenEdge } = useRunActions();
const { defaults, ranges } = STEP_KINDS['harden-edge'];
const to = ref(defaults.width);

/** Texels: up to here an edge is one of whole texels, up to there one with a smooth rim. */
const HARD = 1.25;
const SMOOTH = 2.5;
/** Less is not worth a step. */
const NARROWER = 0.5;

const words = computed(() => {
  if (!clip.fringe) return '';
  const { width, slope } = clip.fringe;
  const how = width <= HARD ? 'hard' : width <= SMOOTH ? 'smooth' : 'soft';
  return `${how}, ${width.toFixed(1)} texels wide, ${Math.min(100, Math.round(100 * slope))} % of alpha per texel`;
});
</script>

<template>
  <div v-if="clip.fringe" class="fringe" data-test="fringe">
    <p class="soft">Edge at the cutoff: {{ words }}.</p>
    <p v-if="clip.fringe.width > to + NARROWER || clip.fringe.width > SMOOTH" class="harden">
      <ElButton size="small" data-test="harden" @click="hardenEdge(to)">Harden to</ElButton>
      <NumberField
        :model-value="to"
        v-bind="ranges.width"
        :digits="2"
        label="Width of the edge in texels"
        @commit="to = $event"
      />
      texels
    </p>
  </div>
</template>

<style scoped>
.fringe {
  margin: 2px 0 10px;
}

.harden {
  display: flex;
  align-items: center;
  gap: 6px;
  margin-top: 4px;
  font-size: 12px;
}

.harden .el-input-number {
  width: 64px;
}
</style>
