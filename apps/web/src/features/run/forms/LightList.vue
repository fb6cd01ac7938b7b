<script setup lang="ts">
// The photographs under known lights, and where each light was.
import { LIGHT_RANGES, LIGHTS, type Light, type StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import NumberField from '../../../components/NumberField.vue';
import { usePiece } from '../../../stores/open-piece/open-piece';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{ commit: [params: { lights: Light[] }, what: string] }>();
const piece = usePiece();

const lights = computed(() => (props.step.params as { lights: Light[] }).lights);
const nameOf = (id: string) => piece.sources.find((s) => s.id === id)?.fileName ?? 'gone';
const others = computed(() => piece.sources.filter((s) => !lights.value.some((l) => l.sourceId === s.id)));

function change(i: number, values: Partial<Light>, what: string): void {
  emit('commit', { lights: lights.value.map((l, k) => (k === i ? { ...l, ...values } : { ...l })) }, what);
}
/** Evenly around, as far as nothing is known. */
function add(sourceId: string): void {
  const azimuth = (lights.value.length * 90) % 360;
  emit('commit', { lights: [...lights.value, { sourceId, azimuth, elevation: 45 }] }, `light of ${nameOf(sourceId)}`);
}
function remove(i: number): void {
  emit('commit', { lights: lights.value.filter((_, k) => k !== i) }, 'one light less');
}
</script>

<template>
  <p class="soft">
    Each photograph and where its light stood: 0° right, 90° above, 180° left; height over the card, 90° from the
    camera.
  </p>
  <table v-if="lights.length" class="lights" data-test="lights">
    <thead>
      <tr>
        <th>photograph</th>
        <th>around</th>
        <th>height</th>
        <th />
      </tr>
    </thead>
    <tbody>
      <tr v-for="(light, i) in lights" :key="light.sourceId">
        <td :title="nameOf(light.sourceId)">{{ nameOf(light.sourceId) }}</td>
        <td>
          <NumberField
            :model-value="light.azimuth"
            v-bind="{ min: LIGHT_RANGES.azimuth.min, max: LIGHT_RANGES.azimuth.max, digits: 0 }"
            :label="`Direction of light ${i + 1}, degrees`"
            @commit="change(i, { azimuth: $event }, `light ${i + 1} from ${$event}°`)"
          />
        </td>
        <td>
          <NumberField
            :model-value="light.elevation"
            v-bind="{ min: LIGHT_RANGES.elevation.min, max: LIGHT_RANGES.elevation.max, digits: 0 }"
            :label="`Height of light ${i + 1}, degrees`"
            @commit="change(i, { elevation: $event }, `light ${i + 1} at ${$event}°`)"
          />
        </td>
        <td><ElButton size="small" text :aria-label="`Take light ${i + 1} away`" @click="remove(i)">×</ElButton></td>
      </tr>
    </tbody>
  </table>
  <ElSelect
    v-if="others.length && lights.length < LIGHTS.most"
    model-value=""
    size="small"
    placeholder="Add a photograph"
    aria-label="Add a photograph"
    data-test="add-light"
    @change="add"
  >
    <ElOption v-for="s in others" :key="s.id" :value="s.id" :label="s.fileName" />
  </ElSelect>
</template>

<style scoped>
.lights {
  width: 100%;
  margin-bottom: 8px;
  border-collapse: collapse;
  table-layout: fixed;
  font-size: 12px;
}

.lights th {
  font-weight: 400;
  text-align: left;
  color: var(--ink-soft);
}

.lights th:nth-child(1) {
  width: 40%;
}

.lights td {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.lights :deep(.el-input-number) {
  width: 54px;
}
</style>
