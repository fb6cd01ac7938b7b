<script setup lang="ts">
// Hand-offs of the piece that are kept with their files, each beside the newest.
import type { Job, KeptHandOffs } from '@lithe-sieve/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { keptHandOffs, viewAddress, zipAddress } from '../../api/handoffs.api';
import { changedPictures, changesBetween } from './compared';

const props = defineProps<{ pieceId: string; job: Job | null }>();
const kept = shallowRef<KeptHandOffs>([]);
const trouble = ref('');

watch(
  () => [props.pieceId, props.job?.report?.writtenAt] as const,
  async ([id]) => {
    try {
      const list = await keptHandOffs(id);
      if (id === props.pieceId) kept.value = list;
      trouble.value = '';
    } catch (error) {
      trouble.value = (error as Error).message;
    }
  },
  { immediate: true },
);

const earlier = computed(() => {
  const [newest, ...others] = kept.value;
  return others.map(({ id, report }) => ({ id, report, changes: changesBetween(report, newest.report), newest: newest.id, pictures: changedPictures(report, newest.report) })); // prettier-ignore
});
/** Each is read from its file as large as it is. */
const MOST_PICTURES = 4;
const timeOf = (iso: string) => new Date(iso).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
</script>

<template>
  <details v-if="earlier.length || trouble" class="earlier" data-test="earlier">
    <summary>Earlier hand-offs: {{ earlier.length }} kept</summary>
    <p v-if="trouble" class="soft" role="status">They cannot be listed: {{ trouble }}</p>
    <article v-for="{ id, report, changes, pictures, newest } in earlier" :key="id">
      <p>
        <strong>Revision {{ report.revision }}</strong
        >, {{ timeOf(report.writtenAt) }},
        <a :href="zipAddress(id)" download>in one zip</a>
      </p>
      <ul v-if="changes.length">
        <li v-for="change in changes" :key="change">{{ change }}</li>
      </ul>
      <figure v-for="{ name, was, is } in pictures.slice(0, MOST_PICTURES)" :key="name">
        <img class="linen" loading="lazy" :src="viewAddress(id, was)" :alt="`${name} before`" />
        <span aria-hidden="true">→</span>
        <img class="linen" loading="lazy" :src="viewAddress(newest, is)" :alt="`${name} now`" />
        <figcaption class="soft">{{ name }}</figcaption>
      </figure>
      <p v-if="changes.length === 0" class="soft">The newest is the same, byte for byte.</p>
    </article>
  </details>
</template>

<style scoped>
.earlier {
  margin-top: 8px;
  font-size: 12.5px;
}

figure {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 0 0 6px;
}

figure img {
  width: 72px;
  height: 72px;
  object-fit: contain;
}

figcaption {
  width: 100%;
  overflow-wrap: anywhere;
}

summary {
  cursor: pointer;
}

article {
  margin: 4px 0;
}

ul {
  margin: 0;
  padding-left: 16px;
}

a {
  color: var(--green);
}
</style>
