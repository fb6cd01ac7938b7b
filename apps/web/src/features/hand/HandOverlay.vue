<script setup lang="ts">
import type { Stage } from '../stage/stage';
import type { OverView } from '../stage/press-tool';
import HandLoupe from './HandLoupe.vue';
import HandMarks from './HandMarks.vue';
import type { usePainting } from './painting';

/** The tip, what is under way, and the texels around the pointer, over one of the views. */
defineProps<{ stage: Stage; over: OverView; painting: ReturnType<typeof usePainting> }>();
</script>

<template>
  <template v-if="painting.ready.value">
    <HandMarks
      :stage="stage"
      :view="over.view"
      :moved="over.moved"
      :at="over.at?.on === over.view ? over.at : null"
      :anchor="painting.anchor.value"
      :outline="painting.outline.value"
    />
    <HandLoupe :stage="stage" :view="over.view" :moved="over.moved" :at="over.at" />
  </template>
</template>
