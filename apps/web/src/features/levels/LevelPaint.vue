<script setup lang="ts">
import { thresholdByte, type Mask } from '@lithe-sieve/core';
import { ElMessage } from 'element-plus';
import { computed, nextTick, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useLevelActions } from '../../actions/level-actions';
import { redrawWhenRestored } from '../../components/restored';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';
import type { Stage } from '../stage/stage';
import { linePoints } from './line-points';

/** A mip level laid over the Sheet, whose texels a press turns. `moved` changes whenever the Sheet is looked at otherwise. */
const props = defineProps<{ stage: Stage; moved: number }>();
const bench = useBenchStore();
const clip = useClip();
const piece = usePiece();
const { paint } = useLevelActions();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

/** While others are made the ones before stay: a press must turn what is seen. */
const settled = shallowRef<readonly Mask[] | null>(null);
watch(
  [() => clip.levels, () => clip.busy],
  ([levels, busy]) => {
    if (!busy) settled.value = levels;
  },
  { immediate: true },
);
const level = computed(() => (bench.paintLevel === null ? null : (settled.value?.[bench.paintLevel] ?? null)));
const threshold = computed(() => {
  const { cutoff, opacity } = piece.material ?? { cutoff: 0.5, opacity: 1 };
  return thresholdByte(cutoff, opacity);
});
/** Painted by the drag under way, and until the levels are made with it. */
const fresh = ref(new Map<number, boolean>());
let drag: { value: boolean; cells: Map<number, boolean>; last: { x: number; y: number } } | null = null;
const cursor = ref<{ x: number; y: number } | null>(null);

const isKept = (at: number) => fresh.value.get(at) ?? level.value!.data[at] >= threshold.value;

/** Kept texels pale, dropped ones dark, what was painted with a mark of its own. */
function draw(): void {
  const { value: element } = canvas;
  const { value: mask } = level;
  const context = element?.getContext('2d');
  if (!element || !context || !mask) return;
  const view = props.stage.view('sheet');
  const ratio = window.devicePixelRatio;
  Object.assign(element, { width: Math.round(view.width * ratio), height: Math.round(view.height * ratio) });
  const image = new ImageData(mask.width, mask.height);
  const words = new Uint32Array(image.data.buffer);
  for (let i = 0; i < words.length; i++) words[i] = isKept(i) ? KEPT : DROPPED;
  const small = new OffscreenCanvas(mask.width, mask.height);
  small.getContext('2d')!.putImageData(image, 0, 0);
  context.scale(ratio, ratio);
  context.imageSmoothingEnabled = false;
  const [from, to] = [cornerOf(0, 0), cornerOf(mask.width, mask.height)];
  context.drawImage(small, from.x, from.y, to.x - from.x, to.y - from.y);
  const side = (to.x - from.x) / mask.width;
  const painted = piece.doc?.levels.painted.find((p) => p.level === bench.paintLevel && p.width === mask.width);
  context.fillStyle = '#d8962e';
  if (side >= 4)
    for (const at of [...(painted?.kept ?? []), ...(painted?.dropped ?? []), ...fresh.value.keys()]) mark(at);
  if (!cursor.value) return;
  const { x, y } = cornerOf(cursor.value.x, cursor.value.y);
  for (const [colour, width] of CURSOR) {
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.strokeRect(x, y, side, side);
  }

  function mark(at: number): void {
    const { x: left, y: top } = cornerOf(at % mask!.width, Math.floor(at / mask!.width));
    context!.fillRect(left + side / 2 - 1.5, top + side / 2 - 1.5, 3, 3);
  }
}

/** Little-endian RGBA, half transparent: the picture shows through. */
const KEPT = 0x99f2f7f4;
const DROPPED = 0xb3261b1d;
const CURSOR = [
  ['#1d2b26', 4],
  ['#ffd76a', 2],
] as const;

