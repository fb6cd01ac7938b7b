<script setup lang="ts">
import { MOST_GUIDES, type Guide, type SourceRef, type StrandsParams } from '@lithe-sieve/core';
import { Plus, X } from 'lucide-vue-next';
import { useRecipeActions } from '../../actions/recipe-actions';

/** Guide strands, from one side to the other; strands grow between each two. */
const props = defineProps<{ source: SourceRef; params: StrandsParams }>();
const actions = useRecipeActions();

const FIRST: Guide = [0.5, 0.05, 0.5, 0.35, 0.5, 0.65, 0.5, 0.95];

/** Half way between the last two, so that what grows stays as it is until it is moved. */
function add(): void {
  const { guides } = props.params;
  const [a, b] = [guides.at(-2), guides.at(-1)];
  const fresh = a && b ? (a.map((v, i) => Math.round(500 * (v + b[i])) / 1000) as Guide) : FIRST;
  actions.set(props.source, { guides: [...guides.slice(0, -1), fresh, ...guides.slice(-1)] }, 'guide added');
}

function remove(at: number): void {
  actions.set(props.source, { guides: props.params.guides.filter((_, i) => i !== at) }, `guide ${at + 1} removed`);
}
</script>

<template>
  <details>
    <summary>Guides ({{ params.guides.length }})</summary>
    <p class="soft">Drag their points on the Sheet, or go to one with Tab and move it with the arrow keys.</p>
    <ul>
      <li v-for="(_, g) in params.guides" :key="g">
        Guide {{ g + 1 }}
        <button :aria-label="`Remove guide ${g + 1}`" @click="remove(g)"><X :size="13" /></button>
      </li>
    </ul>
    <ElButton size="small" :disabled="params.guides.length >= MOST_GUIDES" @click="add"
      ><Plus :size="13" class="lead" />Add a guide</ElButton
    >
  </details>
</template>

<style scoped src="./recipe-lists.css"></style>
