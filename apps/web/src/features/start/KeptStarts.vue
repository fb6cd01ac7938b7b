<script setup lang="ts">
// What worked for one picture, kept with a small picture of it for the next.
import { MOST_STARTS, type Start } from '@lithe-sieve/contract';
import { isHandStep, type PieceDoc, type StepEntry } from '@lithe-sieve/core';
import { computed } from 'vue';
import KeptThings from '../../components/KeptThings.vue';
import SmallPicture from '../../components/SmallPicture.vue';
import { STARTS_API } from '../../api/kept.api';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { pictureOf } from './picture-of';

defineProps<{ shown: (start: Start) => void; hidden: () => void }>();
const emit = defineEmits<{ take: [start: Start, name: string] }>();
const piece = usePiece();
const engine = useEngine();

/** What there is to be kept; nothing of a piece without steps. While something else is pointed at, what was there before. */
const now = computed<(() => Start) | null>((before) => {
  const [mask, colour] = [engine.mask?.levels, engine.levelsOf('colour')];
  const { doc, glancing } = piece;
  if (glancing) return before ?? null;
  if (!doc || doc.run.length === 0 || !mask || !colour) return null;
  return () => ({ doc: withoutStrokes(doc), picture: pictureOf(colour, mask) });
});

/** What was drawn by hand belongs to this picture; its steps stay, to be named where they are left out. */
function withoutStrokes(doc: PieceDoc): PieceDoc {
  const run = doc.run.map((s) => (isHandStep(s) ? ({ ...s, params: { ...s.params, strokes: [] } } as StepEntry) : s));
  return { ...doc, run };
}
</script>

<template>
  <h3>What worked before</h3>
  <p class="soft hint">
    The steps, material and hand-off of a piece. Backdrop colours, scribbles and touches are found again in this
    picture.
  </p>
  <KeptThings
    :api="STARTS_API"
    what="start"
    :most="MOST_STARTS"
    :now="now"
    @point="shown"
    @leave="hidden()"
    @take="(start, name) => emit('take', start, name)"
  >
    <template #picture="{ held }"><SmallPicture :src="held.picture" /></template>
  </KeptThings>
</template>
