<script setup lang="ts">
import { MOST_PARTS, partsEnlarged, type RecipePart, type SourceRef } from '@lithe-sieve/core';
import { X } from 'lucide-vue-next';
import { computed } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import { uploadSource } from '../../api/sources.api';
import { useEngineStore } from '../../stores/engine.store';
import type { OtherPiece } from '../run/forms/other-pieces';
import OtherPieceChoice from '../run/forms/OtherPieceChoice.vue';

/** Pieces that stand in for what is drawn: each a copy of its own, so that nothing is missing when a piece is deleted. */
const props = defineProps<{ source: SourceRef }>();
const engine = useEngineStore();
const actions = useRecipeActions();

const parts = computed(() => props.source.recipe?.parts ?? []);
const enlarged = computed(() => (props.source.recipe ? partsEnlarged(props.source.recipe) : 0));

function set(changed: RecipePart[], what: string): void {
  actions.setFrame(props.source, { parts: changed }, what);
}

async function add({ id, doc, revision, byHand }: OtherPiece): Promise<void> {
  const { bytes, width, height } = await engine.engine().partFileOf(doc, byHand);
  const file = new File([bytes as BlobPart], 'part.png');
  const { sha256 } = await uploadSource(file, () => undefined, new AbortController().signal);
  const part = { sha256, name: doc.name, width, height, piece: id, revision };
  // taken again: the newer copy takes the place of the older
  set([...parts.value.filter((p) => p.piece !== id), part], `part ${doc.name}`);
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
    <OtherPieceChoice v-if="parts.length < MOST_PARTS" label="Add a piece" shown="" :use="add" />
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
