<script setup lang="ts">
import { marked } from 'marked';
import { ArrowLeft, X } from 'lucide-vue-next';
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import { linkFrom, searched, type HelpPage } from '../../document/help-pages';
import { useHelpStore } from '../../stores/help.store';
import { HELP, pictureOf } from './pages';

/** Pages of help beside the work: what is selected, or what is searched for. */
const emit = defineEmits<{ keys: [] }>();
const help = useHelpStore();
const words = ref('');
const panel = useTemplateRef<HTMLElement>('panel');
const field = useTemplateRef<{ focus(): void }>('field');

const page = computed(() => HELP.find(({ key }) => key === help.trail.at(-1)) ?? null);
watch(page, () => panel.value && (panel.value.scrollTop = 0), { flush: 'post' });
const listed = computed(() => searched(HELP, words.value));
const ABOUT = { step: 'Step', snag: 'Snag', word: 'Word' } as const;
const html = computed(() => (page.value ? asHtml(page.value) : ''));

function asHtml(of: HelpPage): string {
  const renderer = new marked.Renderer();
  renderer.image = ({ href, text }) => `<img src="${pictureOf(href)}" alt="${text}">`;
  renderer.link = ({ href, text }) => `<a href="#" data-page="${linkFrom(of, href)}">${text}</a>`;
  return marked.parse(of.text, { renderer, async: false });
}

function follow(event: MouseEvent): void {
  const to = (event.target as Element).closest<HTMLElement>('[data-page]')?.dataset['page'];
  if (!to) return;
  event.preventDefault();
  help.show(to);
}

/** Where the focus was before, to go back to. */
let from: HTMLElement | null = null;
function close(): void {
  help.close();
  from?.focus();
}

watch(
  () => help.asked,
  async () => {
    const focused = document.activeElement as HTMLElement | null;
    if (!panel.value?.contains(focused)) from = focused;
    await nextTick();
    if (page.value) panel.value?.focus();
    else field.value?.focus();
  },
  { immediate: true },
);
</script>

<template>
  <aside
    v-if="help.open"
    ref="panel"
    class="help"
    aria-label="Help"
    tabindex="-1"
    data-test="help"
    @keydown.esc.stop="close"
  >
    <div class="bar">
      <button v-if="help.trail.length > 0" type="button" class="bare" aria-label="Back" @click="help.back()">
        <ArrowLeft :size="16" />
      </button>
      <button v-if="page" type="button" class="linked" @click="help.show(null)">All pages</button>
      <span class="space" />
      <button type="button" class="linked" data-test="first-walk" @click="help.walk()">First walk</button>
      <button type="button" class="linked" @click="emit('keys')">Keys</button>
      <button type="button" class="bare" aria-label="Close help" data-test="close-help" @click="close">
        <X :size="16" />
      </button>
    </div>
    <article v-if="page" :key="page.key" data-test="help-page" @click="follow">
      <p class="soft about">{{ ABOUT[page.about] }}</p>
      <h2>{{ page.title }}</h2>
      <!-- eslint-disable-next-line vue/no-v-html -- text of our own docs, none of a user's -->
      <div class="text" v-html="html" />
    </article>
    <template v-else>
      <h2>Help</h2>
      <ElInput
        ref="field"
        v-model="words"
        placeholder="Search steps, snags and words"
        aria-label="Search help"
        clearable
        data-test="search-help"
        @keydown.enter="listed[0] && help.show(listed[0].key)"
      />
      <p class="soft" role="status">
        {{ listed.length === 0 ? 'No page holds these words.' : `${listed.length} pages` }}
      </p>
      <ul>
        <li v-for="one in listed" :key="one.key">
          <button type="button" class="linked" data-test="help-entry" @click="help.show(one.key)">
            {{ one.title }}
          </button>
          <span class="soft">{{ ABOUT[one.about].toLowerCase() }}</span>
        </li>
      </ul>
    </template>
  </aside>
</template>

<style scoped>
.help {
  position: fixed;
  z-index: 20;
  top: 164px; /* the strip of the run stays in sight: pages follow what is selected there */
  bottom: 8px;
  left: 8px;
  width: 380px;
  padding: 8px 18px 18px;
  overflow: auto;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--paper);
  box-shadow: 0 6px 24px rgb(0 0 0 / 18%);
}

.help:focus-visible {
  outline: none; /* it holds the keys, and is pressed by none */
}

.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 30px;
}

.space {
  flex: 1;
}

.bare {
  display: grid;
  padding: 4px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}

.about {
  margin: 6px 0 0;
  font-size: 11.5px;
}

h2 {
  margin: 0 0 8px;
  font-size: 18px;
}

.text :deep(img) {
  width: 100%;
  border: 1px solid var(--rule);
  border-radius: 4px;
}

.text :deep(p) {
  margin: 0 0 10px;
  line-height: 1.5;
}

.text :deep(a) {
  color: var(--green);
}

ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  padding: 3px 0;
}
</style>
