<script setup lang="ts">
import {
  HOLD_VERSION,
  KEEPS,
  LEVEL_RANGES,
  MIP_FILTERS,
  WRAPS,
  type HeldLevel,
  type Keep,
  type LevelSettings,
  type MipFilter,
  type PieceDoc,
} from '@lithe-sieve/core';
import { computed, onBeforeUnmount, watch } from 'vue';
import { useLevelActions } from '../../actions/level-actions';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useClip } from '../../stores/open-piece/open-piece';
import { useClipLook } from '../../stores/open-piece/use-clip-look';
import { KEEP_LABELS } from './keep-labels';
import OneLevel from './OneLevel.vue';
import LevelFiguresTable from './LevelFiguresTable.vue';

const props = defineProps<{ doc: PieceDoc }>();
const clip = useClip();
useClipLook('levels');
const bench = useBenchStore();
const actions = useLevelActions();
const levels = computed(() => props.doc.levels);

/** Words of the field that need no other. */
const namesOf = <T extends string>(words: readonly T[]) => words.map((value) => ({ value, label: value }));
const MAKERS = [
  { value: 'target', label: 'The target' },
  { value: 'file', label: 'Lithe Sieve' },
];
const SHARPER =
  'A sharper filter over 12 × 12 texels. What is held under it holds under plain averages too; takes longer.';
/** What the target averages with; of what is handed off, again and again. */
const AVERAGES_HINTS: Record<MipFilter, string> = {
  box: 'Plain averages of 2 × 2 texels, as most targets make them.',
  triangle: 'Averages of 4 × 4 texels: smooth, and of thin parts little can be held.',
  Kaiser: SHARPER,
  Lanczos: SHARPER,
};
const KEEP_HINTS: Record<Keep, string> = {
  none: 'Averages alone: thin parts vanish far away.',
  scale: 'One factor for each level keeps the total, wherever it lies (Castaño 2010).',
  diffused: 'Each texel all or nothing, as many as the mean alpha (Yuksel 2018).',
  local: 'Every 4 × 4 texels keep the share that level 0 keeps there.',
};
const inMask = computed(() => props.doc.material.mode === 'mask');
const outOfReach = computed(() => clip.shown?.held?.reduce((sum, l) => sum + l.unreachable, 0) ?? null);

const missed = computed(() => clip.shown?.held?.filter((level) => level.places.length > 0) ?? []);
watch(missed, () => (bench.texelMarks = null));
onBeforeUnmount(() => (bench.texelMarks = null));

function mark({ width, height, places }: HeldLevel): void {
  bench.texelMarks = bench.texelMarks?.texels === places ? null : { width, height, texels: places };
}

function set<K extends keyof LevelSettings>(name: K, value: LevelSettings[K], what: string): void {
  actions.set({ [name]: value }, what);
}
</script>

<template>
  <h2>Mip levels</h2>
  <p class="soft hint">Smaller copies of the texture, taken the further away the card is.</p>
  <div class="line">
    <span>Made by</span>
    <ElSegmented
      :model-value="levels.madeBy"
      :options="MAKERS"
      size="small"
      aria-label="Made by"
      data-test="made-by"
      @change="
        set('madeBy', $event as 'target' | 'file', `made by ${$event === 'target' ? 'the target' : 'Lithe Sieve'}`)
      "
    />
  </div>
  <template v-if="levels.madeBy === 'target'">
    <ListLine
      label="Filter"
      spoken="Filter of the target"
      :value="levels.averages"
      :options="MIP_FILTERS.map((value) => ({ value, label: value === 'box' ? 'box, 2 × 2' : value }))"
      data-test="averages"
      @choose="set('averages', $event, `averages with ${$event}`)"
    />
    <p class="soft hint">{{ AVERAGES_HINTS[levels.averages] }}</p>
    <label class="line">
      <span>Hold at distance</span>
      <ElSwitch
        :model-value="levels.hold"
        aria-label="Hold at distance"
        data-test="hold"
        @change="actions.setHold(Boolean($event))"
      />
    </label>
    <p class="soft hint">
      Reshapes alpha on each side of the cutoff, so that the target’s averages keep what level 0 keeps. No texel changes
      side.
    </p>
    <template v-if="levels.hold">
      <p v-if="levels.holdVersion < HOLD_VERSION" class="soft hint" data-test="newer-hold">
        There is a version {{ HOLD_VERSION }}. It keeps more of the shape where a renderer samples: between texels, and
        between levels.
        <button class="linked" @click="set('holdVersion', HOLD_VERSION, `hold, version ${HOLD_VERSION}`)">
          Use it
        </button>
      </p>
      <p v-if="!inMask" class="soft hint">Nothing is clipped in mode {{ doc.material.mode }}: alpha stays as it is.</p>
      <NumberSlider
        label="Strength"
        hint="How much alpha may change. Less keeps the edge truer close up, and holds less far away."
        :model-value="levels.strength"
        v-bind="LEVEL_RANGES.strength"
        @preview="actions.preview({ strength: $event })"
        @commit="set('strength', $event, `strength ${$event}`)"
      />
      <NumberSlider
        label="Down to"
        hint="The smallest level that is held, by its longer side. Fewer levels keep the edge truer close up."
        :model-value="levels.downTo"
        v-bind="LEVEL_RANGES.downTo"
        :digits="0"
        unit="texels"
        logarithmic
        @preview="actions.preview({ downTo: Math.round($event) })"
        @commit="set('downTo', Math.round($event), `down to ${Math.round($event)} texels`)"
      />
    </template>
  </template>
  <template v-else>
    <p class="soft hint">They travel in the file, where the format has room for them.</p>
    <ListLine
      label="Filter"
      :value="levels.filter"
      :options="namesOf(MIP_FILTERS)"
      @choose="set('filter', $event, $event)"
    />
    <ListLine
      label="Coverage"
      :value="levels.keep"
      :options="KEEPS.map((value) => ({ value, label: KEEP_LABELS[value] }))"
      data-test="keep"
      @choose="set('keep', $event, `coverage ${KEEP_LABELS[$event]}`)"
    />
    <p class="soft hint">{{ KEEP_HINTS[levels.keep] }}</p>
    <ListLine
      label="Left and right"
      :value="levels.wrapAcross"
      :options="namesOf(WRAPS)"
      @choose="set('wrapAcross', $event, `left and right ${$event}`)"
    />
    <ListLine
      label="Top and bottom"
      :value="levels.wrapDown"
      :options="namesOf(WRAPS)"
      @choose="set('wrapDown', $event, `top and bottom ${$event}`)"
    />
  </template>
  <OneLevel v-if="levels.madeBy === 'file'" :levels="levels" />
  <TroubleNote v-if="clip.failure" :message="clip.failure.message" :remedy="clip.failure.remedy" />
  <p v-if="outOfReach !== null" class="soft hint" data-test="out-of-reach">
    <template v-if="outOfReach === 0">Every texel of every level is where it is wanted.</template>
    <template v-else>
      Out of reach on all levels together: {{ outOfReach }} texels.
      <span v-if="missed.length > 0">
        Mark those of width
        <button
          v-for="level in missed"
          :key="level.width"
          class="linked"
          :aria-pressed="bench.texelMarks?.texels === level.places"
          @click="mark(level)"
        >
          {{ level.width }} ({{ level.places.length }})
        </button>
      </span>
    </template>
  </p>
  <LevelFiguresTable :doc="doc" />
</template>

<style scoped>
.hint {
  margin: 2px 0 10px;
}
</style>
