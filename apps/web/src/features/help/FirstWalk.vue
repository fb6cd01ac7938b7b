<script setup lang="ts">
// A walk over a piece of the Stock, from its picture to its files.
import { computed, nextTick, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { listPieces } from '../../api/pieces.api';
import { useHelpStore } from '../../stores/help.store';
import { useNoticesStore } from '../../stores/notices.store';
import { usePiece } from '../../stores/open-piece/open-piece';
import { STOPS, type Stop } from './walk';

const help = useHelpStore();
const router = useRouter();
const piece = usePiece();
const notices = useNoticesStore();
/** The stop that shows; what it points at is there by then. */
const current = ref(0);
const shows = ref(false);
const stop = computed(() => STOPS[current.value]);
let pieceId = '';
/** A screen is on its way. */
let leads = false;

/** How long a screen is waited for. */
const PATIENCE_MS = 20_000;

async function reach({ screen, at }: Stop): Promise<boolean> {
  if (router.currentRoute.value.name !== screen) {
    await router.push(screen === 'stock' ? { name: screen } : { name: screen, params: { id: pieceId } });
  }
  const until = performance.now() + PATIENCE_MS;
  while (!document.querySelector(at)) {
    if (performance.now() > until) return false;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return true;
}

/** To another stop; one whose screen does not come ends the walk. */
async function go(to: number): Promise<void> {
  if (to < 0) return;
  leads = true;
  const isThere = to < STOPS.length && (await reach(STOPS[to]));
  leads = false;
  if (!isThere) return end();
  current.value = to;
}

/** The library draws the heading of a stop as a banner of the page. */
async function plainHeading(): Promise<void> {
  await nextTick();
  for (const header of document.querySelectorAll('.el-tour__header')) header.setAttribute('role', 'presentation');
}
// who leaves the screen by a key leaves the walk
watch(router.currentRoute, ({ name }) => shows.value && !leads && name !== stop.value.screen && end());
watch([shows, current], plainHeading, { flush: 'post' });

function end(): void {
  shows.value = false;
  help.endWalk();
}

onMounted(async () => {
  const first = async (words: string) => (await listPieces(0, 1, words)).pieces[0]?.id;
  try {
    pieceId = piece.id || ((await first('leaf')) ?? (await first('')) ?? '');
  } catch {
    pieceId = '';
  }
  if (!pieceId) {
    const text = 'The walk needs a piece to show: bring a picture in first.';
    notices.tell({ id: 'walk', bad: false, text, remedy: 'Then take the walk from the help.' });
    return end();
  }
  if (await reach(STOPS[0])) shows.value = true;
  else end();
});
</script>

<template>
  <ElTour
    v-if="shows"
    :model-value="true"
    :current="0"
    :z-index="3000"
    :scroll-into-view-options="{ block: 'nearest', inline: 'nearest' }"
    @update:model-value="end"
    @close="end"
  >
    <ElTourStep :key="current" :target="stop.at" :show-close="true">
      <template #header
        ><h2>{{ stop.title }}</h2></template
      >
      <div data-test="walk">
        <p>{{ stop.text }}</p>
        <p class="foot">
          <span class="soft">{{ current + 1 }} of {{ STOPS.length }}</span>
          <span class="space" />
          <ElButton v-if="current > 0" size="small" @click="go(current - 1)">Back</ElButton>
          <ElButton size="small" type="primary" data-test="walk-on" @click="go(current + 1)">
            {{ current === STOPS.length - 1 ? 'Finish' : 'On' }}
          </ElButton>
        </p>
      </div>
    </ElTourStep>
    <template #indicators><span /></template>
  </ElTour>
</template>

<style scoped>
h2 {
  margin: 0;
  font-size: 16px;
}

p {
  margin: 0 0 10px;
  line-height: 1.5;
}

.foot {
  display: flex;
  align-items: center;
  margin: 0;
}

.space {
  flex: 1;
}
</style>

<style>
/* our own buttons wait until the next screen is there */
.el-tour__footer {
  display: none;
}
</style>
