<script setup lang="ts">
// Tools, brush and mirror of the hand. Apart from the form of the step, so that another stroke redraws none of it.
import TroubleNote from '../../components/TroubleNote.vue';
import { BRUSH_RANGES, REGION_RANGES, TIPS, TURNS, type Range } from '@lithe-sieve/core';
import { computed } from 'vue';
import NumberSlider from '../../components/NumberSlider.vue';
import { useEngine } from '../../stores/open-piece/open-piece';
import { HAND_TOOLS, LOUPES, useHandStore } from '../../stores/hand.store';
import TipChoice from './TipChoice.vue';

const hand = useHandStore();
const engine = useEngine();

/** What strokes do: to the mask, or to the heights. */
const ways = computed(() => {
  const { step } = hand;
  const smooths = step?.kind === 'height-by-hand' && step.params.does === 'smooth';
  const words =
    step?.kind !== 'height-by-hand'
      ? ['× cut', '+ restore']
      : smooths
        ? ['× leave', '+ smooth']
        : ['− lower', '+ raise'];
  return [
    { label: words[0], value: 'cut' },
    { label: words[1], value: 'restore' },
  ];
});
const TOOLS = [...HAND_TOOLS];
const LOUPE_CHOICES = [...LOUPES];
const REGIONS = ['picture', 'mask'];
const MIRRORS = ['none', 'left and right', 'up and down'];
const TOOL_HINTS = {
  brush: 'Drag over the Sheet, or over the card on the Stand. By keys: hold Enter, steer with the arrows.',
  line: 'Each press draws a straight line from the last one. Esc starts a new one.',
  outline: 'Drag around, or press corner by corner and close on the first (Z).',
  region: 'Press a region of similar colour, or of the mask.',
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
    { name: 'diameter', label: 'Diameter', hint: 'Size of the tip at full pressure. Keys: U smaller, I larger.' },
  ];
  if (tip !== 'piece')
    out.push({ name: 'hardness', label: 'Hardness', hint: 'How much of the radius is solid; the rest falls off.' });
  out.push({ name: 'flow', label: 'Flow', hint: 'Strength of one dab; below 1, overlapping dabs add up.' });
  if (tip !== 'round' || hand.brush.flow < 1)
    out.push({ name: 'spacing', label: 'Spacing', hint: 'Between dabs, as a share of the diameter.' });
  if (tip === 'ragged') out.push({ name: 'torn', label: 'Raggedness', hint: 'How deep the edge is torn.' });
  if (tip === 'piece') {
    out.push({ name: 'angle', label: 'Angle', hint: 'Added to the rotation chosen above.' });
    out.push({ name: 'angleSpread', label: 'Random angle', hint: 'Each dab is rotated by up to half of this.' });
    out.push({ name: 'sizeSpread', label: 'Random size', hint: 'Each dab is up to this much smaller.' });
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
  <ElSegmented v-model="hand.effect" :options="ways" block aria-label="Cut or restore (D)" data-test="effect" />
  <ElSegmented v-model="hand.tool" :options="TOOLS" block aria-label="Tool (O)" class="row" data-test="tool" />
  <p class="soft tool-hint">{{ TOOL_HINTS[hand.tool] }}</p>
  <TroubleNote v-if="hand.trouble" :message="hand.trouble" closable @close="hand.trouble = ''" />
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
        <span>Rotation</span>
        <ElSelect v-model="hand.brush.turn" size="small" aria-label="Rotation of the tip">
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
      label="Smoothing"
      hint="The tip trails the pointer by this many pixels, so a tremor does not show."
      :model-value="hand.steadying"
      :min="0"
      :max="120"
      :digits="0"
      @preview="hand.steadying = $event"
      @commit="hand.steadying = $event"
    />
    <div class="pen">
      <ElCheckbox v-model="hand.brush.sizeByPressure" size="small">Pen pressure controls size</ElCheckbox>
      <ElCheckbox v-model="hand.brush.flowByPressure" size="small">Pen pressure controls flow</ElCheckbox>
    </div>
  </template>
  <template v-else-if="hand.tool === 'region'">
    <div class="field">
      <span>Match</span>
      <ElSegmented v-model="hand.region.of" :options="REGIONS" size="small" aria-label="What the region matches" />
    </div>
    <NumberSlider
      v-if="hand.region.of === 'picture'"
      label="Tolerance"
      hint="How different from the pressed colour a texel may be. Perceptual distance: 0 is identical, 1 is black to white."
      :model-value="hand.region.tolerance"
      v-bind="REGION_RANGES.tolerance"
      @preview="hand.region.tolerance = $event"
      @commit="hand.region.tolerance = $event"
    />
    <NumberSlider
      label="Close gaps"
      hint="Gaps in the outline up to this many texels wide do not let the region leak out."
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
    hint="Where the mirror line lies, in texels."
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
