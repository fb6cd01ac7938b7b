<script setup lang="ts">
import type { PieceSummary } from '@lithe-sieve/contract';
import { Copy, Pencil, Trash2 } from 'lucide-vue-next';
import { salvageAddress } from '../../api/pieces.api';
import { pictureOf } from '../../stores/posters.store';
import { changedAt } from './piece-words';

defineProps<{ piece: PieceSummary }>();
defineEmits<{ rename: []; duplicate: []; remove: [] }>();
</script>

<template>
  <article>
    <RouterLink :to="`/bench/${piece.id}`" class="picture linen" :aria-label="`Open ${piece.name}`">
      <span v-if="piece.problem" class="no-picture">no picture</span>
      <span v-else-if="!piece.fresh" class="no-picture" role="status">checking…</span>
      <img v-else :src="pictureOf(piece)" alt="" loading="lazy" />
    </RouterLink>
    <div class="line">
      <RouterLink :to="`/bench/${piece.id}`" class="name" tabindex="-1">{{
        piece.name || 'Untitled piece'
      }}</RouterLink>
      <span class="tools">
        <button :aria-label="`Rename ${piece.name}`" title="Rename" @click="$emit('rename')">
          <Pencil :size="14" />
        </button>
        <button :aria-label="`Duplicate ${piece.name}`" title="Duplicate" @click="$emit('duplicate')">
          <Copy :size="14" />
        </button>
        <button :aria-label="`Delete ${piece.name}`" title="Delete (can be undone)" @click="$emit('remove')">
          <Trash2 :size="14" />
        </button>
      </span>
    </div>
    <p class="soft">
      {{ piece.width }} × {{ piece.height }} · {{ piece.mode }}
      <template v-if="piece.coverage !== null && !piece.problem">
        · keeps
        <span v-if="piece.exact.coverage">{{ (100 * piece.coverage).toFixed(1) }} %</span>
        <span v-else class="estimated" title="Estimated from a smaller picture; exact once it was open on the Bench."
          >about {{ Math.round(100 * piece.coverage) }} %</span
        ></template
      >
    </p>
    <p v-if="!piece.problem" class="soft">
      {{ changedAt(piece) }}
    </p>
    <p
      v-if="piece.problem"
      class="snag bad"
      :title="`${piece.problem.message} ${piece.problem.remedy}`"
      data-test="problem"
    >
      {{ piece.problem.message }}
    </p>
    <a v-if="piece.problem" :href="salvageAddress(piece.id)" class="salvage">Copy it out</a>
    <p
      v-else-if="piece.snags.length > 0"
      class="snag"
      :class="{ estimated: !piece.exact.snags }"
      :title="piece.snags.join('\n')"
    >
      {{ piece.snags.length === 1 ? piece.snags[0] : `${piece.snags.length} snags: ${piece.snags[0]}` }}
    </p>
  </article>
</template>

<style scoped>
article {
  display: grid;
  gap: 3px;
}

.picture {
  display: grid;
  text-decoration: none;
  place-items: center;
  height: 216px;
  margin-bottom: 5px;
  border-radius: 5px;
  overflow: hidden;
}

img {
  max-width: 100%;
  max-height: 200px;
}

.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

.name {
  font-size: 14px;
  font-weight: 650;
  color: var(--ink);
  text-decoration: none;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.tools {
  display: flex;
  flex: none;
}

.tools button {
  display: flex;
  padding: 5px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--ink-soft);
  cursor: pointer;
}

.tools button:hover {
  background: var(--paper-deep);
  color: var(--ink);
}

.no-picture {
  color: #22302b;
}

.snag.bad {
  border-color: var(--red);
}

.estimated {
  color: var(--ink-soft);
}

.snag.estimated {
  border-color: var(--rule);
}

.salvage {
  font-weight: 600;
  color: var(--green);
}

.snag {
  margin-top: 3px;
  padding-left: 8px;
  border-left: 3px solid var(--amber);
  display: -webkit-box;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  -webkit-box-orient: vertical;
  overflow: hidden;
}
</style>
