<script setup lang="ts">
import { STRETCHES, stepKind, type Stretch } from '@lithe-sieve/core';
import { Plus } from 'lucide-vue-next';
import { computed, nextTick, onScopeDispose, ref, useTemplateRef, watch } from 'vue';
import { useRunActions } from '../../actions/run-actions';
import { useBenchStore } from '../../stores/bench.store';
import CutOut from '../../components/CutOut.vue';
import { usePiece, useProposals } from '../../stores/open-piece/open-piece';
import { focusSettings } from '../../components/focus';
import { offersOf, type Offer } from './insert-groups';

/** The kinds of step that a stretch can take, under what they are for; typing narrows them down. */
const props = defineProps<{ stretch: Stretch }>();
const actions = useRunActions();
const bench = useBenchStore();
const piece = usePiece();
const proposals = useProposals();
const words = ref('');
const field = useTemplateRef<{ focus(): void }>('field');
const menu = useTemplateRef<HTMLElement>('menu');
const inside = useTemplateRef<HTMLElement>('inside');
const button = useTemplateRef<HTMLElement>('button');

const open = computed({
  get: () => bench.inserting === props.stretch,
  set(value) {
    if (value) bench.inserting = props.stretch;
    else if (bench.inserting === props.stretch) bench.inserting = null; // another menu may be open by now
  },
});
const groups = computed(() =>
  offersOf(props.stretch, words.value, {
    sources: piece.sources.length,
    maskSteps: piece.run.filter((s) => stepKind(s.kind).stretch === 'mask').length,
  }),
);
/** What a kind that makes a mask would give of this picture. */
const given = computed(() => {
  const { now } = proposals;
  const found = now && props.stretch === 'mask' ? now.ofKinds : [];
  return new Map(found.map(({ run, mask }) => [run[0].kind, { run, shown: { picture: now!.picture, mask } }]));
});
let endLook: () => void = () => undefined;

const wide = computed(() => groups.value.length > 1 || words.value !== '');

/**
 * With a listener the popover asks to be hidden, without one it hides by itself: 0.2 s after the focus left it, which hid a
 * menu that was opened again meanwhile. `open` alone decides.
 */
const followOpen = (): void => undefined;

function onPress({ target }: PointerEvent): void {
  const pressed = (target as Element).closest('.el-popper, .plus');
  if (!pressed || !(pressed.contains(inside.value) || pressed === button.value)) open.value = false;
}

/** Wherever the focus is. */
function onEscape(event: KeyboardEvent): void {
  if (event.key !== 'Escape') return;
  event.stopPropagation();
  open.value = false;
}

watch(open, async (now) => {
  endLook();
  if (now) {
    startEarly();
    if (props.stretch === 'mask') endLook = proposals.look();
  } else {
    endEarly();
    stopClosing();
    words.value = '';
    // closed by a press elsewhere: the focus is where that went
    if (inside.value?.contains(document.activeElement)) button.value?.focus();
    return;
  }
  await nextTick();
  setTimeout(() => field.value?.focus(), 30); // the popper takes a moment to be shown
});

/** What is typed before the field has the focus goes into it, instead of being taken as shortcuts of the page. */
function onEarlyKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.altKey || event.metaKey || event.key === 'Tab') return;
  if (event.key.length === 1 && !event.repeat) words.value += event.key;
  else if (event.key === 'Backspace') words.value = words.value.slice(0, -1);
  else if (event.key === 'Enter' && !event.repeat) takeFirst();
  else if (event.key === 'Escape') open.value = false;
  event.preventDefault();
  event.stopPropagation();
}

function startEarly(): void {
  window.addEventListener('keydown', onEarlyKey, true);
  window.addEventListener('pointerdown', onPress, true);
  window.addEventListener('keydown', onEscape, true);
}

function endEarly(): void {
  window.removeEventListener('keydown', onEarlyKey, true);
}
function stopClosing(): void {
  window.removeEventListener('pointerdown', onPress, true);
  window.removeEventListener('keydown', onEscape, true);
}
onScopeDispose(() => {
  endLook();
  endEarly();
  stopClosing();
});

/** At once: the popover by itself takes a moment, in which what is typed would reach the page. */
function toggle(event: KeyboardEvent): void {
  event.preventDefault();
  event.stopImmediatePropagation();
  if (!event.repeat) open.value = !open.value;
}

