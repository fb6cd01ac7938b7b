<script setup lang="ts">
import { useClip, useEngine } from '../../stores/open-piece/open-piece';
import { LEVEL_RANGES, type PieceDoc } from '@lithe-sieve/core';
import { computed } from 'vue';
import MethodTable from './MethodTable.vue';
import { metresTo } from './metres';
import NumberField from '../../components/NumberField.vue';
import { useLevelActions } from '../../actions/level-actions';

const props = defineProps<{ doc: PieceDoc }>();
const engine = useEngine();
const clip = useClip();
const actions = useLevelActions();

const signed = (share: number) => {
  const text = Math.abs(100 * share).toFixed(1);
  return text === '0.0' ? text : `${share < 0 ? '−' : '+'}${text}`;
};

const rows = computed(() => {
  const { figures } = clip;
  if (!figures) return [];
  return figures.made.map((made, i) => ({
    width: made.width,
    distance: metresTo(made.width, props.doc, engine.cardWidth),
    plain: signed(figures.plain[i].drift),
    made: signed(made.drift),
    plainLocal: (100 * figures.plain[i].localError).toFixed(1),
    local: (100 * made.localError).toFixed(1),
    plainSampled: (100 * figures.plain[i].sampledError).toFixed(1),
    sampled: (100 * made.sampledError).toFixed(1),
  }));
});
</script>

<template>
  <table v-if="rows.length > 0" class="figures" data-test="level-figures">
    <caption>
      Off level 0, in points of coverage: in all, and in places of 4 × 4 texels, at texels and as a renderer samples
      between them, half way to the next level. Plain, then as set
    </caption>
    <thead>
      <tr>
        <th scope="col">width</th>
        <th scope="col">from</th>
        <th scope="col" colspan="2">in all</th>
        <th scope="col" colspan="2">at texels</th>
        <th scope="col" colspan="2">sampled</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.width">
        <th scope="row">{{ row.width }}</th>
        <td>{{ row.distance }}</td>
        <td class="soft">{{ row.plain }}</td>
        <td>{{ row.made }}</td>
        <td class="soft">{{ row.plainLocal }}</td>
        <td>{{ row.local }}</td>
        <td class="soft">{{ row.plainSampled }}</td>
        <td>{{ row.sampled }}</td>
      </tr>
    </tbody>
  </table>
  <p v-else-if="clip.busy" class="soft" role="status">Making the levels…</p>
  <MethodTable :doc="doc" />
  <div class="seen">
    <span>Seen at</span>
    <NumberField
      :model-value="doc.levels.fieldOfView"
      v-bind="LEVEL_RANGES.fieldOfView"
      :digits="0"
      label="Field of view in degrees, top to bottom"
      @commit="actions.set({ fieldOfView: $event }, `field of view ${$event}°`)"
    />
    <span>° on</span>
    <NumberField
      :model-value="doc.levels.screenHeight"
      v-bind="LEVEL_RANGES.screenHeight"
      :digits="0"
      label="Height of the screen in pixels"
      @commit="actions.set({ screenHeight: Math.round($event) }, `screen of ${Math.round($event)} pixels`)"
    />
    <span>px</span>
  </div>
</template>

<style scoped>
.figures {
  margin-top: 8px;
  font-size: 10.5px;
}

.figures caption {
  font-size: 11px;
}

.seen {
  display: flex;
  align-items: center;
  gap: 5px;
  margin-top: 10px;
  font-size: 12px;
  white-space: nowrap;
}

.seen .el-input-number {
  width: 62px;
}
</style>
