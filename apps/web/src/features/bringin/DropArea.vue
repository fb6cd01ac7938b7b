<script setup lang="ts">
import { ref } from 'vue';
import { filesOfDrop } from '../../stores/files';

defineProps<{ hint: string }>();
const emit = defineEmits<{ files: [files: File[]] }>();

const over = ref(0); // enter and leave come for every child: count them

function holdsFiles(event: DragEvent): boolean {
  return event.dataTransfer?.types.includes('Files') ?? false;
}

async function onDrop(event: DragEvent): Promise<void> {
  over.value = 0;
  const files = await filesOfDrop(event.dataTransfer);
  if (files.length > 0) emit('files', files);
}
</script>

<template>
  <div
    class="drop-area"
    @dragenter="holdsFiles($event) && over++"
    @dragleave="holdsFiles($event) && (over = Math.max(0, over - 1))"
    @dragover="holdsFiles($event) && $event.preventDefault()"
    @drop.prevent="onDrop"
  >
    <slot />
    <div v-if="over > 0" class="veil">{{ hint }}</div>
  </div>
</template>

<style scoped>
.drop-area {
  position: relative;
  height: 100%;
  min-height: 0;
}

.veil {
  position: absolute;
  inset: 12px;
  z-index: 30;
  display: grid;
  place-items: center;
  border: 2px dashed var(--green);
  border-radius: 8px;
  background: color-mix(in srgb, var(--paper) 85%, transparent);
  font-size: 18px;
  pointer-events: none;
}
</style>
