<script setup lang="ts">
import { MESH_EXTENSIONS, stepKind, type StepEntry } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import DropArea from '../features/bringin/DropArea.vue';
import { useKeys } from '../actions/keys';
import { useComparison } from '../actions/comparison';
import { useFitShown } from '../actions/fit-shown';
import { useCardActions } from '../actions/card-actions';
import { useLevelActions } from '../actions/level-actions';
import { useMaterialActions } from '../actions/material-actions';
import BreaksTray from '../features/breaks/BreaksTray.vue';
import CardTray from '../features/card/CardTray.vue';
import FormHandles from '../features/card/FormHandles.vue';
import LightTray from '../features/light/LightTray.vue';
import ViewTray from '../features/light/ViewTray.vue';
import SunHandle from '../features/light/SunHandle.vue';
import LineMarks from '../features/card/LineMarks.vue';
import LevelPaint from '../features/levels/LevelPaint.vue';
import LevelsTray from '../features/levels/LevelsTray.vue';
import MaterialTray from '../features/material/MaterialTray.vue';
import { useRunActions } from '../actions/run-actions';
import { focusSettings, focusTile } from '../components/focus';
import RunStrip from '../features/run/RunStrip.vue';
import StorageTray from '../features/storage/StorageTray.vue';
import RecipeHandles from '../features/recipe/RecipeHandles.vue';
import RecipeTray from '../features/recipe/RecipeTray.vue';
import { useTakingBlades } from '../features/recipe/taking-blades';
import SourceTray from '../features/run/SourceTray.vue';
import StepTray from '../features/run/StepTray.vue';
import SlotTable from '../features/slots/SlotTable.vue';
import CutoffChart from '../features/sieve/CutoffChart.vue';
import MipLadder from '../features/sieve/MipLadder.vue';
import SnagList from '../features/sieve/SnagList.vue';
import StartTray from '../features/start/StartTray.vue';
import StagePanel from '../features/stage/StagePanel.vue';
import { useBenchStore } from '../stores/bench.store';
import { useBringInStore } from '../stores/bring-in.store';
import { useFollowStore } from '../stores/follow.store';
import TroubleNote from '../components/TroubleNote.vue';
import { useClip, useEngine, usePiece } from '../stores/open-piece/open-piece';
import { lackOfBench } from '../engine/capabilities';
import { useHandKeys } from '../features/hand/hand-keys';
import HandOverlay from '../features/hand/HandOverlay.vue';
import { usePainting } from '../features/hand/painting';
import { useLaying } from '../features/stage/laying';
import { firstReady, usePlacing } from '../features/stage/placing';
import { useFullSizeReport } from '../features/sieve/full-size';
import LostPiece from '../features/stock/LostPiece.vue';
import { useOpenPiece } from './use-open-piece';

const props = defineProps<{ id: string }>();
const router = useRouter();
const piece = usePiece();
const engine = useEngine();
const clip = useClip();
const bench = useBenchStore();
bench.open = true;
onBeforeUnmount(() => (bench.open = false));
const bringIn = useBringInStore();
const follow = useFollowStore();
const actions = useRunActions();
const material = useMaterialActions();
const card = useCardActions();
const levels = useLevelActions();
const comparison = useComparison();
/** A mesh is what the piece lies on; all else are further sources. */
function bring(files: File[]): void {
  const isMesh = ({ name }: File) => MESH_EXTENSIONS.some((ending) => name.toLowerCase().endsWith(ending));
  const meshes = files.filter(isMesh);
  if (meshes.length < files.length) void bringIn.asSources(files.filter((file) => !isMesh(file)));
  for (const mesh of meshes) void card.bringMesh(mesh);
}

/** What of the Stand is set where it is alone. */
const STAND_TRAYS = (['material', 'card', 'light', 'view'] as const).map((value) => ({ value, label: value }));

const { failure } = useOpenPiece(() => props.id);
const lack = lackOfBench();
/** Strip, tray and figures come a frame after both views: what is opened is seen first. */
const around = ref(false);
onMounted(() => requestAnimationFrame(() => requestAnimationFrame(() => (around.value = true))));
useFullSizeReport();
useFitShown();
const painting = usePainting();
const placing = usePlacing();
const laying = useLaying();
const taking = useTakingBlades();
const tool = firstReady([painting.tool, placing.tool, laying.tool, taking.tool]);

const step = computed(() => {
  const { selection } = bench;
  return selection.kind === 'step' ? piece.run.find((s) => s.id === selection.id) : undefined;
});
const source = computed(() => {
  const { selection } = bench;
  return selection.kind === 'source' ? piece.sources.find((s) => s.id === selection.id) : undefined;
});

