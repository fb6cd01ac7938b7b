<script setup lang="ts">
import type { FromColourParams, Rgb, StepEntry } from '@lithe-sieve/core';
import { Pipette, X } from 'lucide-vue-next';
import { computed, ref } from 'vue';
import { sayAt } from '../../../components/say-at';
import { useBenchStore } from '../../../stores/bench.store';
import { usePiece } from '../../../stores/open-piece/open-piece';
import { hexOf, rgbOf } from '../../../components/colours';
import type { AnyField } from './fields';
import { FROM_COLOUR_FIELDS } from './trays';
import FieldsForm from './FieldsForm.vue';
import TouchList from './TouchList.vue';

const props = defineProps<{ step: StepEntry }>();
const emit = defineEmits<{
  preview: [params: Partial<FromColourParams>];
  commit: [params: Partial<FromColourParams>, what: string];
}>();
const params = computed(() => props.step.params as FromColourParams);
const bench = useBenchStore();
const piece = usePiece();

const LISTS = [
  { list: 'drop', label: 'Drop what looks like' },
  { list: 'keep', label: 'Keep what looks like' },
] as const;
type List = (typeof LISTS)[number]['list'];
const typed = ref<Record<List, string>>({ drop: '', keep: '' });

const isPicking = (list: List) =>
  bench.picking?.gives === 'swatch' && bench.picking.stepId === props.step.id && bench.picking.list === list;

function pick(list: List): void {
  bench.picking = isPicking(list) ? null : { gives: 'swatch', stepId: props.step.id, list };
}

function add(list: List, colour: Rgb): void {
  emit('commit', { [list]: [...params.value[list], colour] }, `${list} ${hexOf(colour)}`);
}

function addTyped(list: List, field: Element): void {
  const text = typed.value[list];
  const colour = rgbOf(text);
  if (!colour) return sayAt(field, `“${text}” is no colour: type one as #3a5c2c.`);
  add(list, colour);
  typed.value[list] = '';
}

function addBorder(list: List): void {
  const first = piece.sources[0];
  const facts = first && piece.facts.get(first.sha256);
  if (facts) add(list, [...facts.border.colour]);
}

function drop(list: List, at: number): void {
  emit('commit', { [list]: params.value[list].filter((_, i) => i !== at) }, `Remove a ${list} colour`);
}
</script>

<template>
  <section v-for="{ list, label } in LISTS" :key="list" class="swatches">
    <h3>{{ label }}</h3>
    <ul>
      <li v-for="(colour, i) in params[list]" :key="i" :style="{ background: hexOf(colour) }" :title="hexOf(colour)">
        <button :aria-label="`Remove ${hexOf(colour)}`" @click="drop(list, i)"><X :size="11" /></button>
      </li>
      <li v-if="params[list].length === 0" class="none soft">none yet</li>
    </ul>
    <div class="tools">
      <ElTooltip :trigger-keys="[]" content="Then touch the picture on the Sheet; Esc ends it">
        <ElButton
          size="small"
          :type="isPicking(list) ? 'primary' : 'default'"
          :aria-pressed="isPicking(list)"
          :data-test="`pick-${list}`"
          @click="pick(list)"
        >
          <Pipette :size="13" />&nbsp;{{ isPicking(list) ? 'Touch the Sheet' : 'Pick' }}
        </ElButton>
      </ElTooltip>
      <ElTooltip :trigger-keys="[]" content="The colour that most of the picture's border looks like">
        <ElButton size="small" @click="addBorder(list)">Border</ElButton>
      </ElTooltip>
      <ElInput
        v-model="typed[list]"
        size="small"
        placeholder="#rrggbb"
        :aria-label="`${label}: colour as #rrggbb, then Enter`"
        @keydown.enter="addTyped(list, $event.target as Element)"
      />
    </div>
  </section>
  <FieldsForm
    :step="step"
    :fields="FROM_COLOUR_FIELDS as readonly AnyField[]"
    @preview="emit('preview', $event)"
    @commit="(p: object, what: string) => emit('commit', p, what)"
  />
  <TouchList
    v-if="params.reach === 'connected'"
    :step="step"
    list="from"
    label="Connected with"
    none="the border of the picture"
    @commit="(p, what) => emit('commit', p, what)"
  />
</template>

<style scoped>
.swatches {
  margin-bottom: 12px;
}

h3 {
  font-size: 13px;
  font-weight: 500;
}

ul {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

li {
  position: relative;
  width: 30px;
  height: 22px;
  border-radius: 3px;
  outline: 1px solid #0003;
}

li.none {
  width: auto;
  outline: 0;
}

li button {
  position: absolute;
  top: -5px;
  right: -5px;
  display: grid;
  place-items: center;
  width: 15px;
  height: 15px;
  padding: 0;
  border: 1px solid var(--rule);
  border-radius: 50%;
  background: var(--paper-high);
  color: var(--ink);
  cursor: pointer;
}

.tools {
  display: flex;
  gap: 5px;
}

.tools .el-button {
  margin: 0;
  padding: 4px 8px;
}
</style>