function take({ name, missing }: Offer): void {
  if (missing) return;
  open.value = false;
  actions.insert(name, given.value.get(name)?.run);
  void focusSettings();
}

function takeFirst(): void {
  const first = groups.value.flatMap((g) => g.offers).find((o) => !o.missing);
  if (first) take(first);
}

/** Arrows go through the kinds, a letter goes back to the field. */
function onKey(event: KeyboardEvent): void {
  const items = Array.from(
    menu.value?.querySelectorAll<HTMLElement>('[role=menuitem]:not([aria-disabled=true])') ?? [],
  );
  const at = items.indexOf(document.activeElement as HTMLElement);
  const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
  const isField = event.target instanceof HTMLInputElement;
  if (event.key === 'Escape') open.value = false;
  else if (step && !(isField && event.key !== 'ArrowDown')) {
    if (at + step < 0) field.value?.focus();
    else items[Math.min(items.length - 1, at + step)]?.focus();
  } else if (isField && event.key === 'Enter') takeFirst();
  else if (!isField && event.key.length === 1 && event.key !== ' ')
    return field.value?.focus(); // the letter goes into it
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <ElPopover
    :visible="open"
    placement="bottom-start"
    :width="wide ? 820 : 330"
    :show-arrow="false"
    @update:visible="followOpen"
  >
    <template #reference>
      <button
        ref="button"
        class="plus"
        :aria-label="`Insert a ${STRETCHES[stretch].label} step`"
        aria-haspopup="menu"
        :aria-expanded="open"
        :data-test="`insert-${stretch}`"
        @click="open = !open"
        @keydown.enter.capture="toggle"
        @keydown.space.capture="toggle"
      >
        <Plus :size="15" />
      </button>
    </template>
    <div
      v-if="open"
      ref="inside"
      role="dialog"
      :aria-label="`Insert a ${STRETCHES[stretch].label} step`"
      @keydown="onKey"
    >
      <ElInput
        ref="field"
        v-model="words"
        size="small"
        placeholder="Type to find a step"
        aria-label="Find a step"
        @focus="endEarly"
      />
      <p v-if="groups.length === 0" class="none">No step matches.</p>
      <div ref="menu" class="groups" role="menu" :aria-label="`${STRETCHES[stretch].label} steps to insert`">
        <div v-for="group in groups" :key="group.purpose" role="group" :aria-label="group.title" class="group">
          <div class="title" aria-hidden="true">{{ group.title }}</div>
          <button
            v-for="offer in group.offers"
            :key="offer.name"
            class="offer"
            :class="{ pictured: given.has(offer.name) }"
            role="menuitem"
            tabindex="-1"
            :aria-disabled="offer.missing !== ''"
            :data-kind="offer.name"
            @click="take(offer)"
          >
            <CutOut v-if="given.has(offer.name)" class="given" v-bind="given.get(offer.name)!.shown" />
            <strong>{{ offer.label }}</strong><span>{{ offer.missing || offer.hint }}</span>
          </button>
        </div>
      </div>
    </div>
  </ElPopover>
</template>

<style scoped>
.groups {
  columns: 3;
  column-gap: 18px;
  margin-top: 10px;
}

.groups:has(.group:only-child) {
  columns: 1;
}

.group {
  break-inside: avoid-column;
  margin-bottom: 8px;
}

.title {
  padding-bottom: 2px;
  border-bottom: 1px solid var(--rule);
  color: var(--ink-soft);
  font-size: 11.5px;
}

.offer {
  display: grid;
  width: 100%;
  padding: 4px 6px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: var(--ink);
  font: inherit;
  font-size: 12.5px;
  line-height: 1.3;
  text-align: left;
  cursor: pointer;
}

.pictured {
  grid-template-columns: 64px 1fr;
  column-gap: 8px;
}

.given {
  grid-row: span 2;
  align-self: center;
  max-height: 64px;
}

.offer strong {
  font-weight: 600;
}

.offer span {
  color: var(--ink-soft);
  font-size: 11.5px;
}

.offer:hover,
.offer:focus-visible {
  background: var(--green-pale, var(--paper-deep));
}

.offer[aria-disabled='true'] {
  cursor: default;
}

.offer[aria-disabled='true'] strong {
  color: var(--ink-soft);
  font-weight: 400;
}

.offer[aria-disabled='true'] span {
  font-style: italic;
}

.none {
  margin: 10px 0 0;
  color: var(--ink-soft);
}
</style>
