<script setup lang="ts">
import { onScopeDispose, shallowRef, watch } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { theStage } from '../stage/stage';

/** Pictures of the card at distances, pixel for pixel where it is small, each with what is kept of what an eye would see there. */
const bench = useBenchStore();
const piece = usePiece();
const engine = useEngine();

const METRES = [0.5, 1, 2, 5, 10, 20, 50, 100];
const SIDE = 64;

interface Taken {
  metres: number;
  url: string;
  /** Of what an eye would see; null: it sees nothing there. */
  kept: number | null;
}
const taken = shallowRef<readonly Taken[]>([]);
const state = shallowRef<'none' | 'taking' | 'taken' | 'out of date' | 'not here'>('none');
let walk = 0;

const sides = () => {
  const { width = 1, height = 1 } = engine.size ?? {};
  return 1 / (engine.cardWidth * Math.max(1, height / width));
};

async function take(): Promise<void> {
  const turn = ++walk;
  [taken.value, state.value] = [[], 'taking'];
  for (const metres of METRES) {
    const picture = await theStage().farPicture(metres * sides(), SIDE);
    if (turn !== walk) return;
    if (!picture) return void (state.value = 'not here');
    const { data, drawn, seen } = picture;
    taken.value = [...taken.value, { metres, url: urlOf(data), kept: seen > 0.02 ? drawn / seen : null }];
  }
  state.value = 'taken';
}

function urlOf(data: Uint8ClampedArray<ArrayBuffer>): string {
  const canvas = Object.assign(document.createElement('canvas'), { width: SIDE, height: SIDE });
  canvas.getContext('2d')!.putImageData(new ImageData(data, SIDE), 0, 0);
  return canvas.toDataURL();
}

watch(
  () => [
    piece.doc,
    engine.mask,
    bench.backdrop,
    bench.behind,
    bench.light,
    bench.fieldOfView,
    theStage().standAt.azimuth,
  ],
  () => {
    walk++;
    if (state.value !== 'none') state.value = 'out of date';
  },
);
onScopeDispose(() => walk++);

const shareOf = (kept: number) => `${Math.round(100 * kept)} %`;
const isOff = (kept: number) => Math.abs(kept - 1) > 0.1;
</script>

<template>
  <p class="buttons">
    <ElButton size="small" data-test="walk" @click="bench.walking = !bench.walking">
      {{ bench.walking ? 'Stop' : 'Walk away' }}
    </ElButton>
    <ElButton size="small" :loading="state === 'taking'" data-test="strip" @click="take()">Strip of pictures</ElButton>
  </p>
  <p v-if="state === 'not here'" class="soft" role="status">
    No picture came back: the graphics were lost, or read none.
  </p>
  <template v-else-if="taken.length > 0">
    <p v-if="state === 'out of date'" class="soft" role="status">
      Out of date: the piece, its light or its side changed.
    </p>
    <ol class="strip" :class="{ old: state === 'out of date' }" data-test="strip-of">
      <li v-for="one in taken" :key="one.metres">
        <button
          :title="`Look at it from ${one.metres} m`"
          :data-test="`far-${one.metres}`"
          @click="bench.distance = one.metres * sides()"
        >
          <img :src="one.url" alt="" :width="SIDE" :height="SIDE" />
          <span>{{ one.metres }} m</span>
          <span v-if="one.kept === null" class="soft">gone</span>
          <span v-else :class="{ off: isOff(one.kept) }">{{ shareOf(one.kept) }}</span>
        </button>
      </li>
    </ol>
    <p class="soft">Below each: pixels it covers as drawn, of those that an eye would see covered.</p>
  </template>
</template>

<style scoped>
.buttons {
  display: flex;
  gap: 6px;
  margin: 6px 0;
}

.buttons :deep(.el-button) {
  margin: 0;
}

.strip {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(56px, 1fr));
  gap: 6px;
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

.strip.old {
  opacity: 0.5;
}

.strip button {
  display: grid;
  width: 100%;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-size: 11px;
  text-align: center;
  cursor: pointer;
}

.strip img {
  width: 100%;
  height: auto;
  border-radius: 3px;
  image-rendering: pixelated;
}

.off {
  color: var(--amber);
  font-weight: 600;
}
</style>
