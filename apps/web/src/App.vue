<script setup lang="ts">
import { CircleHelp, Keyboard, Moon, Redo2, Sun, Undo2 } from 'lucide-vue-next';
import { computed, defineAsyncComponent, onScopeDispose, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { keepsSettings } from './engine/capabilities';
import BringInPanel from './features/bringin/BringInPanel.vue';
import { EVERYWHERE, startKeys, useKeys } from './actions/keys';
import KeysDialog from './features/keys/KeysDialog.vue';
import NoticeBar from './features/notices/NoticeBar.vue';
import { useBenchStore } from './stores/bench.store';
import { useHelpStore } from './stores/help.store';
import { useNoticesStore } from './stores/notices.store';
import { useEngine, usePiece } from './stores/open-piece/open-piece';
import { useSavingStore } from './stores/saving.store';

const route = useRoute();
const router = useRouter();
const piece = usePiece();
const engine = useEngine();
const size = computed(() => engine.wholeSize ?? engine.size);
const bench = useBenchStore();
const keysOpen = ref(false);
const help = useHelpStore();
/** Its text comes when it is asked for. */
const FirstWalk = defineAsyncComponent(() => import('./features/help/FirstWalk.vue'));
const HelpPanel = defineAsyncComponent(() => import('./features/help/HelpPanel.vue'));

onScopeDispose(startKeys());

const inPiece = computed(() => route.name === 'bench' || route.name === 'hand-off');
const title = computed(() => piece.doc?.name);
const saving = useSavingStore();
const saveWords = { saved: 'saved', saving: 'saving…', waiting: 'not saved' } as const;
void saving.bringAsidesBack();
if (!keepsSettings()) {
  useNoticesStore().tell({
    id: 'settings',
    bad: false,
    text: 'This browser stores no settings for this page: theme, tools and brush return to their defaults on each visit. Everything else works.',
    remedy: '',
  });
}

const toggleTheme = () => (bench.theme = bench.theme === 'dark' ? 'light' : 'dark');
const go = (name: 'stock' | 'bench' | 'hand-off') => {
  if (name === 'stock') void router.push('/');
  else if (piece.id) void router.push({ name, params: { id: piece.id } });
};

/** A link that was followed with the mouse keeps no focus: the next key, or a dialogue that closes, would ring it. */
function leaveLink({ detail }: MouseEvent): void {
  if (detail > 0) (document.activeElement as HTMLElement | null)?.blur();
}

useKeys(EVERYWHERE, [
  { key: '?', label: 'List the keys', run: () => (keysOpen.value = !keysOpen.value) },
  { key: 'F1', also: 'Alt+p', label: 'Help on what is selected', run: () => help.toggle(String(route.name)) },
  { key: 'Alt+k', label: 'Search help', run: () => help.show(null) },
  { key: 'Ctrl+z', label: 'Undo', run: () => piece.undo() },
  { key: 'Ctrl+Shift+z', also: 'Ctrl+y', label: 'Redo', run: () => piece.redo() },
  { key: 's', label: 'Go to the Stock', run: () => go('stock') },
  { key: 'w', label: 'Go to the Bench', run: () => go('bench') },
  { key: 'h', label: 'Go to the Hand-off', run: () => go('hand-off') },
  { key: 'l', label: 'Light or dark theme', run: toggleTheme },
]);

window.addEventListener('beforeunload', (event) => {
  if (!saving.isAllSaved()) event.preventDefault();
});
</script>

<template>
  <header>
    <RouterLink to="/" class="brand" aria-label="Lithe Sieve: to the Stock"
      ><i aria-hidden="true" />Lithe Sieve</RouterLink
    >
    <nav aria-label="Screens" @click="leaveLink">
      <RouterLink to="/" :class="{ here: route.name === 'stock' }">Stock</RouterLink>
      <template v-if="inPiece && piece.id">
        <RouterLink :to="`/bench/${piece.id}`" :class="{ here: route.name === 'bench' }">Bench</RouterLink>
        <RouterLink :to="`/hand-off/${piece.id}`" :class="{ here: route.name === 'hand-off' }">Hand-off</RouterLink>
      </template>
      <RouterLink to="/studio" :class="{ here: route.name === 'studio' }">Studio</RouterLink>
    </nav>
    <h1 v-if="inPiece && title" class="title">
      {{ title }}
      <span v-if="size" class="soft" data-test="piece-size">{{ size.width }} × {{ size.height }}</span>
    </h1>
    <span class="space" />
    <template v-if="inPiece && title">
      <ElTooltip :trigger-keys="[]" :content="piece.canUndo ? `Undo: ${piece.undoLabel}` : 'Nothing to undo'">
        <button class="icon" :disabled="!piece.canUndo" aria-label="Undo" @click="piece.undo()">
          <Undo2 :size="16" />
        </button>
      </ElTooltip>
      <ElTooltip :trigger-keys="[]" :content="piece.canRedo ? `Redo: ${piece.redoLabel}` : 'Nothing to redo'">
        <button class="icon" :disabled="!piece.canRedo" aria-label="Redo" @click="piece.redo()">
          <Redo2 :size="16" />
        </button>
      </ElTooltip>
    </template>
    <span
      v-if="(inPiece && title) || saving.state.kind !== 'saved'"
      class="soft state"
      :class="saving.state.kind"
      role="status"
      data-test="save-state"
      >{{ saveWords[saving.state.kind] }}</span
    >
    <ElTooltip :trigger-keys="[]" :content="bench.theme === 'dark' ? 'Light theme' : 'Dark theme'">
      <button class="icon" aria-label="Light or dark theme" @click="toggleTheme">
        <Sun v-if="bench.theme === 'dark'" :size="16" /><Moon v-else :size="16" />
      </button>
    </ElTooltip>
    <ElTooltip :trigger-keys="[]" content="Help on what is selected (F1)">
      <button class="icon" aria-label="Help" data-test="open-help" @click="help.toggle(String(route.name))">
        <CircleHelp :size="16" />
      </button>
    </ElTooltip>
    <ElTooltip :trigger-keys="[]" content="Keys (?)">
      <button class="icon" aria-label="Keys" @click="keysOpen = true"><Keyboard :size="16" /></button>
    </ElTooltip>
    <ElButton
      v-if="route.name === 'bench' && piece.id"
      type="primary"
      round
      size="small"
      data-test="to-hand-off"
      @click="go('hand-off')"
    >
      Hand off
    </ElButton>
  </header>
  <NoticeBar />
  <main><RouterView /></main>
  <BringInPanel />
  <KeysDialog v-model="keysOpen" />
  <HelpPanel v-if="help.open" @keys="keysOpen = true" />
  <FirstWalk v-if="help.walking" />
</template>

<style>
#app {
  display: grid;
  grid-template-rows: 44px auto minmax(0, 1fr);
}

