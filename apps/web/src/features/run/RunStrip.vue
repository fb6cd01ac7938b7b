<script setup lang="ts">
import { CLIP, stepKind, STRETCHES, STRETCH_NAMES, type StepEntry, type Stretch } from '@lithe-sieve/core';
import { LayoutGrid, Plus } from 'lucide-vue-next';
import Sortable from 'sortablejs';
import { computed, onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useBringInStore } from '../../stores/bring-in.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import BreakWords from '../breaks/BreakWords.vue';
import CardWords from '../card/CardWords.vue';
import LevelWords from '../levels/LevelWords.vue';
import MaterialWords from '../material/MaterialWords.vue';
import StorageWords from '../storage/StorageWords.vue';
import InsertMenu from './InsertMenu.vue';
import { useRunActions } from '../../actions/run-actions';
import { kindsOf, stepLabel } from '../../document/step-labels';

const piece = usePiece();
const engine = useEngine();
const bench = useBenchStore();
const bringIn = useBringInStore();
const actions = useRunActions();

/** What follows the run; a tray of the same kind opens for each. */
const CLIP_TILES = [
  { kind: 'material', name: 'Material', words: MaterialWords },
  { kind: 'card', name: 'Card', words: CardWords },
  { kind: 'levels', name: 'Mip levels', words: LevelWords },
  { kind: 'breaks', name: 'What breaks', words: BreakWords },
  { kind: 'storage', name: 'Compression', words: StorageWords },
] as const;

/** Those that there are steps for. */
const SHOWN = STRETCH_NAMES.filter((stretch) => kindsOf(stretch).length > 0);
const stepsOf = (stretch: Stretch) => piece.run.filter((s) => stepKind(s.kind).stretch === stretch);
const reports = computed(() => new Map(engine.steps.map((s) => [s.stepId, s])));
const isSelected = (id: string) => 'id' in bench.selection && bench.selection.id === id;

const lists = useTemplateRef<HTMLElement[]>('lists');
let sortables: Sortable[] = [];
onMounted(() => {
  const options = { animation: 120, draggable: '.tile', forceFallback: true, fallbackTolerance: 5, onEnd };
  sortables = (lists.value ?? []).map((element) => Sortable.create(element, options));
});
onBeforeUnmount(() => sortables.forEach((s) => s.destroy()));

const strip = useTemplateRef<HTMLElement>('strip');
// the strip is longer than the page where a run is: what is selected by keys or inserted is to be seen
watch(
  () => bench.selection,
  () => strip.value?.querySelector('.tile.on')?.scrollIntoView({ block: 'nearest', inline: 'nearest' }),
  { flush: 'post' },
);

/** The library has moved the element; put it back and let the document move it. */
function onEnd({ from, item, oldDraggableIndex, newDraggableIndex }: Sortable.SortableEvent): void {
  if (oldDraggableIndex === undefined || newDraggableIndex === undefined || oldDraggableIndex === newDraggableIndex)
    return;
  const tiles = Array.from(from.querySelectorAll('.tile')).filter((t) => t !== item);
  from.insertBefore(item, tiles[oldDraggableIndex] ?? null);
  const step = piece.run.find((s) => s.id === item.dataset['id']);
  if (step) actions.move(step, newDraggableIndex - oldDraggableIndex);
}

function onTileKey(event: KeyboardEvent, step: StepEntry): void {
  if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
    event.preventDefault();
    event.stopPropagation();
    actions.move(step, event.key === 'ArrowLeft' ? -1 : 1);
  }
}
</script>

