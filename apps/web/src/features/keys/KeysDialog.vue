<script setup lang="ts">
import PlainDialog from '../../components/PlainDialog.vue';
import { listedKeys } from '../../actions/keys';
import { useHelpStore } from '../../stores/help.store';

const open = defineModel<boolean>({ required: true });
const help = useHelpStore();

function leaveFor(what: () => void): void {
  open.value = false;
  what();
}

/** As it stands on the keyboard. */
function shown(key: string): string {
  const names: Record<string, string> = { ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓', ' ': 'Space' };
  return key
    .split('+')
    .map((part) => names[part] ?? (part.length === 1 ? part.toUpperCase() : part))
    .join(' + ')
    .replace(/^$/, '+');
}
</script>

<template>
  <PlainDialog v-model="open" title="Keys" width="1080px" top="5vh">
    <p class="others">
      <button type="button" class="linked" @click="leaveFor(() => help.show(null))">Search help</button>
      <button type="button" class="linked" data-test="walk-from-keys" @click="leaveFor(help.walk)">First walk</button>
    </p>
    <div class="groups">
      <section v-for="group in listedKeys()" :key="group.title">
        <h3>{{ group.title }}</h3>
        <dl>
          <template v-for="action in group.actions" :key="action.key">
            <dt>
              <kbd>{{ shown(action.key) }}</kbd>
            </dt>
            <dd>{{ action.label }}</dd>
          </template>
        </dl>
      </section>
    </div>
  </PlainDialog>
</template>

<style scoped>
.others {
  display: flex;
  gap: 18px;
  margin: 0 0 14px;
}

.groups {
  columns: 3;
  column-gap: 32px;
}

section {
  break-inside: avoid;
  margin-bottom: 16px;
}

h3 {
  font-size: 13px;
  margin-bottom: 6px;
}

dl {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 3px 10px;
  margin: 0;
}

dd {
  margin: 0;
}

kbd {
  font: inherit;
  padding: 0 6px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: var(--paper-deep);
}
</style>
