<script setup lang="ts">
import ListLine from '../../components/ListLine.vue';
import { BLEND_ORDERS, type BlendOrder } from '../../drawing/lit/blend-order';
import { useBenchStore } from '../../stores/bench.store';

/** How the Stand lays triangles of mode blend over each other: renderers differ, and each way has its errors. */
const bench = useBenchStore();

const LABELS: Record<BlendOrder, string> = {
  depth: 'by depth',
  mesh: 'in the mesh’s order',
  triangles: 'far to near',
};
const HINTS: Record<BlendOrder, string> = {
  depth:
    'What is drawn first hides what lies behind it, even where it is see-through: pieces of the far cards are missing.',
  mesh: 'Nothing hides anything: what is drawn last lies on top, though it be behind.',
  triangles: 'Sorted before each picture, which few renderers do within an object; triangles that cross still fail.',
};
</script>

<template>
  <ListLine
    label="Blended"
    :value="bench.blendOrder"
    :options="BLEND_ORDERS.map((value) => ({ value, label: LABELS[value] }))"
    data-test="blend-order"
    @choose="bench.blendOrder = $event"
  />
  <p class="soft hint">{{ HINTS[bench.blendOrder] }} On the Stand alone: it is not handed off.</p>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}
</style>
