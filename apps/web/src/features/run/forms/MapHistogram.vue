<script setup lang="ts">
// How the values of a map are spread, over what the mask keeps, and their range.
import { mapKind, type MapName } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useEngine } from '../../../stores/open-piece/open-piece';

const props = defineProps<{ map: MapName }>();
const engine = useEngine();

/** Counted by the worker once the full size is there. */
const stats = computed(() => engine.surface?.maps.get(props.map) ?? null);
const CHANNEL_NAMES = ['red', 'green', 'blue', 'alpha'];
const WIDTH = 216;
const HEIGHT = 44;

function pathOf(bins: readonly number[]): string {
  const most = Math.max(1e-9, ...bins.slice(1, -1), bins[0] / 4, bins[bins.length - 1] / 4);
  const points = bins.map((v, i) => `${(i * WIDTH) / bins.length},${HEIGHT - HEIGHT * Math.min(1, v / most)}`);
  return `M0,${HEIGHT}L${points.join('L')}L${WIDTH},${HEIGHT}Z`;
}
const say = (v: number) => v.toFixed(3);
</script>

<template>
  <figure v-if="stats" class="histogram" data-test="map-histogram">
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`How ${mapKind(map).label} is spread`">
      <path
        v-for="(channel, c) in stats.channels"
        :key="c"
        :d="pathOf(channel.bins)"
        :class="stats.channels.length > 1 ? CHANNEL_NAMES[c] : ''"
      />
    </svg>
    <figcaption class="soft">
      <span v-for="(channel, c) in stats.channels" :key="c">
        {{ stats.channels.length > 1 ? `${CHANNEL_NAMES[c]} ` : '' }}{{ say(channel.least) }} to
        {{ say(channel.most) }}, mean {{ say(channel.mean) }}
      </span>
      <span>{{ mapKind(map).depth }} bits, {{ mapKind(map).holds }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.histogram {
  margin: 12px 0 4px;
}

svg {
  display: block;
  width: 100%;
  border-bottom: 1px solid var(--rule);
  background: var(--paper-deep);
}

path {
  fill: var(--ink-soft);
  fill-opacity: 0.55;
}

path.red {
  fill: #b4503c;
}

path.green {
  fill: #4f8a54;
}

path.blue {
  fill: #4a6da0;
}

figcaption {
  display: grid;
  margin-top: 3px;
  font-size: 11.5px;
}
</style>
