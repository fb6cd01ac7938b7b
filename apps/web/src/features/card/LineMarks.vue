<script setup lang="ts">
import { curveThrough, LINE_PLACES, type CardSurface, type GroundPlace, type PieceDoc } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, useTemplateRef } from 'vue';
import { useKeys } from '../../actions/keys';
import { useLineActions } from '../../actions/line-actions';
import { dragHandle } from '../../components/drag-handle';
import { sayAt } from '../../components/say-at';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine } from '../../stores/open-piece/open-piece';
import type { Stage } from '../stage/stage';

/**
 * The line on the ground that cards stand along: its places are dragged on the Stand, or moved with arrow keys; while it is
 * drawn, one drag is the whole line. `moved` changes with the camera.
 */
const props = defineProps<{ stage: Stage; moved: number; doc: PieceDoc; surface: CardSurface }>();
const bench = useBenchStore();
const engine = useEngine();
const line = useLineActions();
const svg = useTemplateRef<SVGSVGElement>('svg');

// where the tray is left while a place is dragged
onBeforeUnmount(() => props.stage.stand.holdMiddle(false));

const places = computed(() => (engine.size ? line.of(props.doc, engine.size, engine.cardWidth) : null));
/** Units of the Stand in a metre. */
const metre = computed(() => {
  const { width, height } = engine.size!;
  return width / Math.max(width, height) / engine.cardWidth;
});
const seen = (at: GroundPlace) =>
  props.stage.stand.seenOnGround([at[0] * metre.value, at[1] * metre.value], props.stage.view('stand'));

const marks = computed(() => {
  void props.moved;
  void props.surface; // the camera looks at its middle
  const all = places.value;
  if (!all) return null;
  const curve = curveThrough(all);
  /** Of the curve between a place and the next. */
  const middle = (k: number) => curve[Math.round(((k + 0.5) * (curve.length - 1)) / (all.length - 1))];
  const seenOf = (some: readonly GroundPlace[]) => some.map(seen).filter((p) => p !== null);
  return {
    curve: seenOf(curve).map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' '), // prettier-ignore
    places: all.map(seen),
    between: all.slice(1).map((_, k) => seen(middle(k))),
  };
});
const isFull = computed(() => (places.value?.length ?? 0) >= LINE_PLACES.max);

/** Metres; null above the horizon. */
function groundAt(clientX: number, clientY: number): GroundPlace | null {
  const box = svg.value!.getBoundingClientRect();
  const at = props.stage.stand.groundAt(clientX - box.left, clientY - box.top, props.stage.view('stand'));
  return at && [at[0] / metre.value, at[1] / metre.value];
}

function start(event: PointerEvent, k: number, isBetween: boolean): void {
  const before = places.value!;
  let now: GroundPlace[] | null = null;
  props.stage.stand.holdMiddle(true); // else the view would follow the line that is dragged
  const end = (act: () => void) => {
    props.stage.stand.holdMiddle(false);
    act();
  };
  dragHandle(event, {
    moved(x, y) {
      const to = groundAt(x, y);
      if (!to) return;
      now = before.toSpliced(k, isBetween ? 0 : 1, to);
      line.preview(now);
    },
    done: () => end(() => now && line.set(now, isBetween ? 'a place more' : 'a place moved')),
    back: () => end(line.abandon),
  });
}

/** One drag from end to end. */
function draw(event: PointerEvent): void {
  const drawn: GroundPlace[] = [];
  const add = (x: number, y: number) => {
    const at = groundAt(x, y);
    if (at) drawn.push(at);
  };
  props.stage.stand.holdMiddle(true);
  add(event.clientX, event.clientY);
  const end = () => {
    props.stage.stand.holdMiddle(false);
    bench.endPressing();
  };
  dragHandle(event, {
    moved(x, y) {
      add(x, y);
      line.previewDrawn(drawn);
    },
    done() {
      end();
      line.setDrawn(drawn);
    },
    back() {
      end();
      line.abandon();
    },
  });
}

const ARROWS: Partial<Record<string, GroundPlace>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

function onKey(event: KeyboardEvent, k: number): void {
  const all = places.value!;
  const way = ARROWS[event.key];
  const isMore = event.key === 'Insert' || event.key === '+';
  if (!way && !isMore && event.key !== 'Delete') return;
  event.preventDefault();
  event.stopPropagation();
  const handle = event.currentTarget as Element;
  if (way) {
    const by = line.step(all) * (event.shiftKey ? 0.1 : 1) * (props.stage.stand.seesFront ? 1 : -1);
    line.set(all.with(k, [all[k][0] + by * way[0], all[k][1] + by * way[1]]), 'a place moved');
  } else if (isMore) {
    if (isFull.value) sayAt(handle, `A line has ${LINE_PLACES.max} places at most.`);
    else line.set(line.withMore(all, k), 'a place more');
  } else if (all.length === LINE_PLACES.min) sayAt(handle, 'A line has two places at least.');
  else line.set(all.toSpliced(k, 1), 'a place less');
}

useKeys('Places of the line', [
  { key: 'Arrows', label: 'Move the place over the ground' },
  { key: 'Shift+Arrows', label: 'The same by a tenth' },
  { key: 'Insert', label: 'A place more, after it' },
  { key: 'Delete', label: 'Without the place' },
]);
</script>

<template>
  <svg v-if="marks" ref="svg" class="line" data-test="line-marks">
    <polyline class="under" :points="marks.curve" />
    <polyline :points="marks.curve" />
    <template v-if="!isFull">
      <template v-for="(p, k) in marks.between" :key="k">
        <circle
          v-if="p"
          class="between"
          :cx="p.x"
          :cy="p.y"
          r="3.5"
          aria-hidden="true"
          @pointerdown.stop.prevent="start($event, k + 1, true)"
        />
      </template>
    </template>
    <template v-for="(p, k) in marks.places" :key="k">
      <circle
        v-if="p"
        :cx="p.x"
        :cy="p.y"
        r="6"
        tabindex="0"
        role="button"
        :aria-label="`Place ${k + 1} of ${marks.places.length} of the line: arrows move it`"
        @pointerdown.stop.prevent="start($event, k, false)"
        @keydown="onKey($event, k)"
      />
    </template>
    <rect
      v-if="bench.lining"
      class="all"
      width="100%"
      height="100%"
      tabindex="-1"
      @pointerdown.stop.prevent="draw($event)"
    />
  </svg>
</template>

<style scoped>
.line {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
  pointer-events: none;
}

polyline {
  fill: none;
  stroke: #fff;
  stroke-width: 1.6;
}

polyline.under {
  stroke: #1d2b26;
  stroke-width: 3.4;
}

circle {
  fill: #fdfaf2;
  stroke: #22302a;
  stroke-width: 1.5;
  pointer-events: auto;
  cursor: move;
}

circle.between {
  fill: #1d2b26;
  stroke: #fff;
  cursor: copy;
}

circle:hover,
circle:focus-visible {
  fill: #f0b453;
  outline: none;
  stroke-width: 2.5;
}

.all {
  fill: transparent;
  pointer-events: all;
  cursor: crosshair;
  outline: none;
}
</style>
