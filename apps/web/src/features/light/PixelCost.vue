<script setup lang="ts">
import { cardOf, cardSurface, shadedPixels, thresholdByte, type Mask, type SurfaceMesh } from '@lithe-sieve/core';
import { nextTick, onScopeDispose, shallowRef, useTemplateRef, watch } from 'vue';
import { cameraKind } from '../../drawing/cameras';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { theStage } from '../stage/stage';

/** How often each pixel of the Stand is shaded from here, and what mode and outline have to do with it. */
const bench = useBenchStore();
const piece = usePiece();
const clip = useClip();
const engine = useEngine();

const MODES = ['opaque', 'mask', 'blend'] as const;
const WIDTH = 240;
/** Of pixels that are shaded once, twice and so on; the last stands for all more. */
const TINTS = ['#f6d9a0', '#eeb05c', '#df7f3d', '#c24c2e', '#8f2433', '#4c1030'];

interface Cost {
  mode: (typeof MODES)[number];
  /** Times the pixels that the mask keeps. */
  times: number;
  /** The same of the whole card, where it is cut to an outline. */
  uncut: number | null;
}
const costs = shallowRef<readonly Cost[]>([]);
/** Of mode blend: the most layers over each other, and the share of its pixels that have several. */
const layers = shallowRef<{ most: number; several: number } | null>(null);
const isOld = shallowRef(false);
/** Triangles that are counted in well under a second. */
const MOST_COUNTED = 200_000;
const isTooMuch = shallowRef(false);
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

async function count(): Promise<void> {
  const { surface, levels } = clip;
  const { doc, material } = piece;
  const stage = theStage();
  const { look } = stage.stand;
  const view = stage.view('stand');
  if (!surface || !levels || !doc || !material || view.width === 0) return;
  isTooMuch.value = surface.mesh.indices.length > 3 * MOST_COUNTED;
  if (isTooMuch.value) return void (costs.value = []);
  const [width, height] = [WIDTH, Math.max(1, Math.round((WIDTH * view.height) / view.width))];
  const kind = cameraKind(look);
  const camera = kind.make();
  kind.place(camera, look, { width, height });
  const matrix = camera.projectionMatrix.clone().multiply(camera.matrixWorldInverse).elements;
  const threshold = thresholdByte(material.cutoff, material.opacity);
  const of = (mesh: SurfaceMesh, mode: Cost['mode']) =>
    shadedPixels({ mesh, levels: levels as Mask[], threshold, camera: matrix, width, height, doubleSided: material.doubleSided }, mode); // prettier-ignore
  const whole = doc.outline && !doc.mesh ? uncutMesh() : null;
  const found: Cost[] = [];
  isOld.value = false;
  const masked = of(surface.mesh, 'mask');
  const kept = Math.max(1, masked.shown);
  for (const mode of MODES) {
    const { shaded, counts } = mode === 'mask' ? masked : of(surface.mesh, mode);
    found.push({ mode, times: shaded / kept, uncut: whole ? of(whole, mode).shaded / kept : null });
    costs.value = [...found];
    await nextTick();
    if (mode === material.mode) draw(counts, width, height);
    if (mode === 'blend') layers.value = layersOf(counts);
    await new Promise((resolve) => setTimeout(resolve)); // a mesh of many triangles takes its time: the page goes on between
  }
}

/** The card without its outline, as large as the Stand has it. */
function uncutMesh(): SurfaceMesh | null {
  const { size } = engine;
  if (!piece.doc || !size) return null;
  const cardWidth = size.width / Math.max(size.width, size.height);
  return cardSurface({ ...cardOf(piece.doc), cardWidth, metre: cardWidth / engine.cardWidth }, size).mesh;
}

function layersOf(counts: Uint16Array) {
  const covered = counts.filter((n) => n > 0);
  const most = covered.reduce((a, b) => Math.max(a, b), 0);
  return { most, several: covered.filter((n) => n > 1).length / Math.max(1, covered.length) };
}

function draw(counts: Uint16Array, width: number, height: number): void {
  const on = canvas.value?.getContext('2d');
  if (!canvas.value || !on) return;
  Object.assign(canvas.value, { width, height });
  for (let i = 0; i < counts.length; i++) {
    if (counts[i] === 0) continue;
    on.fillStyle = TINTS[Math.min(TINTS.length, counts[i]) - 1];
    on.fillRect(i % width, Math.floor(i / width), 1, 1);
  }
}

const camera = theStage().standAt;
watch(
  () => [piece.doc, clip.levels, clip.surface, bench.distance, bench.fieldOfView, camera.azimuth],
  () => (isOld.value = true),
);
onScopeDispose(() => (costs.value = []));

const times = (n: number) => `${n.toFixed(1)} ×`;
</script>

<template>
  <p>
    <ElButton size="small" data-test="count-pixels" @click="count()">Count pixels drawn</ElButton>
  </p>
  <p v-if="isTooMuch" class="soft" role="status">Counted up to {{ MOST_COUNTED }} triangles: this mesh has more.</p>
  <template v-if="costs.length > 0">
    <p v-if="isOld" class="soft" role="status">Out of date: card or camera changed.</p>
    <table :class="{ old: isOld }" data-test="pixel-costs">
      <thead>
        <tr>
          <th>Mode</th>
          <th>Shaded</th>
          <th v-if="costs[0].uncut !== null">without outline</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in costs" :key="one.mode" :class="{ now: one.mode === piece.material?.mode }">
          <td>{{ one.mode }}</td>
          <td>{{ times(one.times) }}</td>
          <td v-if="one.uncut !== null">{{ times(one.uncut) }}</td>
        </tr>
      </tbody>
    </table>
    <canvas ref="canvas" role="img" aria-label="How often each pixel is shaded" :class="{ old: isOld }" />
    <p class="tints soft">
      <span v-for="(tint, k) in TINTS" :key="tint"
        ><i :style="{ background: tint }" />{{ k + 1 }}{{ k === TINTS.length - 1 ? ' and more' : '' }}</span
      >
    </p>
    <p class="soft">
      Pixels that are shaded, for each that the mask keeps. Opaque hides what comes later; holes of a mask hide nothing;
      blend hides nothing at all.
    </p>
    <p v-if="layers" class="soft" data-test="layers">
      Blend: up to {{ layers.most }} {{ layers.most === 1 ? 'layer' : 'layers over each other' }};
      {{ Math.round(100 * layers.several) }} % of its pixels have more than one.
    </p>
  </template>
</template>

<style scoped>
table {
  width: 100%;
  margin: 6px 0;
  border-collapse: collapse;
  font-size: 12.5px;
}

th {
  font-weight: 400;
  text-align: left;
}

.now {
  font-weight: 600;
}

.old {
  opacity: 0.5;
}

canvas {
  width: 100%;
  border-radius: 3px;
  background: #2b2f2d;
  image-rendering: pixelated;
}

.tints {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.tints i {
  display: inline-block;
  width: 12px;
  height: 12px;
  margin-right: 3px;
  vertical-align: -2px;
  border-radius: 2px;
}
</style>