#app > main {
  min-height: 0;
}
</style>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 16px;
  border-bottom: 1px solid var(--rule);
}

.brand {
  font-weight: 650;
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
}

.brand i {
  display: inline-block;
  width: 15px;
  height: 15px;
  margin-right: 8px;
  vertical-align: -2px;
  border-radius: 50%;
  background:
    repeating-linear-gradient(45deg, var(--green) 0 1.5px, transparent 1.5px 4px),
    repeating-linear-gradient(-45deg, var(--green) 0 1.5px, transparent 1.5px 4px);
}

nav {
  display: flex;
  gap: 16px;
  margin-left: 12px;
  align-self: stretch;
}

nav a {
  display: flex;
  align-items: center;
  color: var(--ink-soft);
  text-decoration: none;
  border-bottom: 2px solid transparent;
}

nav a.here {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--green);
}

.title {
  position: absolute;
  left: 50%;
  transform: translateX(-50%);
  max-width: 34%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 13px;
  font-weight: 600;
}

.title .soft {
  font-weight: 400;
}

.space {
  flex: 1;
}

.icon {
  display: inline-flex;
  padding: 5px;
  border: 0;
  border-radius: 5px;
  background: none;
  color: var(--ink);
  cursor: pointer;
}

.icon:hover:enabled {
  background: var(--paper-deep);
}

.icon:disabled {
  opacity: 0.35;
  cursor: default;
}

.state {
  min-width: 56px;
}

.state.waiting {
  color: var(--red);
  font-weight: 650;
}
</style>