/** Nothing says for sure what the mask is: there is none, or the border of a new picture was taken for a backdrop. */
function isOpenQuestion(): boolean {
  const mask = piece.run.find((s) => stepKind(s.kind).stretch === 'mask');
  return !mask || (bench.arrived === piece.id && mask.kind === 'from-colour');
}

// begin with the first step that can be tuned; where there is a fit with the last, since those before show what is unfitted
watch(
  () => piece.material !== null && piece.id,
  () => {
    if (step.value || source.value || !piece.id) return; // back from the Hand-off: as it was
    comparison.clear(); // B was of another piece
    const fitted = piece.run.findLast((s) => s.on && stepKind(s.kind).stretch === 'fit');
    const first = fitted ?? piece.run[0];
    const [colour] = piece.sources;
    if (colour?.recipe && !fitted) bench.selection = { kind: 'source', id: colour.id };
    else if (colour && isOpenQuestion()) bench.selection = { kind: 'start' };
    else bench.selection = first ? { kind: 'step', id: first.id } : { kind: 'material' };
    bench.arrived = null;
  },
  { immediate: true },
);

const onSelected = (run: (step: NonNullable<ReturnType<typeof actions.selectedStep>>) => void) => () => {
  const selected = actions.selectedStep();
  if (selected) run(selected);
};

function removed(step: StepEntry): void {
  actions.remove(step);
  void focusTile();
}

useKeys('Run', [
  { key: 'ArrowRight', label: 'Select the next step', run: () => actions.selectNext(1) },
  { key: 'ArrowLeft', label: 'Select the step before', run: () => actions.selectNext(-1) },
  { key: 'Alt+ArrowRight', label: 'Move the step on', run: onSelected((s) => actions.move(s, 1)) },
  { key: 'Alt+ArrowLeft', label: 'Move the step back', run: onSelected((s) => actions.move(s, -1)) },
  { key: 'x', label: 'Switch the step on or off', run: onSelected((s) => actions.toggle(s)) },
  { key: 'Delete', label: 'Delete the step', run: onSelected(removed) },
  {
    key: 'a',
    label: 'Insert a mask step',
    run: () => void (bench.inserting = 'mask'),
  },
  {
    key: 'c',
    label: 'Insert a colour step',
    run: () => void (bench.inserting = 'colour'),
  },
  { key: 'Alt+m', label: 'Insert a map step', run: () => void (bench.inserting = 'maps') },
  { key: 'Alt+t', label: 'Insert a step of the fit', run: () => void (bench.inserting = 'fit') },
  { key: 'Alt+s', label: 'To the settings of what is selected', run: () => void focusSettings() },
  { key: 'Alt+r', label: 'Back to its tile', run: () => void focusTile() },
  { key: 'r', label: 'Settings of the material', run: () => void (bench.selection = { kind: 'material' }) },
  {
    key: 'Alt+a',
    label: 'Start from a mask that is proposed, or from what worked before',
    run: () => void (bench.selection = { kind: 'start' }),
  },
  {
    key: 'b',
    label: 'Add a source',
    run: () => void bringIn.chooseSources(),
  },
  { key: 'Escape', label: 'End picking', run: () => bench.endPressing() },
]);
useKeys('Sieve', [
  { key: ',', label: 'Lower the cutoff by 0.01', run: () => material.nudgeCutoff(-0.01) },
  { key: '.', label: 'Raise the cutoff by 0.01', run: () => material.nudgeCutoff(0.01) },
  {
    key: 'Alt+b',
    label: 'While held: the clip B, with what differs marked',
    run: () => comparison.show(true),
    release: () => comparison.show(false),
  },
  { key: 'Alt+h', label: 'Hold at distance, or not', run: levels.toggleHold },
  { key: 'Alt+w', label: 'What breaks far away', run: () => void (bench.selection = { kind: 'breaks' }) },
  { key: 'Alt+d', label: 'Settings of the card', run: () => void (bench.selection = { kind: 'card' }) },
  { key: 'Alt+i', label: 'Light of the Stand', run: () => void (bench.selection = { kind: 'light' }) },
  { key: 'Alt+u', label: 'View of the Stand', run: () => void (bench.selection = { kind: 'view' }) },
  { key: 'Alt+l', label: 'Settings of the mip levels', run: () => void (bench.selection = { kind: 'levels' }) },
]);
useHandKeys({
  ...painting,
  abandon: () => painting.abandon() || placing.abandon() || laying.abandon() || taking.abandon(),
}); // after those of the run: Escape takes back what is being drawn first
</script>

