<script setup lang="ts">
import { thresholdByte, type Picture } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, shallowRef, useTemplateRef, watch, watchEffect } from 'vue';
import { redrawWhenRestored } from '../../components/restored';
import { useHandStore } from '../../stores/hand.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import { pointOn, texelSideOn, type SeenPlace } from '../stage/places';
import { clamp, type Point } from '../../drawing/poses';
import type { Stage } from '../stage/stage';
import { AROUND, CELL, drawLoupe, SIDE } from './loupe';
import { hiddenShare, leastHiding } from './loupe-place';

/** The texels around the pointer, beside it or in a corner. */
const props = defineProps<{ stage: Stage; view: 'sheet' | 'stand'; moved: number; at: SeenPlace | null }>();
const hand = useHandStore();
const engine = useEngine();
const piece = usePiece();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');

/** The first source, which the worker has decoded already. */
const picture = shallowRef<Picture | null>(null);
watch(
  () => piece.sources[0]?.sha256,
  async (sha256) => {
    const found = sha256 ? await engine.engine().picture(sha256) : null;
    if (piece.sources[0]?.sha256 === sha256) picture.value = found;
  },
  { immediate: true },
);

/** CSS pixels between the tip's rim and the loupe, between the loupe and the rim of the view, and what controls take. */
const OFF = 22;
const MARGIN = 8;
const CONTROLS = 42;
const PAINTED_PAUSE_MS = 40;
/** Side of a level that says where the subject is. */
const SMALL_ENOUGH = 256;

/** Upper left corner; null where it is not shown. */
const placed = computed(() => {
  void props.moved;
  const { at, stage, view: name } = props;
  if (!at || !engine.size || hand.loupe === 'none') return null;
  const view = stage.view(name);
  const { width, height } = engine.size;
  const beyond = (v: number, side: number) => v < -AROUND || v > side + AROUND;
  if (beyond(at.x, width) || beyond(at.y, height)) return null;
  const seen = pointOn(stage, name, at, engine.size);
  const texel = texelSideOn(stage, name, at, engine.size);
  if (at.on === name && texel >= CELL) return null; // as large as that they are seen there
  const [right, bottom] = [view.width - SIDE - MARGIN, view.height - SIDE - CONTROLS];
  if (hand.loupe === 'corner') {
    if (name !== 'sheet') return null;
    const corners = [right, MARGIN].flatMap((x) => [CONTROLS, bottom].map((y) => ({ x, y })));
    return clearest(corners, at.on === 'sheet' ? seen : null, 60);
  }
  if (at.on !== name) return null;
  const off = OFF + (hand.isBrush ? Math.min(120, (hand.brush.diameter / 2) * texel) : 0);
  const beside = [seen.x + off, seen.x - off - SIDE].flatMap((x) =>
    [seen.y - off - SIDE, seen.y + off].map((y) => ({ x: clamp(x, MARGIN, right), y: clamp(y, CONTROLS, bottom) })),
  );
  return clearest(beside, seen, OFF / 2);
});

let taken = 0;
/** The one that hides least of the subject, and not what is painted. @param free - CSS pixels around the pointer. */
function clearest(places: readonly Point[], seen: Point | null, free: number): Point {
  const mask = engine.mask?.levels.find((l) => Math.max(l.width, l.height) <= SMALL_ENOUGH);
  const byte = piece.material ? thresholdByte(piece.material.cutoff, piece.material.opacity) : 1;
  const { stage, view: name } = props;
  const { width, height } = engine.size!;
  const placeAt = (x: number, y: number) => {
    const p = stage.sheet.texelAt(x, y, stage.view('sheet'));
    return { x: p.x / width, y: p.y / height };
  };
  const hides = places.map((p) => {
    const far = seen && Math.max(p.x - seen.x, seen.x - p.x - SIDE, p.y - seen.y, seen.y - p.y - SIDE);
    if (far !== null && far < free) return Infinity;
    return mask && name === 'sheet' ? hiddenShare(p, SIDE, mask, placeAt, byte) : 0;
  });
  taken = leastHiding(hides, taken);
  return places[taken];
}

let image: ImageData | null = null;
let later: ReturnType<typeof setTimeout> | undefined;
function draw(): void {
  clearTimeout(later);
  const context = canvas.value?.getContext('2d');
  const mask = engine.mask?.levels[0];
  const { at } = props;
  const under = picture.value;
  if (!context || !mask || !under || !at || !placed.value || !piece.material || mask.width !== under.width) return;
  image ??= context.createImageData(SIDE, SIDE);
  drawLoupe(mask, under, at, thresholdByte(piece.material.cutoff, piece.material.opacity), image.data);
  context.putImageData(image, 0, 0);
}

watchEffect(draw, { flush: 'post' });
// the pointer's next move draws it anyway: a frame of the page for each of the two would cost more than the stroke
watch(
  () => engine.painted,
  () => {
    clearTimeout(later);
    later = setTimeout(draw, PAINTED_PAUSE_MS);
  },
);
onBeforeUnmount(() => clearTimeout(later));
redrawWhenRestored(canvas, draw);
</script>

<template>
  <canvas
    v-show="placed"
    ref="canvas"
    class="loupe"
    :style="placed ? { transform: `translate(${Math.round(placed.x)}px, ${Math.round(placed.y)}px)` } : {}"
    :width="SIDE"
    :height="SIDE"
    aria-label="Texels around the pointer"
    :data-test="`loupe-${view}`"
  />
</template>

<style scoped>
.loupe {
  position: absolute;
  top: 0;
  left: 0;
  border: 1px solid #1d2b26;
  outline: 1px solid #fff;
  pointer-events: none;
  will-change: transform;
}
</style>
