<script setup lang="ts">
import type { SourceRef } from '@lithe-sieve/core';
import { useRecipeActions } from '../../actions/recipe-actions';
import { useEngine } from '../../stores/open-piece/open-piece';
import type { OtherPiece } from '../stock/other-pieces';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';

/** The two colours between which copies differ, taken from what another piece keeps. */
const props = defineProps<{ source: SourceRef }>();
const engine = useEngine();
const actions = useRecipeActions();

async function take({ doc, byHand }: OtherPiece): Promise<void> {
  const [colour, otherColour] = await engine.engine().others.coloursOf(doc, byHand);
  actions.set(props.source, { colour, otherColour }, `colours of ${doc.name}`);
}
</script>

<template>
  <OtherPieceChoice label="Colours of a piece" test="colours-of" shown="" :use="take" />
</template>
