<script setup lang="ts">
import { nextTick } from 'vue';

defineOptions({ inheritAttrs: false });

/** A dialogue whose heading is no banner of the page: the library draws it as a header element, of one that is open from the start later. */
async function plainHeading(): Promise<void> {
  await nextTick();
  for (const header of document.querySelectorAll('header.el-dialog__header'))
    header.setAttribute('role', 'presentation');
}
</script>

<template>
  <ElDialog v-bind="$attrs" @open="plainHeading" @opened="plainHeading">
    <slot />
    <template v-if="$slots['footer']" #footer><slot name="footer" /></template>
  </ElDialog>
</template>
