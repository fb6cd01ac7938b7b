<script setup lang="ts">
import { mapKind, stepKind, type MapName } from '@lithe-sieve/core';
import { computed, watch } from 'vue';
import { useKeys } from '../../actions/keys';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { MAP_LOOKS, type SheetMode } from '../../drawing/flat-view';
import { useKeptPlace } from './kept-place';
import { ALWAYS_SHOWN, useSheetShown } from './sheet-shown';
import type { Stage } from './stage';

/** What the Sheet shows, and how near. */
const props = defineProps<{ stage: Stage | null; readout: string; zoom: string }>();
const emit = defineEmits<{ moved: []; zoomed: [factor: number] }>();
const bench = useBenchStore();
const engine = useEngine();
const piece = usePiece();

const MODES = ALWAYS_SHOWN.map((value) => ({
  label: value === 'colour' || value === 'mask' ? mapKind(value).label : value,
  value,
}));
const { maps, shown } = useSheetShown();
const mode = computed({ get: () => shown.value, set: (wish: SheetMode) => (bench.sheetMode = wish) });
const shownMap = computed(() => maps.value.find((map) => map === shown.value));

/** What a selected step makes is what is looked at. */
watch(
  () => bench.selection,
  (selection) => {
    const step = selection.kind === 'step' ? piece.run.find((s) => s.id === selection.id) : undefined;
    if (!step) return;
    const { makes, stretch } = stepKind(step.kind);
    if (makes) bench.sheetMode = makes;
    else if (stretch !== 'fit' && !MODES.some((m) => m.value === bench.sheetMode)) bench.sheetMode = 'kept';
  },
);

function nextMap(): void {
  const names = maps.value;
  const next = names[(names.indexOf(shown.value as MapName) + 1) % names.length];
  if (next) bench.sheetMode = next;
}
function nextLook(): void {
  bench.mapLook = MAP_LOOKS[(MAP_LOOKS.indexOf(bench.mapLook) + 1) % MAP_LOOKS.length];
}
const tooLarge = computed(() => {
  const { size } = engine;
  return props.stage && size && Math.max(size.width, size.height) > props.stage.graphics.maxSide;
});

function look(change: (stage: Stage) => void): void {
  if (!props.stage) return;
  change(props.stage);
  emit('moved');
  props.stage.invalidate('sheet');
}
const fit = () => look((s) => s.sheet.fit(s.view('sheet')));
const keptPlace = useKeptPlace();
function fitKept(): void {
  const kept = keptPlace();
  if (kept) look((s) => s.sheet.fitBox(kept, s.view('sheet')));
  else fit();
}
const oneToOne = () => look((s) => s.sheet.oneToOne(s.pixelRatio));

useKeys('Sheet', [
  ...MODES.map(({ label, value }, i) => ({
    key: String(i + 1),
    label: `Show ${label}`,
    run: () => void (bench.sheetMode = value),
  })),
  { key: '5', label: 'Show the next map', run: nextMap },
  { key: '6', label: 'A map whole, cut, over the colour', run: nextLook },
  { key: 'Alt+e', label: 'Mark soft texels that are dropped, or not', run: () => void (bench.softMarked = !bench.softMarked) }, // prettier-ignore
  { key: '0', label: 'Fit the picture', run: fit },
  { key: '8', label: 'Zoom to what is kept', run: fitKept },
  { key: '9', label: 'One texel on one pixel', run: oneToOne },
  { key: '+', also: '=', label: 'Closer', run: () => emit('zoomed', 1.5) },
  { key: '-', label: 'Farther', run: () => emit('zoomed', 1 / 1.5) },
  { key: 'Ctrl+Arrows', label: 'By one texel' },
]);
</script>

<template>
  <div class="top" @pointerdown.stop @wheel.stop>
    <ElSegmented v-model="mode" :options="MODES" aria-label="What the Sheet shows" />
    <span v-if="maps.length" class="maps">
      <ElSelect
        :model-value="shownMap"
        :placeholder="maps.length === 1 ? '1 map' : `${maps.length} maps`"
        size="small"
        aria-label="Map on the Sheet (5)"
        data-test="map-shown"
        @change="bench.sheetMode = $event"
      >
        <ElOption v-for="m in maps" :key="m" :value="m" :label="mapKind(m).label" />
      </ElSelect>
      <ElSelect
        v-if="shownMap"
        v-model="bench.mapLook"
        size="small"
        aria-label="How the map is shown (6)"
        data-test="map-look"
      >
        <ElOption v-for="l in MAP_LOOKS" :key="l" :value="l" :label="l" />
      </ElSelect>
    </span>
    <label v-if="shown === 'kept'" class="legend" title="Soft texels that the cutoff drops (Alt + E)"
      ><input v-model="bench.softMarked" type="checkbox" data-test="soft-marked" /><i aria-hidden="true" />soft</label
    >
  </div>
  <div class="foot">
    <span class="readout" data-test="readout">{{ readout }}</span>
    <span class="tools" @pointerdown.stop>
      <span v-if="tooLarge">drawn at {{ stage?.graphics.maxSide }}, computed in full</span>
      <button title="Zoom to what is kept (8)" @click="fitKept">fit kept</button>
      <button title="Fit (0)" @click="fit">fit</button>
      <button title="One texel on one pixel (9)" @click="oneToOne">1:1</button>
      <span class="percent" data-test="zoom">{{ zoom }}</span>
    </span>
  </div>
</template>

<style scoped src="./stage-controls.css"></style>
