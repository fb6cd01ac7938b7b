<script setup lang="ts">
import { computed } from 'vue';
import { useClip } from '../../stores/open-piece/open-piece';

const clip = useClip();
const most = computed(() => clip.breaks && Math.max(0, ...clip.breaks.map(({ share }) => share)));
</script>

<template>
  <span>
    far away
    <template v-if="most !== null">
      lost
      <b>{{ (100 * most).toFixed(0) }} %</b>
    </template>
    <b v-else>thin parts</b>
  </span>
</template>
