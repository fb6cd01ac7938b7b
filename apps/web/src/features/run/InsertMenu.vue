<script setup lang="ts">
import { stepKind, type StepKindName, type Stretch } from '@lithe-sieve/core';
import { Plus } from 'lucide-vue-next';
import { useRunActions } from './run-actions';
import { kindsOf } from './step-labels';

const props = defineProps<{ stretch: Stretch }>();
const actions = useRunActions();
/** A line stands between kinds that pull a mask and those that work on one. */
const kinds = kindsOf(props.stretch).map((name, i, all) => ({
  name,
  ...stepKind(name),
  divided: i > 0 && stepKind(name).pullsMask !== stepKind(all[i - 1]).pullsMask,
}));

const insert = (kind: string) => actions.insert(kind as StepKindName);
/** In the long menu a letter goes to the next kind that begins with it. Heard first: the items keep keys to themselves. */
function toLetter(event: KeyboardEvent): void {
  if (event.key.length !== 1 || event.key === ' ' || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault(); // it is no key of the Bench then
  const menu = (event.target as HTMLElement).closest('[role=menu]');
  const items = Array.from(menu?.querySelectorAll<HTMLElement>('[role=menuitem]') ?? []);
  const from = items.findIndex((item) => item === document.activeElement) + 1;
  const begins = (item: HTMLElement) => item.innerText.trim().toLowerCase().startsWith(event.key.toLowerCase());
  [...items.slice(from), ...items.slice(0, from)].find(begins)?.focus();
}
</script>

<template>
  <ElDropdown trigger="click" max-height="560px" @command="insert">
    <button class="plus" :aria-label="`Insert a ${stretch} step`" :data-test="`insert-${stretch}`">
      <Plus :size="15" />
    </button>
    <template #dropdown>
      <ElDropdownMenu @keydown.capture="toLetter">
        <ElDropdownItem v-for="kind in kinds" :key="kind.name" :command="kind.name" :divided="kind.divided">
          <span class="kind"
            ><strong>{{ kind.label }}</strong
            ><span>{{ kind.hint }}</span></span
          >
        </ElDropdownItem>
      </ElDropdownMenu>
    </template>
  </ElDropdown>
</template>

<style scoped>
.kind {
  display: grid;
  padding: 3px 0;
  line-height: 1.35;
}

.kind span {
  color: var(--ink-soft);
  font-size: 12px;
}
</style>
