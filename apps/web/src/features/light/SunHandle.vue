<script setup lang="ts">
import { sunWay } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useKeys } from '../../actions/keys';
import { dragHandle } from '../../components/drag-handle';
import { useBenchStore } from '../../stores/bench.store';
import type { Stage } from '../stage/stage';

/** The sun, dragged over the Stand while its light is looked at: sideways it turns, up and down it climbs. `moved` changes with the camera. */
const props = defineProps<{ stage: Stage; moved: number }>();
const bench = useBenchStore();

/** Card sides that the sun is shown away from the middle of the card. */
const AWAY = 0.62;
const DEGREES = 0.5;
/** Pixels of the controls below. */
const FOOT = 42;
const inside = (v: number, most: number) => Math.min(most - 14, Math.max(14, v));

const seen = computed(() => {
  void props.moved;
  const at = (height: number, turn: number) => {
    const way = sunWay(height, turn);
    return props.stage.stand.seenAround([way[0] * AWAY, way[1] * AWAY, way[2] * AWAY], props.stage.view('stand'));
  };
  const { height, turn } = bench.light;
  const arc = Array.from({ length: 19 }, (_, k) => at(10 * k, turn)).filter((p) => p !== null);
  const found = at(height, turn);
  const { width, height: tall } = props.stage.view('stand');
  // it can be taken hold of where it is out of sight, too
  const sun = found && { x: inside(found.x, width), y: inside(found.y, tall - FOOT) };
  return sun && { sun, arc: arc.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ') };
});

function start(event: PointerEvent): void {
  const { height, turn } = bench.light;
  const [x0, y0] = [event.clientX, event.clientY];
  const way = props.stage.stand.seesFront ? 1 : -1;
  dragHandle(event, {
    moved: (x, y) =>
      bench.setLight({ turn: within(turn + way * DEGREES * (x - x0)), height: height - DEGREES * (y - y0) }),
    done: () => undefined,
    back: () => bench.setLight({ height, turn }),
  });
}

/** From −180 to 180. */
const within = (turn: number) => ((((turn + 180) % 360) + 360) % 360) - 180;

const ARROWS: Partial<Record<string, [turn: number, height: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

function onKey(event: KeyboardEvent): void {
  const way = ARROWS[event.key];
  if (!way) return;
  event.preventDefault();
  event.stopPropagation();
  const by = event.shiftKey ? 1 : 5;
  const { height, turn } = bench.light;
  bench.setLight({ turn: within(turn + by * way[0]), height: height + by * way[1] });
}

useKeys('The sun', [
  { key: 'Arrows', label: 'Turn and raise it by five degrees' },
  { key: 'Shift+Arrows', label: 'The same by one' },
]);
</script>

<template>
  <svg v-if="seen" class="sun" data-test="sun">
    <polyline :points="seen.arc" />
    <circle
      :cx="seen.sun.x"
      :cy="seen.sun.y"
      r="9"
      tabindex="0"
      role="slider"
      aria-label="Sun: sideways it turns, up and down it climbs"
      :aria-valuenow="bench.light.height"
      :aria-valuetext="`${bench.light.height}° high, turned ${bench.light.turn}°`"
      @pointerdown.stop.prevent="start"
      @keydown="onKey"
    />
  </svg>
</template>

<style scoped>
.sun {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
  pointer-events: none;
}

polyline {
  fill: none;
  stroke: #fff9;
  stroke-dasharray: 3 4;
}

circle {
  fill: #fff3d6;
  stroke: #b97f18;
  stroke-width: 2;
  pointer-events: auto;
  cursor: move;
}

circle:hover,
circle:focus-visible {
  fill: #f0b453;
  outline: none;
}
</style>
