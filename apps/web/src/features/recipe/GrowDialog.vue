<script setup lang="ts">
import { grownPiece, recipeKind, STARTING_POINTS, type StartingPoint } from '@lithe-sieve/core';
import { Blocks } from 'lucide-vue-next';
import { ref, shallowRef, watch } from 'vue';
import { copyPiece } from '../../api/pieces.api';
import PlainDialog from '../../components/PlainDialog.vue';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import { makeId } from '../../document/ids';
import { smallRecipe } from '../../engine/small-recipes';
import type { Thumb } from '../../workers/types';

/** Things to grow a piece from, in pictures. */
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ made: [id: string] }>();
const SIDE = 168;

const thumbs = shallowRef(new Map<string, Thumb>());
const failure = ref<{ message: string; remedy: string } | null>(null);
const making = ref(false);

watch(open, async (now) => {
  failure.value = null;
  if (!now) return;
  for (const { name, recipe } of STARTING_POINTS) {
    if (thumbs.value.has(name)) continue;
    const thumb = await smallRecipe(recipe, SIDE).catch(() => null); // its name is enough to choose it by
    if (thumb) thumbs.value = new Map(thumbs.value).set(name, thumb);
  }
});

async function make(point: StartingPoint): Promise<void> {
  if (making.value) return;
  making.value = true;
  failure.value = null;
  try {
    const { id } = await copyPiece({ id: makeId(), doc: grownPiece(point, makeId) });
    open.value = false;
    emit('made', id);
  } catch (error) {
    const { message, remedy = '' } = error as Error & { remedy?: string };
    failure.value = { message: `Nothing was made: ${message}`, remedy };
  } finally {
    making.value = false;
  }
}
</script>

<template>
  <PlainDialog v-model="open" title="Grow a piece" width="880">
    <p class="soft">
      Each is grown from numbers and a seed: no two are alike, and all of it can be changed afterwards.
    </p>
    <TroubleNote v-if="failure" :message="failure.message" :remedy="failure.remedy" />
    <div class="gallery" data-test="gallery">
      <button v-for="point in STARTING_POINTS" :key="point.name" class="point linen" @click="make(point)">
        <span class="picture"
          ><Blocks v-if="point.recipe.kind === 'atlas'" :size="72" :stroke-width="1" /><ThumbCanvas
            v-else
            :thumb="thumbs.get(point.name) ?? null"
        /></span>
        <strong>{{ point.name }}</strong>
        <span class="soft">{{ recipeKind(point.recipe.kind).label.toLowerCase() }}</span>
      </button>
    </div>
  </PlainDialog>
</template>

<style scoped>
.gallery {
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  gap: 12px;
  margin-top: 10px;
}

.point {
  display: grid;
  gap: 2px;
  justify-items: center;
  padding: 8px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  background-color: var(--paper);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}

.point:hover,
.point:focus-visible {
  border-color: var(--green);
}

.picture {
  display: grid;
  place-items: center;
  width: 100%;
  height: 128px;
}

.picture :deep(canvas) {
  max-width: 100%;
  max-height: 128px;
}
</style>
