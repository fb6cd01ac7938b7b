<script setup lang="ts">
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { FIELDS_OF_VIEW } from '../../drawing/cameras/around';
import { LEVEL_TINTS, OVERLAYS, type Overlay } from '../../drawing/lit/overlay-shader';
import { TEXTURE_FILTERS, type TextureFilter } from '../../drawing/textures';
import { STAND_SIDES } from '../../drawing/stand-pose';
import { STREWN } from '@lithe-sieve/core';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine } from '../../stores/open-piece/open-piece';
import { computed } from 'vue';
import NamedViews from './NamedViews.vue';
import PixelCost from './PixelCost.vue';
import WalkStrip from './WalkStrip.vue';

/** From where the card is seen on the Stand, and what is shown on it instead of light. */
const bench = useBenchStore();
const engine = useEngine();

const SWITCHES = {
  turning: 'Turns by itself',
  swaying: 'Sways in the wind',
  glass: 'Far glass: its middle × 8',
} as const;

const READ: Record<TextureFilter, string> = {
  nearest: 'The nearest texel of the nearest mip level: blocks near by, steps between levels.',
  linear: 'Between four texels of the nearest mip level: it jumps where the level changes.',
  trilinear: 'Between texels and between levels, as most targets do.',
  anisotropic: 'The same, and several times along what is seen at a slant: larger levels are read there.',
};

const HINTS: Record<Overlay, string> = {
  none: '',
  wireframe: 'The triangles that are drawn.',
  levels: 'The mip level that each pixel is read from.',
  density: 'Texels per length: grey as along the longer side of the card, red fewer, blue more.',
  normals: 'As they are lit: red to the right, green up, blue to the front.',
  tangents: 'Where the picture’s right points, in the colours of normals: normal maps lean by it.',
  UVs: 'Squares of a sixteenth of the picture: red across, green down.',
};
/** From linear light. */
const shown = (v: number) => Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055));
const levels = computed(() => {
  const { width = 0, height = 0 } = engine.size ?? {};
  const count = Math.min(LEVEL_TINTS.length, Math.floor(Math.log2(Math.max(1, width, height))) + 1);
  return LEVEL_TINTS.slice(0, count).map((colour, level) => ({
    level,
    colour: `rgb(${colour.map(shown).join()})`,
    size: `${Math.max(1, width >> level)} × ${Math.max(1, height >> level)}`,
  }));
});
</script>

<template>
  <h2>View</h2>
  <div class="sides" role="group" aria-label="Seen from">
    <ElButton
      v-for="side in STAND_SIDES"
      :key="side"
      size="small"
      :data-test="`side-${side}`"
      @click="bench.side = { from: side }"
    >
      {{ side }}
    </ElButton>
  </div>
  <label v-for="(label, name) in SWITCHES" :key="name" class="line">
    <span>{{ label }}</span>
    <ElSwitch v-model="bench[name]" :aria-label="label" :data-test="name" />
  </label>
  <NumberSlider
    label="Field of view"
    hint="Degrees from top to bottom; the card is seen as large as before, from nearer or farther away."
    unit="degrees"
    v-bind="FIELDS_OF_VIEW"
    :model-value="bench.fieldOfView"
    @preview="bench.fieldOfView = $event"
    @commit="bench.fieldOfView = $event"
  />
  <NumberSlider
    label="Many"
    hint="Copies strewn around the card, each turned, sized and shaded by a seed. They are not handed off."
    :min="1"
    :max="STREWN.most"
    :step="1"
    :digits="0"
    unit="cards"
    logarithmic
    :model-value="bench.copies"
    @preview="bench.copies = Math.round($event)"
    @commit="bench.copies = Math.round($event)"
  />
  <NamedViews />
  <h3>Far away</h3>
  <WalkStrip />
  <PixelCost />
  <label class="line">
    <span title="Hold Alt+J to look at it for a moment">As seen</span>
    <ElSwitch v-model="bench.asSeen" aria-label="As seen" data-test="as-seen" />
  </label>
  <p class="soft">
    What an eye would see of the full-size mask: judge far pictures by it. Off: as the target draws it.
  </p>
  <label class="line">
    <span>Refined at rest</span>
    <ElSwitch v-model="bench.refines" aria-label="Refined at rest" data-test="refines" />
  </label>
  <p class="soft">
    Soft shadows, and less light in corners. The clip stays as the target draws it.
    <span v-if="bench.refined" data-test="summed">{{ bench.refined.samples }} of {{ bench.refined.of }} pictures.</span>
  </p>
  <ListLine
    label="Textures are read"
    :value="bench.filter"
    :options="TEXTURE_FILTERS.map((value) => ({ value, label: value }))"
    data-test="filter"
    @choose="bench.filter = $event"
  />
  <p class="soft">{{ READ[bench.filter] }}</p>
  <ListLine
    label="Shown on the card"
    :value="bench.overlay"
    :options="OVERLAYS.map((value) => ({ value, label: value === 'none' ? 'light' : value }))"
    data-test="overlay"
    @choose="bench.overlay = $event"
  />
  <p v-if="HINTS[bench.overlay]" class="soft">{{ HINTS[bench.overlay] }}</p>
  <ul v-if="bench.overlay === 'levels'" class="levels">
    <li v-for="one in levels" :key="one.level">
      <i :style="{ background: one.colour }" /> level {{ one.level }}, {{ one.size }}
    </li>
  </ul>
</template>

<style scoped>
.sides {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 8px 0 12px;
}

.sides :deep(.el-button) {
  margin: 0;
}

.levels {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}

.levels i {
  display: inline-block;
  width: 22px;
  height: 13px;
  margin-right: 4px;
  vertical-align: -2px;
  border-radius: 2px;
}
</style>
