<script setup lang="ts">
import { CHANNELS, type FromChannelParams } from '@lithe-sieve/core';
import { computed } from 'vue';
import { usePieceStore } from '../../../stores/piece.store';

const props = defineProps<{ params: FromChannelParams }>();
const emit = defineEmits<{
  preview: [params: Partial<FromChannelParams>];
  commit: [params: Partial<FromChannelParams>, what: string];
}>();
const piece = usePieceStore();

const sources = computed(() => piece.sources);
/** The colour picture stands for itself, whichever source it becomes. */
const chosen = computed(() => props.params.sourceId || '(colour)');
const sizesDiffer = computed(() => {
  const facts = (sha: string | undefined) => (sha ? piece.facts.get(sha) : undefined);
  const colour = facts(sources.value[0]?.sha256);
  const mine = facts(sources.value.find((s) => s.id === props.params.sourceId)?.sha256);
  return colour && mine && (colour.width !== mine.width || colour.height !== mine.height);
});
const FITS = [
  { label: 'refuse', value: 'refuse' },
  { label: 'scale to fit', value: 'scale' },
];
</script>

<template>
  <label class="field">
    <span>Source</span>
    <ElSelect
      :model-value="chosen"
      size="small"
      aria-label="Source"
      @change="emit('commit', { sourceId: $event === '(colour)' ? '' : $event }, 'source')"
    >
      <ElOption value="(colour)" :label="`Colour picture: ${sources[0]?.fileName ?? ''}`" />
      <ElOption v-for="s in sources.slice(1)" :key="s.id" :value="s.id" :label="s.fileName" />
    </ElSelect>
  </label>
  <label class="field">
    <span>Channel</span>
    <ElSelect
      :model-value="params.channel"
      size="small"
      aria-label="Channel"
      data-test="channel"
      @change="emit('commit', { channel: $event }, $event)"
    >
      <ElOption v-for="c in CHANNELS" :key="c" :value="c" :label="c" />
    </ElSelect>
  </label>
  <p class="soft">
    {{
      params.channel === 'luminance'
        ? 'Luminance weighs red, green and blue as the eye does (Rec. 709).'
        : `White in ${params.channel} is kept.`
    }}
  </p>
  <div v-if="sizesDiffer || params.fit === 'scale'" class="field">
    <span>Another size</span>
    <ElSegmented
      :model-value="params.fit"
      :options="FITS"
      aria-label="When the sizes differ"
      @change="emit('commit', { fit: $event as FromChannelParams['fit'] }, `${$event}`)"
    />
  </div>
</template>

<style scoped>
.field {
  display: grid;
  gap: 4px;
  margin-bottom: 12px;
  justify-items: start;
}

.el-select {
  width: 100%;
}
</style>
