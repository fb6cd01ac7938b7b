<script setup lang="ts">
import { ONE_CARD, SET_APART, SET_BOW, setCards, SET_KINDS, type PieceDoc, type SetKind } from '@lithe-sieve/core';
import { computed } from 'vue';
import { useCardActions } from '../../actions/card-actions';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';
import CardLine from './CardLine.vue';

/** How many cards the piece stands on, and how. */
const props = defineProps<{ doc: PieceDoc }>();
const { previewSet: preview, setSet: commit } = useCardActions();
const set = computed(() => props.doc.set ?? ONE_CARD);
const isAtlas = computed(() => props.doc.sources[0]?.recipe?.kind === 'atlas');
const HINTS: Record<SetKind, string> = {
  'one card': '',
  'front and back': 'A second card, its front to the back: for renderers that show one side only.',
  crossed: 'Two cards through each other at a right angle.',
  'three crossed': 'Three cards through each other, 60° apart.',
  star: 'Cards through each other, evenly turned.',
  shells: 'Copies over each other, raised along the card’s normals: fur, pile, thick cloth.',
  layered: 'Cards behind each other; copies of one picture are mirrored in turn.',
  'in a row': 'Cards beside each other.',
  'along a line': 'Cards evenly along a line on the ground, each standing as the line goes there.',
};

/** With as many cards as the kind may have. */
function choose(kind: SetKind): void {
  commit({ kind, cards: Math.min(set.value.cards, setCards(kind).max) }, kind);
}
</script>

<template>
  <ListLine
    label="Cards"
    :value="set.kind"
    :options="SET_KINDS.map((value) => ({ value, label: value }))"
    data-test="card-set"
    @choose="choose"
  />
  <p v-if="HINTS[set.kind]" class="soft hint">{{ HINTS[set.kind] }}</p>
  <NumberSlider
    v-if="['star', 'layered', 'shells', 'in a row', 'along a line'].includes(set.kind)"
    label="How many"
    hint="Cards of the set."
    :model-value="set.cards"
    v-bind="setCards(set.kind)"
    @preview="preview({ cards: $event })"
    @commit="commit({ cards: $event }, `${$event}`)"
  />
  <NumberSlider
    v-if="['layered', 'shells', 'in a row', 'front and back'].includes(set.kind)"
    label="Apart"
    hint="As a share of a card’s width."
    :model-value="set.apart"
    v-bind="SET_APART"
    @preview="preview({ apart: $event })"
    @commit="commit({ apart: $event }, `${$event} apart`)"
  />
  <NumberSlider
    v-if="set.kind === 'in a row'"
    label="Bow"
    hint="Degrees by which the row turns from its first card to its last; positive brings its ends to the front."
    :model-value="set.bow ?? 0"
    v-bind="SET_BOW"
    unit="degrees"
    @preview="preview({ bow: $event })"
    @commit="commit({ bow: $event }, `a bow of ${$event}°`)"
  />
  <CardLine v-if="set.kind === 'along a line'" :doc="doc" />
  <label v-if="isAtlas && set.kind !== 'one card'" class="line">
    <span>Each its own part of the atlas</span>
    <ElSwitch
      :model-value="set.byRegion"
      aria-label="Each its own part of the atlas"
      @change="commit({ byRegion: Boolean($event) }, $event ? 'each its own part' : 'all the whole atlas')"
    />
  </label>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}
</style>