/** Corner of a texel of the level, in CSS pixels of the view. */
function cornerOf(x: number, y: number): { x: number; y: number } {
  const { width, height } = level.value!;
  const { picture } = props.stage.sheet.look;
  return props.stage.sheet.pointOf(
    (x * picture.width) / width,
    (y * picture.height) / height,
    props.stage.view('sheet'),
  );
}

function cellAt(event: PointerEvent): { x: number; y: number } | null {
  if (!level.value) return null;
  const box = canvas.value!.getBoundingClientRect();
  const { picture } = props.stage.sheet.look;
  const at = props.stage.sheet.texelAt(event.clientX - box.left, event.clientY - box.top, props.stage.view('sheet'));
  const x = Math.floor((at.x * level.value.width) / picture.width);
  const y = Math.floor((at.y * level.value.height) / picture.height);
  return x >= 0 && y >= 0 && x < level.value.width && y < level.value.height ? { x, y } : null;
}

function press(event: PointerEvent): void {
  const cell = event.button === 0 ? cellAt(event) : null;
  if (!cell || !level.value) return; // beside it, and with other buttons, the Sheet is moved
  event.stopPropagation();
  canvas.value!.setPointerCapture(event.pointerId);
  drag = { value: !isKept(cell.y * level.value.width + cell.x), cells: new Map(), last: cell };
  paintTo(cell);
}
function move(event: PointerEvent): void {
  if (!drag) return;
  event.stopPropagation();
  const cell = cellAt(event);
  if (cell) paintTo(cell);
}
function paintTo(cell: { x: number; y: number }): void {
  if (!drag || !level.value) return;
  for (const { x, y } of linePoints(drag.last, cell)) {
    const at = y * level.value.width + x;
    drag.cells.set(at, drag.value);
    fresh.value.set(at, drag.value);
  }
  drag.last = cell;
  draw();
}
function release(): void {
  const { cells } = drag ?? {};
  drag = null;
  if (cells) commit(cells);
}
function commit(cells: ReadonlyMap<number, boolean>): void {
  if (!level.value || bench.paintLevel === null) return;
  if (paint(bench.paintLevel, level.value, cells)) return;
  for (const at of cells.keys()) fresh.value.delete(at);
  ElMessage.error('No more texels of a level can be painted over. What was painted before is kept.');
  draw();
}

function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') bench.paintLevel = null;
  const way = WAYS[event.key];
  if (!level.value || (!way && event.key !== ' ')) return;
  event.preventDefault();
  event.stopPropagation();
  const { width, height } = level.value;
  const at = cursor.value ?? { x: width >> 1, y: height >> 1 };
  if (way) {
    const to = { x: at.x + way[0], y: at.y + way[1] };
    cursor.value = { x: Math.min(width - 1, Math.max(0, to.x)), y: Math.min(height - 1, Math.max(0, to.y)) };
  } else {
    cursor.value = at;
    const cell = at.y * width + at.x;
    const value = !isKept(cell);
    fresh.value.set(cell, value);
    commit(new Map([[cell, value]]));
  }
  draw();
}
const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

watch(
  () => clip.shown,
  (made) => made && !drag && fresh.value.clear(),
);
watch([level, threshold, () => props.moved, () => piece.doc?.levels.painted], () => void nextTick(draw));
redrawWhenRestored(canvas, draw);
onMounted(() => {
  draw();
  canvas.value?.focus();
});
</script>

<template>
  <canvas
    ref="canvas"
    class="level-paint"
    tabindex="0"
    role="application"
    :aria-label="`Mip level of ${level?.width} × ${level?.height} texels. Arrow keys choose a texel, the space bar turns it.`"
    data-test="level-paint"
    @pointerdown="press"
    @pointermove="move"
    @pointerup="release"
    @pointercancel="release"
    @keydown="onKey"
  />
</template>

<style scoped>
.level-paint {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: crosshair;
}

.level-paint:focus-visible {
  outline-offset: -3px;
}
</style>