<template>
  <LostPiece v-if="failure" :piece-id="id" :failure="failure" />
  <div v-else-if="lack" class="in-the-middle" role="alert" data-test="lack">
    <h1>{{ lack.message }}</h1>
    <p>{{ lack.works }}</p>
    <p>{{ lack.remedy }}</p>
    <ElButton type="primary" @click="router.push('/')">To the Stock</ElButton>
  </div>
  <DropArea
    v-else
    hint="Drop pictures: each becomes a further source of this piece. Drop a mesh: the piece lies on it."
    @files="bring($event)"
  >
    <div class="bench" :class="{ alone: bench.standAlone }">
      <div class="notices">
        <TroubleNote
          v-for="notice in follow.notices"
          :key="notice.path"
          :message="notice.title"
          :calm="!notice.bad"
          closable
          data-test="follow-notice"
          @close="follow.dismiss(notice.path)"
        />
      </div>
      <RunStrip v-if="around && !bench.standAlone" />
      <div v-else-if="!bench.standAlone" class="strip-place" />
      <div class="middle">
        <StagePanel :tool="tool">
          <template #over="{ stage, over }">
            <HandOverlay :stage="stage" :over="over" :painting="painting" />
            <RecipeHandles
              v-if="over.view === 'sheet' && source?.recipe"
              :stage="stage"
              :moved="over.moved"
              :source="source"
            />
            <template
              v-if="
                over.view === 'stand' && bench.selection.kind === 'card' && piece.doc && !piece.doc.mesh && clip.surface
              "
            >
              <FormHandles :stage="stage" :moved="over.moved" :doc="piece.doc" :surface="clip.surface" />
              <LineMarks :stage="stage" :moved="over.moved" :doc="piece.doc" :surface="clip.surface" />
            </template>
            <SunHandle
              v-if="over.view === 'stand' && bench.selection.kind === 'light'"
              :stage="stage"
              :moved="over.moved"
            />
            <LevelPaint v-if="over.view === 'sheet' && bench.paintLevel !== null" :stage="stage" :moved="over.moved" />
          </template>
        </StagePanel>
        <aside id="settings" class="tray" aria-label="Settings" tabindex="-1">
          <ElSegmented
            v-if="bench.standAlone"
            class="trays"
            :model-value="bench.selection.kind"
            :options="STAND_TRAYS"
            aria-label="Settings of the Stand"
            @change="bench.selection = { kind: $event }"
          />
          <template v-if="!around" />
          <StepTray v-else-if="step" :step="step" />
          <StartTray v-else-if="bench.selection.kind === 'start'" />
          <RecipeTray v-else-if="source?.recipe" :key="source.id" :source="source" />
          <SourceTray v-else-if="source" :source="source" />
          <CardTray v-else-if="piece.doc && bench.selection.kind === 'card'" :doc="piece.doc" />
          <LightTray v-else-if="bench.selection.kind === 'light'" />
          <ViewTray v-else-if="bench.selection.kind === 'view'" />
          <LevelsTray v-else-if="piece.doc && bench.selection.kind === 'levels'" :doc="piece.doc" />
          <BreaksTray v-else-if="piece.doc && bench.selection.kind === 'breaks'" :doc="piece.doc" />
          <StorageTray v-else-if="piece.doc && bench.selection.kind === 'storage'" />
          <MaterialTray v-else-if="piece.doc" :doc="piece.doc"><SlotTable /></MaterialTray>
        </aside>
      </div>
      <div v-if="!bench.standAlone" class="sieve">
        <template v-if="around">
          <CutoffChart :levels="engine.levels" :suggestions="clip.suggestions" />
          <MipLadder
            :levels="clip.summaries"
            :plain="engine.levels"
            :drawn="clip.drawn"
            :provisional="clip.provisional"
          />
          <SnagList />
        </template>
      </div>
    </div>
  </DropArea>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr) 190px;
  height: 100%;
}

.bench.alone {
  grid-template-rows: auto minmax(0, 1fr);
}

.trays {
  width: 100%;
  margin-bottom: 12px;
}

.strip-place {
  height: 116px;
  border-bottom: 1px solid var(--rule);
  background: var(--paper-deep);
}

.middle {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 272px;
  min-height: 0;
}

.middle > :deep(*) {
  min-height: 0;
}

.tray {
  padding: 14px 16px;
  contain: strict;
  border-left: 1px solid var(--rule);
  overflow: hidden auto; /* a thumb at the end of its slider reaches a pixel beyond */
}

.sieve {
  display: grid;
  grid-template-columns: 340px minmax(0, 1fr) 272px;
  min-height: 0;
  border-top: 1px solid var(--rule);
}
</style>
