<script setup lang="ts">
import type { FromColourParams, Rgb } from '@lithe-sieve/core';
import { Pipette, X } from 'lucide-vue-next';
import { ref } from 'vue';
import NumberSlider from '../../../components/NumberSlider.vue';
import { useBenchStore } from '../../../stores/bench.store';
import { usePieceStore } from '../../../stores/piece.store';

const props = defineProps<{ params: FromColourParams; stepId: string }>();
const emit = defineEmits<{
  preview: [params: Partial<FromColourParams>];
  commit: [params: Partial<FromColourParams>, what: string];
}>();
const bench = useBenchStore();
const piece = usePieceStore();

const LISTS = [
  { list: 'drop', says: 'Drop what looks like' },
  { list: 'keep', says: 'Keep what looks like' },
] as const;
type List = (typeof LISTS)[number]['list'];
const typed = ref<Record<List, string>>({ drop: '', keep: '' });

const hex = (c: Rgb) => `#${c.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
const isPicking = (list: List) => bench.picking?.stepId === props.stepId && bench.picking.list === list;

function pick(list: List): void {
  bench.picking = isPicking(list) ? null : { stepId: props.stepId, list };
}

function add(list: List, colour: Rgb): void {
  emit('commit', { [list]: [...props.params[list], colour] }, `${list} ${hex(colour)}`);
}

function addTyped(list: List): void {
  const match = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(typed.value[list].trim());
  if (!match) return;
  add(list, [1, 2, 3].map((i) => Number.parseInt(match[i], 16)) as Rgb);
  typed.value[list] = '';
}

function addBorder(list: List): void {
  const first = piece.sources[0];
  const facts = first && piece.facts.get(first.sha256);
  if (facts) add(list, [...facts.border.colour]);
}

function drop(list: List, at: number): void {
  emit('commit', { [list]: props.params[list].filter((_, i) => i !== at) }, `one ${list} colour less`);
}
</script>

<template>
  <section v-for="{ list, says } in LISTS" :key="list" class="swatches">
    <h4>{{ says }}</h4>
    <ul>
      <li v-for="(colour, i) in params[list]" :key="i" :style="{ background: hex(colour) }" :title="hex(colour)">
        <button :aria-label="`Remove ${hex(colour)}`" @click="drop(list, i)"><X :size="11" /></button>
      </li>
      <li v-if="params[list].length === 0" class="none soft">none yet</li>
    </ul>
    <div class="tools">
      <ElTooltip content="Then touch the picture on the Sheet; Esc ends it">
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
      <ElTooltip content="The colour that most of the picture's border looks like">
        <ElButton size="small" @click="addBorder(list)">Border</ElButton>
      </ElTooltip>
      <ElInput
        v-model="typed[list]"
        size="small"
        placeholder="#rrggbb"
        :aria-label="`${says}: colour as #rrggbb, then Enter`"
        @keydown.enter="addTyped(list)"
      />
    </div>
  </section>
  <NumberSlider
    label="Tolerance"
    hint="How far a colour may be from a swatch and still count as it: perceptual distance, 0 is the same, 1 is black to white."
    :model-value="params.tolerance"
    :min="0"
    :max="0.6"
    :step="0.005"
    :digits="3"
    @preview="emit('preview', { tolerance: $event })"
    @commit="emit('commit', { tolerance: $event }, `tolerance ${$event}`)"
  />
  <NumberSlider
    label="Softness"
    hint="Width of the ramp from dropped to kept around the tolerance; 0 gives a hard edge."
    :model-value="params.softness"
    :min="0"
    :max="0.5"
    :step="0.005"
    :digits="3"
    @preview="emit('preview', { softness: $event })"
    @commit="emit('commit', { softness: $event }, `softness ${$event}`)"
  />
</template>

<style scoped>
.swatches {
  margin-bottom: 12px;
}

h4 {
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
