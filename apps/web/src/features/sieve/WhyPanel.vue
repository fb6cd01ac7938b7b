<script setup lang="ts">
import { WHY, WHY_NAMES, type Answer, type WhyName } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import { useKeys } from '../../actions/keys';
import { useSnagActions } from '../../actions/snag-actions';
import { useWhy } from '../../actions/why';
import { theStage } from '../stage/stage';

/** Asks why the card looks as it does: the links from picture to screen, up to the one that breaks. */
const { answer, lookSo } = useWhy();
const { mend } = useSnagActions();

const open = ref(false);
const asked = ref<WhyName>('holes');

const { standAt } = theStage();
const found = computed<Answer | null>(() => (open.value ? answer(asked.value, { ...standAt }) : null));

useKeys('Stand', [
  {
    key: 'Alt+y',
    label: 'Why does it look so: holes, back, halo, far away',
    run: () => void (open.value = !open.value),
  },
]);
</script>

<template>
  <ElPopover v-model:visible="open" placement="top-end" trigger="click" :width="430" :persistent="false">
    <template #reference>
      <button class="linked" title="Why does it look so? (Alt+Y)" data-test="why">Why…?</button>
    </template>
    <div class="why" data-test="why-panel">
      <div class="questions" role="radiogroup" aria-label="Question">
        <button
          v-for="name in WHY_NAMES"
          :key="name"
          role="radio"
          :aria-checked="asked === name"
          :data-test="`why-${name}`"
          @click="asked = name"
        >
          {{ WHY[name].question }}
        </button>
      </div>
      <p v-if="!found" class="soft">Answered once the mask is computed.</p>
      <ol v-else aria-live="polite">
        <li v-for="one in found.held" :key="one.name">
          <b>{{ one.name }}</b> {{ one.text }}
        </li>
        <li v-if="found.broken" class="broken" data-test="why-broken">
          <b>{{ found.broken.name }}</b> {{ found.broken.text }}
          <span class="remedies">
            <button
              v-if="found.broken.remedy"
              class="linked"
              data-test="why-remedy"
              @click="mend({ id: 'why', text: '', remedy: found.broken.remedy })"
            >
              {{ found.broken.remedy.label }}
            </button>
            <button
              v-if="found.broken.look"
              class="linked"
              data-test="why-look"
              @click="lookSo(found.broken.look, standAt.level)"
            >
              {{ found.broken.look.label }}
            </button>
          </span>
        </li>
        <li v-else class="otherwise" data-test="why-otherwise">{{ found.otherwise }}</li>
      </ol>
    </div>
  </ElPopover>
</template>

<style scoped>
.questions {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}

.questions button {
  padding: 2px 9px;
  border: 1px solid var(--line);
  border-radius: 11px;
  background: none;
  color: inherit;
  font: inherit;
  font-size: 12px;
  cursor: pointer;
}

.questions button[aria-checked='true'] {
  border-color: var(--green);
  font-weight: 600;
}

ol {
  display: grid;
  gap: 7px;
  margin: 12px 0 2px;
  padding: 0;
  list-style: none;
}

li {
  padding-left: 10px;
  border-left: 3px solid var(--green);
  text-align: left;
}

.broken {
  border-color: var(--amber);
}

.otherwise {
  border-color: transparent;
}

.remedies {
  display: flex;
  gap: 14px;
  margin-top: 3px;
}
</style>