<template>
  <section ref="strip" class="run" aria-label="The run: from the sources to the result">
    <div class="tiles">
      <button
        v-for="source in piece.sources"
        :key="source.id"
        class="tile source"
        :class="{ on: isSelected(source.id) }"
        :aria-pressed="isSelected(source.id)"
        data-test="source"
        @click="bench.selection = { kind: 'source', id: source.id }"
      >
        <ThumbCanvas class="thumb" :thumb="engine.sourceThumbs.get(source.sha256) ?? null" />
        <span class="name" :title="source.fileName">{{ source.fileName }}</span>
      </button>
      <ElTooltip :trigger-keys="[]" content="Add a source, for example a mask picture (or drop it here)">
        <button class="plus" aria-label="Add a source" @click="bringIn.chooseSources()"><Plus :size="15" /></button>
      </ElTooltip>
      <ElTooltip :trigger-keys="[]" content="Start from… : masks found for this picture, and what worked before">
        <button
          class="plus"
          :class="{ chosen: bench.selection.kind === 'start' }"
          :aria-pressed="bench.selection.kind === 'start'"
          aria-label="Start from…"
          data-test="start-from"
          @click="bench.selection = { kind: 'start' }"
        >
          <LayoutGrid :size="15" />
        </button>
      </ElTooltip>
    </div>
    <template v-for="stretch in SHOWN" :key="stretch">
      <div class="mark" aria-hidden="true">
        <span>{{ STRETCHES[stretch].label }}</span>
      </div>
      <div ref="lists" class="tiles" role="group" :aria-label="`${STRETCHES[stretch].label} steps`">
        <div
          v-for="step in stepsOf(stretch)"
          :key="step.id"
          class="tile"
          :class="{ on: isSelected(step.id), off: !step.on, failed: reports.get(step.id)?.error }"
          :data-id="step.id"
          :data-test="`step-${step.kind}`"
        >
          <button
            class="face"
            :aria-pressed="isSelected(step.id)"
            :aria-label="`${stepLabel(step)}${step.on ? '' : ', off'}`"
            @click="bench.selection = { kind: 'step', id: step.id }"
            @keydown="onTileKey($event, step)"
          >
            <ThumbCanvas class="thumb" :thumb="reports.get(step.id)?.thumb ?? null" />
            <span v-if="reports.get(step.id)?.error" class="badge" aria-label="This step could not be computed">!</span>
          </button>
          <span class="name" :title="stepLabel(step)">
            <ElTooltip :trigger-keys="[]" :content="step.on ? 'Switch this step off' : 'Switch this step on'">
              <input
                type="checkbox"
                :checked="step.on"
                :aria-label="`${stepLabel(step)} on`"
                @change="actions.toggle(step)"
              />
            </ElTooltip>
            {{ stepLabel(step) }}
          </span>
        </div>
      </div>
      <InsertMenu :stretch="stretch" />
    </template>
    <div class="mark" aria-hidden="true">
      <span>{{ CLIP.label }}</span>
    </div>
    <button
      v-for="{ kind, name, words } in CLIP_TILES"
      :key="kind"
      class="tile"
      :class="{ on: bench.selection.kind === kind }"
      :data-test="`${kind}-tile`"
      @click="bench.selection = { kind }"
    >
      <component :is="words" class="thumb words" />
      <span class="name">{{ name }}</span>
    </button>
  </section>
</template>

<style scoped>
.run {
  scroll-padding-inline: 60px;
  display: flex;
  align-items: flex-start;
  gap: 6px;
  padding: 10px 16px 6px;
  border-bottom: 1px solid var(--rule);
  background: var(--paper-deep);
  height: 116px; /* the same with a scroll bar under it and without one */
  overflow: auto hidden;
}

.tiles {
  display: flex;
  flex: none;
  align-items: flex-start;
  gap: 4px;
}

.tile {
  position: relative;
  flex: none;
  width: 92px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font-size: 11.5px;
  text-align: center;
  cursor: pointer;
}

.face {
  position: relative;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}

.thumb {
  display: block;
  width: 62px;
  height: 62px;
  margin: 0 auto 4px;
  object-fit: contain;
  background: #000;
  border-radius: 3px;
  outline: 1px solid #0002;
}

.source .thumb,
.words {
  background: var(--paper-high);
}

.words {
  contain: strict;
  display: grid;
  place-content: center;
  line-height: 1.35;
}

.tile.on .thumb {
  outline: 2.5px solid var(--green);
}

.tile.on .name {
  font-weight: 650;
}

.tile.on::after {
  content: '';
  position: absolute;
  left: 50%;
  bottom: -12px;
  width: 10px;
  height: 10px;
  background: var(--paper);
  border: solid var(--rule);
  border-width: 1px 0 0 1px;
  transform: translateX(-50%) rotate(45deg);
}

.tile.off .thumb {
  opacity: 0.35;
}

.tile.off .name {
  text-decoration: line-through;
}

.badge {
  position: absolute;
  top: -4px;
  right: -6px;
  width: 17px;
  height: 17px;
  border-radius: 50%;
  background: var(--red);
  color: var(--paper);
  font-weight: 700;
  line-height: 17px;
}

.name {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.name input {
  width: 11px;
  height: 11px;
  margin: 0 2px 0 0;
  vertical-align: -1px;
  accent-color: var(--green);
}

.mark {
  flex: none;
  align-self: stretch;
  width: 1px;
  margin: 0 10px 6px 12px;
  background: var(--rule);
  position: relative;
}

.mark span {
  position: absolute;
  left: -7px;
  top: 0;
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  padding: 3px 0;
  background: var(--paper-deep);
  color: var(--ink-soft);
  font-size: 10.5px;
}

.run :deep(.plus) {
  display: grid;
  place-items: center;
  flex: none;
  width: 26px;
  height: 26px;
  margin: 18px 6px;
  border: 1.3px dashed var(--ink-soft);
  border-radius: 50%;
  background: none;
  color: var(--ink-soft);
  cursor: pointer;
}

.run :deep(.plus.chosen) {
  border: 1.3px solid var(--green);
  color: var(--green);
}

.run :deep(.plus:hover) {
  color: var(--ink);
  border-style: solid;
}
</style>
