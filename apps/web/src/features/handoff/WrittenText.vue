<script setup lang="ts">
// A file that is text, as it was written: its beginning.
import { ref, watch } from 'vue';
import { fileHead } from '../../api/handoffs.api';

const props = defineProps<{
  name: string;
  /** Whether there is text in it. */
  readable: boolean;
  /** The hand-off that wrote it, and its place there; null: not written yet, or the piece has changed since. */
  written: { job: string; index: number } | null;
}>();

/** What a person reads of it; a mesh goes on for megabytes. */
const MOST = 64 * 1024;
const text = ref('');
const words = ref('');
let asked = 0;
watch(
  () => [props.written?.job, props.written?.index, props.readable] as const,
  async ([job, index, readable]) => {
    const mine = ++asked;
    text.value = '';
    words.value = readable ? 'not written yet' : 'numbers, no picture and no text';
    if (job === undefined || index === undefined || !readable) return;
    try {
      const head = await fileHead(job, index, MOST);
      if (mine !== asked) return;
      text.value = head.text;
      words.value = head.whole ? 'the whole file' : 'its first 64 kB';
    } catch (error) {
      if (mine === asked) words.value = (error as Error).message;
    }
  },
  { immediate: true },
);
</script>

<template>
  <section class="text" aria-label="The file, as text">
    <pre tabindex="0" data-test="written-text">{{ text }}</pre>
    <footer>
      <span>{{ name }}</span>
      <span role="status">{{ words }}</span>
    </footer>
  </section>
</template>

<style scoped>
.text {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
  overflow: hidden;
  background: var(--paper-high);
}

pre {
  margin: 0;
  padding: 12px 14px;
  overflow: auto;
  font-size: 12px;
  line-height: 1.45;
  tab-size: 2;
}

footer {
  display: flex;
  gap: 14px;
  justify-content: space-between;
  padding: 6px 12px;
  background: #2c2e2e;
  color: #ffffff;
  font-size: 12px;
}
</style>
