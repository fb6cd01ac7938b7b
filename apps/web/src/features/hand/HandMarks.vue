<script setup lang="ts">
import { computed } from 'vue';
import { useEngine } from '../../stores/open-piece/open-piece';
import { useHandStore } from '../../stores/hand.store';
import { pointOn } from '../stage/places';
import type { Point } from '../../drawing/poses';
import type { Stage } from '../stage/stage';
import type { PressPoint } from '../stage/press-tool';

/** The tip under the pointer, distinguished by shape: a broken ring with a cross cuts, a whole one with a plus restores. */
const props = defineProps<{
  stage: Stage;
  view: 'sheet' | 'stand';
  moved: number;
  /** Under the pointer, in texels; null where it is elsewhere. */
  at: { x: number; y: number } | null;
  anchor: PressPoint | null;
  outline: readonly { x: number; y: number }[];
}>();
const hand = useHandStore();
const engine = useEngine();

const RING = 40;

/** Where a place of the picture, in texels, is seen. */
const seen = (place: Point) => pointOn(props.stage, props.view, place, engine.size!);
const text = (points: Point[]) => points.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(' ');

const ring = computed(() => {
  void props.moved;
  const { at } = props;
  if (!at || !engine.size || !hand.isBrush) return null;
  const whole = hand.brush.tip === 'whole texels';
  const r = whole ? 0.5 : hand.brush.diameter / 2;
  const c = whole ? { x: Math.floor(at.x) + 0.5, y: Math.floor(at.y) + 0.5 } : at;
  const corners = whole
    ? [
        [-r, -r],
        [r, -r],
        [r, r],
        [-r, r],
      ]
    : Array.from({ length: RING }, (_, i) => {
        const angle = (2 * Math.PI * i) / RING;
        return [r * Math.cos(angle), r * Math.sin(angle)];
      });
  return text(corners.map(([x, y]) => seen({ x: c.x + x, y: c.y + y })));
});
const sign = computed(() => {
  void props.moved;
  return props.at && engine.size ? seen(props.at) : null;
});
const line = computed(() => {
  void props.moved;
  const { anchor, at } = props;
  return anchor && at && engine.size && hand.tool === 'line' ? text([seen(anchor), seen(at)]) : '';
});
const corners = computed(() => {
  void props.moved;
  const { outline, at } = props;
  return outline.length > 0 && engine.size ? text([...outline, ...(at ? [at] : [])].map(seen)) : '';
});
const axis = computed(() => {
  void props.moved;
  const { mirror } = hand;
  if (!mirror || !engine.size || props.view !== 'sheet') return '';
  const far = engine.size.width + engine.size.height;
  const a = ((mirror.degrees + 90) * Math.PI) / 180;
  const [dx, dy] = [far * Math.cos(a), far * Math.sin(a)];
  return text([seen({ x: mirror.x - dx, y: mirror.y - dy }), seen({ x: mirror.x + dx, y: mirror.y + dy })]);
});
</script>

<template>
  <svg class="marks" aria-hidden="true" :data-test="`hand-${view}`" :data-effect="hand.now">
    <polyline v-if="axis" class="axis" :points="axis" />
    <template v-for="under in [true, false]" :key="String(under)">
      <polygon v-if="ring" :class="[hand.now, { under }]" :points="ring" />
      <polyline v-if="line" :class="[hand.now, { under }]" :points="line" />
      <polyline v-if="corners" :class="[hand.now, { under }]" :points="corners" />
      <path
        v-if="sign"
        :class="['sign', { under }]"
        :transform="`translate(${sign.x + 13} ${sign.y - 13})`"
        :d="hand.now === 'cut' ? 'M-4 -4L4 4M-4 4L4 -4' : 'M-5 0H5M0 -5V5'"
      />
    </template>
  </svg>
</template>

<style scoped>
.marks {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
  pointer-events: none;
}

polygon,
polyline,
path {
  fill: none;
  stroke: #fff;
  stroke-width: 1.4;
}

.under {
  stroke: #1d2b26;
  stroke-width: 3.2;
}

.cut:not(.under) {
  stroke-dasharray: 6 4;
}

.sign:not(.under) {
  stroke-width: 2;
}

.sign.under {
  stroke-width: 4.4;
}

.axis {
  stroke: #1d2b26;
  stroke-dasharray: 10 4 2 4;
}
</style>
