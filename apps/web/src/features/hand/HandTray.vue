<script setup lang="ts">
// Tools, brush and mirror of the hand. Apart from the form of the step, so that a stroke more draws none of it anew.
import { BRUSH_RANGES, REGION_RANGES, TIPS, TURNS, type Range } from '@lithe-sieve/core';
import { computed } from 'vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { useEngineStore } from '../../stores/engine.store';
import { HAND_TOOLS, LOUPES, useHandStore } from '../../stores/hand.store';
import TipChoice from './TipChoice.vue';

const hand = useHandStore();
const engine = useEngineStore();

const WAYS = [
  { label: '× cut', value: 'cut' },
  { label: '+ restore', value: 'restore' },
];
const TOOLS = [...HAND_TOOLS];
const LOUPE_CHOICES = [...LOUPES];
const REGIONS = ['picture', 'mask'];
const MIRRORS = ['none', 'left and right', 'up and down'];
const TOOL_HINTS = {
  brush: 'Drag over the Sheet, or over the card on the Stand. By keys: hold Enter, steer with the arrows.',
  line: 'Each press draws a straight line from the one before. Esc begins another.',
  outline: 'Drag around, or press corner by corner and close it on the first one (Z).',
  region: 'Press a region of like colour, or of the mask.',
};

type BrushNumber = keyof typeof BRUSH_RANGES;
interface Slider {
  name: BrushNumber;
  label: string;
  hint: string;
}
const sliders = computed((): Slider[] => {
  const { tip } = hand.brush;
  if (tip === 'whole texels') return [];
  const out: Slider[] = [
    { name: 'diameter', label: 'Diameter', hint: 'Of the tip at full pressure. Keys: U smaller, I larger.' },
  ];
  if (tip !== 'piece')
    out.push({ name: 'hardness', label: 'Hardness', hint: 'Share of the radius that is full; the rest falls off.' });
  out.push({ name: 'flow', label: 'Flow', hint: 'How much one dab takes; below 1 dabs add up where they overlap.' });
  if (tip !== 'round' || hand.brush.flow < 1)
    out.push({ name: 'spacing', label: 'Spacing', hint: 'Between dabs, as a share of the diameter.' });
  if (tip === 'ragged') out.push({ name: 'torn', label: 'Torn', hint: 'How deep the rim is torn.' });
  if (tip === 'piece') {
    out.push({ name: 'angle', label: 'Angle', hint: 'How the tip is turned, on top of the choice above.' });
    out.push({ name: 'angleSpread', label: 'Angle by chance', hint: 'Each print is turned by up to half of it.' });
    out.push({ name: 'sizeSpread', label: 'Size by chance', hint: 'Each print is smaller by up to this share.' });
  }
  return out;
});
const range = (name: BrushNumber): Range => BRUSH_RANGES[name];
/** A quarter of the picture is as large as a brush is of use. */
const most = (name: BrushNumber) =>
  name === 'diameter' && engine.size
    ? Math.max(8, Math.round(Math.max(engine.size.width, engine.size.height) / 4))
    : range(name).max;
const set = (name: BrushNumber, value: number) => (hand.brush[name] = value);

function mirror(kind: string): void {
  const { width, height } = engine.size ?? { width: 0, height: 0 };
  hand.mirror = kind === 'none' ? null : { x: width / 2, y: height / 2, degrees: kind === 'left and right' ? 0 : 90 };
}
const mirrored = computed(() => (!hand.mirror ? 'none' : hand.mirror.degrees === 0 ? 'left and right' : 'up and down'));
</script>

