<script setup lang="ts">
import type { Scribble, TexelAt } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { usePiece } from '../../stores/open-piece/open-piece';
import type { Stage } from './stage';

/** Points and scribbles of the selected step, and the press under way, drawn over the Sheet. */
const props = defineProps<{ stage: Stage; moved: number; trail: readonly TexelAt[] }>();
const bench = useBenchStore();
const piece = usePiece();

const step = computed(() => {
  const { selection } = bench;
  return selection.kind === 'step' ? piece.run.find((s) => s.id === selection.id) : undefined;
});

const place = ([x, y]: TexelAt) => props.stage.sheet.pointOf(x + 0.5, y + 0.5, props.stage.view('sheet'));

const touches = computed(() => {
  void props.moved;
  if (step.value?.kind === 'from-touch') return step.value.params.at.map(place);
  if (step.value?.kind === 'from-colour' && step.value.params.reach === 'connected')
    return step.value.params.from.map(place);
  return [];
});

interface Line {
  effect: Scribble['effect'];
  width: number;
  points: string;
}

function lineOf({ effect, radius, at }: Scribble): Line {
  const points = (at.length > 1 ? at : [at[0], at[0]]).map(place);
  return {
    effect,
    width: Math.max(2, 2 * radius * props.stage.sheet.scale),
    points: points.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(' '),
  };
}

const lines = computed(() => {
  void props.moved;
  const { picking } = bench;
  const under: Scribble[] =
    picking?.gives === 'scribble' && props.trail.length > 0
      ? [{ effect: picking.effect, radius: picking.radius, at: [...props.trail] }]
      : [];
  return [...(step.value?.kind === 'from-strokes' ? step.value.params.strokes : []), ...under].map(lineOf);
});

const area = computed(() => {
  const { trail } = props;
  if (bench.picking?.gives !== 'swatch' || trail.length < 2) return null;
  const [a, b] = [place(trail[0]), place(trail[trail.length - 1])];
  return { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
});
</script>

<template>
  <svg v-if="touches.length || lines.length || area" class="marks" aria-hidden="true" data-test="pick-marks">
    <polyline v-for="(l, i) in lines" :key="i" :class="l.effect" :points="l.points" :stroke-width="l.width" />
    <g v-for="(t, i) in touches" :key="i" :transform="`translate(${t.x} ${t.y})`">
      <path class="under" d="M-7 0H7M0-7V7" />
      <path d="M-7 0H7M0-7V7" />
    </g>
    <rect v-if="area" v-bind="area" />
  </svg>
</template>

<style scoped>
.marks {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

polyline {
  fill: none;
  stroke-linecap: round;
  stroke-linejoin: round;
  stroke: #fbf8ef;
  opacity: 0.75;
}

/* shown by shape too: what drops is broken */
polyline.drop {
  stroke: #23211d;
  stroke-dasharray: 7 9;
}

path,
rect {
  fill: none;
  stroke: #fff;
  stroke-width: 1.6;
}

path.under {
  stroke: #1d2b26;
  stroke-width: 3.6;
}

rect {
  stroke-dasharray: 4 3;
  outline: 1px solid #1d2b26;
}
</style>
