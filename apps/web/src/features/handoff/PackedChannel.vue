<script setup lang="ts">
// One channel of a packed file: which map it holds, of which of its channels, turned over or not; or a value.
import { FILL_CHANNELS, MAP_NAMES, mapKind, type ChannelFill, type MapName } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import NumberField from '../../components/NumberField.vue';

const props = defineProps<{
  name: string;
  fill: ChannelFill;
  /** The file's name, for those who hear it. */
  of: string;
  made: readonly MapName[];
}>();
const emit = defineEmits<{ fill: [fill: ChannelFill] }>();

const VALUE = '(value)';
const isOver = ref(false);
const holds = computed(() => ('value' in props.fill ? VALUE : props.fill.map));
const isMissing = computed(() => 'map' in props.fill && !props.made.includes(props.fill.map));
const hasChannels = computed(() => 'map' in props.fill && mapKind(props.fill.map).channels > 1);

function choose(to: string): void {
  if (to === VALUE) return emit('fill', { value: 1 });
  const map = MAP_NAMES.find((name) => name === to);
  const before = 'map' in props.fill ? props.fill : { channel: 'red' as const, inverted: false };
  if (map) emit('fill', { map, channel: before.channel, inverted: before.inverted });
}

function drop(event: DragEvent): void {
  isOver.value = false;
  choose(event.dataTransfer?.getData('text/x-map') ?? '');
}
</script>

<template>
  <div
    class="channel"
    :class="{ over: isOver }"
    :data-test="`channel-${name}`"
    @dragover.prevent="isOver = true"
    @dragleave="isOver = false"
    @drop.prevent="drop"
  >
    <b>{{ name }}</b>
    <ElSelect :model-value="holds" size="small" :aria-label="`${of}, ${name}`" data-test="holds" @change="choose">
      <ElOption :value="VALUE" label="one value" />
      <ElOption v-for="map in MAP_NAMES" :key="map" :value="map" :label="mapKind(map).label" />
    </ElSelect>
    <NumberField
      v-if="'value' in fill"
      :model-value="fill.value"
      :min="0"
      :max="1"
      :digits="3"
      :label="`${of}, ${name}, value`"
      @commit="emit('fill', { value: $event })"
    />
    <template v-else>
      <ElSelect
        v-if="hasChannels"
        class="of"
        :model-value="fill.channel"
        size="small"
        :aria-label="`${of}, ${name}: channel of the map`"
        data-test="of-map"
        @change="emit('fill', { ...fill, channel: $event })"
      >
        <ElOption v-for="channel in FILL_CHANNELS" :key="channel" :value="channel" :label="channel" />
      </ElSelect>
      <ElCheckbox
        :model-value="fill.inverted"
        size="small"
        :aria-label="`${of}, ${name}: inverted`"
        @change="emit('fill', { ...fill, inverted: Boolean($event) })"
        >1 −</ElCheckbox
      >
    </template>
    <small v-if="isMissing" class="soft">The run does not make it: neutral.</small>
  </div>
</template>

<style scoped>
.channel {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) auto auto;
  align-items: center;
  gap: 4px 6px;
  padding: 2px;
}

.channel.over {
  background: var(--green-pale);
}

.channel small {
  grid-column: 2 / -1;
}

.of {
  width: 74px;
}

b {
  font-weight: 600;
}
</style>
