<script setup lang="ts">
import { computed, ref } from 'vue';
import { useKeys } from '../../actions/keys';
import { MODES, useMaterialActions } from '../../actions/material-actions';
import NumberSlider from '../../components/NumberSlider.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { ENVIRONMENT_NAMES } from '../../drawing/lit/environments';
import { useKeptPlace } from './kept-place';
import type { Stage } from './stage';
import { STAND_SIDES } from '../../drawing/stand-pose';
import { FAR, useMoving } from './moving';

/** How the renderer treats the card, and from where it is seen. */
const props = defineProps<{ stage: Stage | null; readout: string }>();
const emit = defineEmits<{ moved: [] }>();
const piece = usePiece();
const engine = useEngine();
const bench = useBenchStore();
const material = useMaterialActions();

/** Card sides between camera and card, the nearest. */
const NEAREST = 0.1;
const SIDES = [
  { label: 'one side', value: 'one' },
  { label: 'two sides', value: 'two' },
];
const mode = computed(() => piece.material?.mode);
const doubleSided = computed(() => piece.material?.doubleSided);

/** Longer side of the card, metres. */
const longestSide = computed(() => {
  const tall = engine.size ? engine.size.height / engine.size.width : 1;
  return engine.cardWidth * Math.max(1, tall);
});
/** Card sides between them, the most: a hundred metres for a small one. */
const farthest = computed(() => Math.max(120, FAR / longestSide.value));
/** Metres between camera and card. */
const metres = computed({
  get: () => bench.distance * longestSide.value,
  set: (value) => (bench.distance = value / longestSide.value),
});

function flip(): void {
  props.stage?.stand.flip();
  emit('moved');
  props.stage?.invalidate('stand');
}

useMoving(
  () => emit('moved'),
  () => 1 / longestSide.value,
);

const keptPlace = useKeptPlace();
/** The camera goes to what is kept; where it is there already, back to the whole card. */
const atKept = ref(false);
function lookAtKept(): void {
  const { stage } = props;
  const { size } = engine;
  const kept = atKept.value ? null : keptPlace();
  if (!stage || !size) return;
  atKept.value = kept !== null;
  const longer = Math.max(size.width, size.height);
  if (kept) {
    const { x0, y0, x1, y1 } = kept;
    stage.stand.aimAt({ u: (x0 + x1) / 2 / size.width, v: (y0 + y1) / 2 / size.height });
    bench.distance = Math.max(
      NEAREST,
      stage.stand.distanceFor((x1 - x0) / longer, (y1 - y0) / longer, stage.view('stand')),
    );
  } else {
    stage.stand.aimAt(null);
    bench.distance = bench.wholeCard;
  }
  emit('moved');
  stage.invalidate('stand');
}

const nextBackdrop = computed(() => (ENVIRONMENT_NAMES.indexOf(bench.backdrop) + 1) % ENVIRONMENT_NAMES.length);

useKeys('Stand', [
  { key: '7', label: 'Camera to what is kept, and back', run: lookAtKept },
  { key: 'f', label: 'Front or back', run: flip },
  { key: 'j', label: 'Nearer', run: () => void (bench.distance = Math.max(NEAREST, bench.distance / 1.2)) },
  {
    key: 'k',
    label: 'Farther away',
    run: () => void (bench.distance = Math.min(farthest.value, bench.distance * 1.2)),
  },
  { key: 'm', label: 'Opaque, mask, blend', run: () => material.nextMode() },
  { key: 't', label: 'One side or two', run: () => material.toggleSides() },
  {
    key: 'Alt+o',
    label: 'From the front, edge on, from the back, from the top',
    run() {
      const at = STAND_SIDES.findIndex((side) => side === bench.side?.from);
      bench.side = { from: STAND_SIDES[(at + 1) % STAND_SIDES.length] };
    },
  },
  {
    key: 'Alt+j',
    label: 'As seen, while it is held',
    run: () => void (bench.asSeen = true),
    release: () => void (bench.asSeen = false),
  },
  {
    key: 'Alt+v',
    label: 'The Stand alone, or beside the Sheet',
    run: () => void (bench.standAlone = !bench.standAlone),
  },
  {
    key: 'g',
    label: 'Next sky',
    run: () => void (bench.backdrop = ENVIRONMENT_NAMES[nextBackdrop.value]),
  },
]);
</script>

<template>
  <div class="top" @pointerdown.stop @wheel.stop>
    <ElSegmented
      v-if="mode"
      :model-value="mode"
      :options="MODES"
      aria-label="Alpha mode"
      data-test="mode"
      @change="material.set({ mode: $event as never }, `${$event}`)"
    />
    <ElSegmented
      :model-value="doubleSided ? 'two' : 'one'"
      :options="SIDES"
      aria-label="Sides"
      @change="material.toggleSides()"
    />
    <span class="right">
      <button
        title="From where it is seen, and what is shown on it (Alt+U)"
        :aria-pressed="bench.selection.kind === 'view'"
        data-test="view"
        @click="bench.selection = { kind: 'view' }"
      >
        view
      </button>
      <button
        title="Light (Alt+I); G: the next sky"
        :aria-pressed="bench.selection.kind === 'light'"
        data-test="light"
        @click="bench.selection = { kind: 'light' }"
      >
        {{ bench.backdrop }}
      </button>
      <button
        :title="`${bench.standAlone ? 'Beside the Sheet' : 'The Stand alone'} (Alt+V)`"
        :aria-pressed="bench.standAlone"
        data-test="stand-alone"
        @click="bench.standAlone = !bench.standAlone"
      >
        {{ bench.standAlone ? 'smaller' : 'larger' }}
      </button>
    </span>
  </div>
  <div class="foot">
    <span data-test="stand-readout">{{ readout }}</span>
    <span class="tools" @pointerdown.stop>
      <button
        title="As the target draws it, or as an eye would see the full-size mask; hold Alt+J to look for a moment"
        :aria-pressed="bench.asSeen"
        data-test="as-seen-button"
        @click="bench.asSeen = !bench.asSeen"
      >
        {{ bench.asSeen ? 'as seen' : 'as drawn' }}
      </button>
      <button
        :title="atKept ? 'Show the whole card (7)' : 'Camera to what is kept (7)'"
        data-test="stand-kept"
        @click="lookAtKept"
      >
        {{ atKept ? 'whole' : 'to kept' }}
      </button>
      <button title="Front or back (F)" data-test="flip" @click="flip">other side</button>
    </span>
    <span class="distance" @pointerdown.stop @wheel.stop>
      <NumberSlider
        label="Distance"
        hint="From the camera to the card, in metres. Farther away the renderer samples smaller mip levels."
        :model-value="metres"
        :min="NEAREST * longestSide"
        :max="farthest * longestSide"
        :digits="2"
        unit="metres"
        logarithmic
        @preview="metres = $event"
        @commit="metres = $event"
      />
    </span>
  </div>
</template>

<style scoped src="./stage-controls.css"></style>