<template>
  <ElSegmented v-model="hand.effect" :options="WAYS" block aria-label="Cut or restore (D)" data-test="effect" />
  <ElSegmented v-model="hand.tool" :options="TOOLS" block aria-label="Tool (O)" class="row" data-test="tool" />
  <p class="soft tool-hint">{{ TOOL_HINTS[hand.tool] }}</p>
  <ElAlert v-if="hand.trouble" type="error" :title="hand.trouble" @close="hand.trouble = ''" />
  <template v-if="hand.isBrush">
    <div class="field">
      <span>Tip</span>
      <ElSelect v-model="hand.brush.tip" size="small" aria-label="Tip" data-test="tip">
        <ElOption v-for="t in TIPS" :key="t" :value="t" :label="t" />
      </ElSelect>
    </div>
    <template v-if="hand.brush.tip === 'piece'">
      <TipChoice />
      <div class="field">
        <span>Turned</span>
        <ElSelect v-model="hand.brush.turn" size="small" aria-label="How the tip is turned">
          <ElOption v-for="t in TURNS" :key="t" :value="t" :label="t" />
        </ElSelect>
      </div>
    </template>
    <NumberSlider
      v-for="s in sliders"
      :key="s.name"
      :label="s.label"
      :hint="s.hint"
      :model-value="hand.brush[s.name]"
      :min="range(s.name).min"
      :max="most(s.name)"
      :digits="range(s.name).digits ?? 2"
      :unit="range(s.name).unit"
      :logarithmic="range(s.name).logarithmic"
      @preview="set(s.name, $event)"
      @commit="set(s.name, $event)"
    />
    <NumberSlider
      v-if="hand.tool === 'brush'"
      label="Steadying"
      hint="The tip hangs on a string of this many pixels of the screen and is pulled along: a tremor moves nothing."
      :model-value="hand.steadying"
      :min="0"
      :max="120"
      :digits="0"
      @preview="hand.steadying = $event"
      @commit="hand.steadying = $event"
    />
    <div class="pen">
      <ElCheckbox v-model="hand.brush.sizeByPressure" size="small">A pen's pressure makes it thinner</ElCheckbox>
      <ElCheckbox v-model="hand.brush.flowByPressure" size="small">A pen's pressure makes it weaker</ElCheckbox>
    </div>
  </template>
  <template v-else-if="hand.tool === 'region'">
    <div class="field">
      <span>Of</span>
      <ElSegmented v-model="hand.region.of" :options="REGIONS" size="small" aria-label="Region of" />
    </div>
    <NumberSlider
      v-if="hand.region.of === 'picture'"
      label="Tolerance"
      hint="How far a colour may be from the pressed one: perceptual distance, 0 is the same, 1 is black to white."
      :model-value="hand.region.tolerance"
      v-bind="REGION_RANGES.tolerance"
      @preview="hand.region.tolerance = $event"
      @commit="hand.region.tolerance = $event"
    />
    <NumberSlider
      label="Close gaps"
      hint="The region does not leak out through breaks of up to this many texels in what bounds it."
      :model-value="hand.region.gaps"
      v-bind="REGION_RANGES.gaps"
      @preview="hand.region.gaps = $event"
      @commit="hand.region.gaps = $event"
    />
  </template>
  <div class="field">
    <span>Mirror</span>
    <ElSelect :model-value="mirrored" size="small" aria-label="Mirror" data-test="mirror" @change="mirror">
      <ElOption v-for="m in MIRRORS" :key="m" :value="m" :label="m" />
    </ElSelect>
  </div>
  <NumberSlider
    v-if="hand.mirror"
    label="Axis at"
    hint="Where the line lies that strokes are drawn on both sides of, in texels."
    :model-value="hand.mirror.degrees === 0 ? hand.mirror.x : hand.mirror.y"
    :min="0"
    :max="(hand.mirror.degrees === 0 ? engine.size?.width : engine.size?.height) ?? 1"
    :digits="1"
    unit="texels"
    @preview="hand.mirror = { ...hand.mirror, [hand.mirror.degrees === 0 ? 'x' : 'y']: $event }"
    @commit="hand.mirror = { ...hand.mirror, [hand.mirror.degrees === 0 ? 'x' : 'y']: $event }"
  />
  <div class="field">
    <span>Loupe</span>
    <ElSegmented
      v-model="hand.loupe"
      :options="LOUPE_CHOICES"
      size="small"
      aria-label="Loupe"
      data-test="loupe-choice"
    />
  </div>
</template>

<style scoped>
.row {
  margin-top: 6px;
}

.tool-hint {
  margin: 6px 0 10px;
  font-size: 12px;
}

.field {
  display: grid;
  grid-template-columns: 64px 1fr;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}

.pen {
  display: grid;
  margin-bottom: 8px;
}
</style>
