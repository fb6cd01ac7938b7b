<script setup lang="ts">
import { isFitted, stepKind, UV_PLACEMENT, WRAPS, type PieceDoc } from '@lithe-sieve/core';
import { computed, onBeforeUnmount } from 'vue';
import { useLevelActions } from '../../actions/level-actions';
import { usePlacementActions } from '../../actions/placement-actions';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { useBenchStore, type Laying } from '../../stores/bench.store';
import { useEngine } from '../../stores/open-piece/open-piece';

/** How the picture lies on a mesh. */
const props = defineProps<{ doc: PieceDoc }>();
const bench = useBenchStore();
const engine = useEngine();
const { preview, set, takeUvs } = usePlacementActions();
/** A texel of the result is then none of the source. */
const hasFit = computed(() => props.doc.run.some((s) => s.on && stepKind(s.kind).stretch === 'fit'));
const levels = useLevelActions();
onBeforeUnmount(() => (bench.laying = null));

const placement = computed(() => props.doc.mesh?.placement ?? UV_PLACEMENT);
/** Lengths are metres on the face that it was fitted to, else shares of the UVs. */
const unit = computed(() => (isFitted(placement.value) ? 'metres' : 'of the UVs'));
const aspect = computed(() => (engine.size ? engine.size.width / engine.size.height : 1));
const isMirrored = computed(() => placement.value.size[0] < 0);

const HANDS: Record<Laying, { label: string; hint: string }> = {
  move: { label: 'Move', hint: 'Drag the picture over the mesh on the Stand.' },
  turn: { label: 'Turn', hint: 'Drag round the middle of the picture on the Stand.' },
  size: { label: 'Size', hint: 'Drag away from the middle of the picture on the Stand, or towards it.' },
  fit: {
    label: 'To a face',
    hint: 'Press a face on the Stand: the picture is laid on it once, upright, in proportion.',
  },
};

const middleAt = (k: 0 | 1, value: number): [number, number] =>
  k === 0 ? [value, placement.value.middle[1]] : [placement.value.middle[0], value];
const sizeOf = (k: 0 | 1, value: number): [number, number] => {
  const [across, down] = placement.value.size;
  return k === 0 ? [Math.sign(across) * value, down] : [across, value];
};
/** Height in proportion to the width, on the plane. */
const inProportion = (): [number, number] => {
  const [across] = placement.value.size;
  return [across, Math.abs(across) / aspect.value];
};
const SIDES = { min: 0.001, max: 100, digits: 4, logarithmic: true };
const PLACES = { min: -2, max: 3, digits: 3 };
</script>

<template>
  <h3>Picture on the mesh</h3>
  <div class="hands" role="group" aria-label="What a press on the Stand does">
    <ElButton
      v-for="(hand, name) in HANDS"
      :key="name"
      size="small"
      :type="bench.laying === name ? 'primary' : undefined"
      :aria-pressed="bench.laying === name"
      :data-test="`lay-${name}`"
      @click="bench.laying = bench.laying === name ? null : name"
    >
      {{ hand.label }}
    </ElButton>
  </div>
  <p v-if="bench.laying" class="soft hint" role="status">
    {{ HANDS[bench.laying].hint }} By keys: Enter is held on the Stand, arrows turn the mesh under it. Esc ends it.
  </p>
  <NumberSlider
    label="Middle across"
    hint="Where the middle of the picture lies, in the mesh’s own UVs, from the left."
    :model-value="placement.middle[0]"
    v-bind="PLACES"
    @preview="preview({ middle: middleAt(0, $event) })"
    @commit="set({ middle: middleAt(0, $event) }, `middle at ${$event} across`)"
  />
  <NumberSlider
    label="Middle down"
    hint="Where the middle of the picture lies, in the mesh’s own UVs, from the top."
    :model-value="placement.middle[1]"
    v-bind="PLACES"
    @preview="preview({ middle: middleAt(1, $event) })"
    @commit="set({ middle: middleAt(1, $event) }, `middle at ${$event} down`)"
  />
  <NumberSlider
    label="Width"
    hint="Of the picture where it lies. Half as wide, it fits twice."
    :model-value="Math.abs(placement.size[0])"
    v-bind="SIDES"
    :unit="unit"
    @preview="preview({ size: sizeOf(0, $event) })"
    @commit="set({ size: sizeOf(0, $event) }, `${$event} wide`)"
  />
  <NumberSlider
    label="Height"
    hint="Of the picture where it lies."
    :model-value="placement.size[1]"
    v-bind="SIDES"
    :unit="unit"
    @preview="preview({ size: sizeOf(1, $event) })"
    @commit="set({ size: sizeOf(1, $event) }, `${$event} high`)"
  />
  <NumberSlider
    label="Turned"
    hint="Degrees about its middle, counter-clockwise."
    :model-value="placement.turn"
    :min="-180"
    :max="180"
    :digits="1"
    unit="degrees"
    @preview="preview({ turn: $event })"
    @commit="set({ turn: $event }, `turned by ${$event}°`)"
  />
  <label class="line">
    <span>Mirrored</span>
    <ElSwitch
      :model-value="isMirrored"
      aria-label="Mirrored"
      data-test="placement-mirrored"
      @change="set({ size: [-placement.size[0], placement.size[1]] }, $event ? 'mirrored' : 'not mirrored')"
    />
  </label>
  <ListLine
    v-for="side in [
      { key: 'wrapAcross', label: 'Left and right' },
      { key: 'wrapDown', label: 'Top and bottom' },
    ] as const"
    :key="side.key"
    :label="side.label"
    :spoken="`Beyond the picture, ${side.label.toLowerCase()}`"
    :value="doc.levels[side.key]"
    :options="WRAPS.map((value) => ({ value, label: value }))"
    @choose="levels.set({ [side.key]: $event }, `${side.label.toLowerCase()} ${$event}`)"
  />
  <p class="links">
    <button class="linked" @click="set({ size: inProportion() }, 'in proportion')">In proportion</button>
    <button v-if="doc.mesh?.placement" class="linked" data-test="placement-reset" @click="set(null, 'as its UVs say')">
      As its UVs say
    </button>
  </p>
  <p v-if="hasFit" class="soft hint">
    The fit lays the picture otherwise than the UVs: without it they can be the mask.
  </p>
  <p v-else class="soft hint">
    The outline of its UVs:
    <button class="linked" data-test="uvs-mask" @click="takeUvs(true)">take it as the mask</button> or
    <button class="linked" data-test="uvs-source" @click="takeUvs(false)">as a source</button>, to compare with.
  </p>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}

.hands {
  display: flex;
  gap: 6px;
  margin: 6px 0 8px;
}

.hands > :deep(*) {
  margin: 0;
}

.links {
  display: flex;
  gap: 16px;
}
</style>
