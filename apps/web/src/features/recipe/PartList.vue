<script setup lang="ts">
import { partsEnlarged, type RecipePart, type SourceRef } from '@lithe-sieve/core';
import { X } from 'lucide-vue-next';
import { computed } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import type { OtherPiece } from '../stock/other-pieces';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';
import { usePartFiles, withTaken } from './use-parts';

/** Pieces that stand in for what is drawn: each a copy of its own, so that nothing is missing when a piece is deleted. */
const props = defineProps<{ source: SourceRef; most: number }>();
const take = usePartFiles();
const actions = useRecipeActions();

const parts = computed(() => props.source.recipe?.parts ?? []);
const enlarged = computed(() => (props.source.recipe ? partsEnlarged(props.source.recipe) : 0));

function set(changed: RecipePart[], what: string): void {
  actions.setFrame(props.source, { parts: changed }, what);
}

async function add(other: OtherPiece): Promise<void> {
  const part = await take(other);
  set(withTaken(parts.value, part), `part ${other.doc.name}`); // the newer copy takes the place of the older
}

function remove({ sha256, name }: RecipePart): void {
  set(
    parts.value.filter((p) => p.sha256 !== sha256),
    `part ${name} taken out`,
  );
}
</script>

<template>
  <details :open="parts.length > 0">
    <summary>Parts ({{ parts.length || 'drawn' }})</summary>
    <ul>
      <li v-for="part in parts" :key="part.sha256">
        {{ part.name }}
        <button :aria-label="`Take ${part.name} out`" @click="remove(part)"><X :size="13" /></button>
      </li>
    </ul>
    <p v-if="enlarged > 1.05" class="warning" role="status" data-test="enlarged">
      Parts are drawn at up to {{ enlarged.toFixed(1) }} times their size and are not sharp: make them shorter, or the
      piece that they come from larger.
    </p>
    <OtherPieceChoice v-if="parts.length < most" label="Add a piece" shown="" :use="add" />
    <p class="soft">Its root is its lower border. It stays as it is now; add it again to update it.</p>
  </details>
</template>

<style scoped src="./recipe-lists.css"></style>
<style scoped>
.warning {
  padding-left: 8px;
  border-left: 3px solid var(--amber, #a85c00);
}
</style>
