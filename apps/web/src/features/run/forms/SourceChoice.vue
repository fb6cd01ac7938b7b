<script setup lang="ts">
import { computed } from 'vue';
import { usePiece } from '../../../stores/open-piece/open-piece';

const props = defineProps<{
  label: string;
  sourceId: string;
  fit?: 'refuse' | 'scale' | undefined;
  colourToo: boolean;
}>();
const emit = defineEmits<{ source: [id: string]; fit: [fit: 'refuse' | 'scale'] }>();
const piece = usePiece();

/** The colour picture stands for itself, whichever source it becomes. */
const COLOUR = '(colour)';
const sources = computed(() => piece.sources);
const chosen = computed(() => props.sourceId || (props.colourToo ? COLOUR : ''));
const factsOf = (sha: string | undefined) => (sha ? piece.facts.get(sha) : undefined);
const colour = computed(() => factsOf(sources.value[0]?.sha256));
const mine = computed(() => factsOf(sources.value.find((s) => s.id === props.sourceId)?.sha256));
const sizesDiffer = computed(
  () =>
    colour.value &&
    mine.value &&
    (colour.value.width !== mine.value.width || colour.value.height !== mine.value.height),
);
const FITS = [
  { label: 'refuse', value: 'refuse' },
  { label: 'scale to fit', value: 'scale' },
];
</script>

<template>
  <label class="field">
    <span>{{ label }}</span>
    <ElSelect
      :model-value="chosen"
      size="small"
      :aria-label="label"
      placeholder="choose a source"
      @change="emit('source', $event === COLOUR ? '' : $event)"
    >
      <ElOption v-if="colourToo" :value="COLOUR" :label="`Colour picture: ${sources[0]?.fileName ?? ''}`" />
      <ElOption v-for="s in sources.slice(1)" :key="s.id" :value="s.id" :label="s.fileName" />
    </ElSelect>
  </label>
  <div v-if="fit && (sizesDiffer || fit === 'scale')" class="field">
    <span>Another size</span>
    <ElSegmented
      :model-value="fit"
      :options="FITS"
      aria-label="When the sizes differ"
      @change="emit('fit', $event as 'refuse' | 'scale')"
    />
    <p v-if="sizesDiffer" class="soft" data-test="other-size">
      It is {{ mine!.width }} × {{ mine!.height }}{{ fit === 'scale' ? ', read at' : '; the colour picture is' }}
      {{ colour!.width }} × {{ colour!.height }}.
    </p>
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
