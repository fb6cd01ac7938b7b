<script setup lang="ts">
// How files, materials and meshes are called, and by which words.
import {
  assertParts,
  assertPattern,
  NAME_LIMITS,
  NAME_PARTS,
  NAME_WORDS,
  NAMED_STATES,
  sceneName,
  SCENE_PATTERN,
  toPlainError,
  type NamedState,
  type PieceDoc,
} from '@lithe-sieve/core';
import { computed } from 'vue';
import { usePackActions } from '../../actions/pack-actions';
import TextField from '../../components/TextField.vue';
import { useEngine } from '../../stores/open-piece/open-piece';
import { useNameFacts } from './name-facts';

const props = defineProps<{ doc: PieceDoc; hasScene: boolean }>();
const engine = useEngine();
const facts = useNameFacts();
const { setPattern, setNaming } = usePackActions();
const naming = computed(() => props.doc.handOff.naming ?? {});

function lackOf(check: () => void): string {
  try {
    check();
    return '';
  } catch (error) {
    const { message, remedy } = toPlainError(error);
    return `${message} ${remedy}`;
  }
}
const lackOfPattern = (pattern: string) =>
  pattern.trim() ? lackOf(() => assertPattern({ ...props.doc, handOff: { ...props.doc.handOff, pattern } })) : 'A file needs a name.'; // prettier-ignore
const lackOfName = (pattern: string) => (pattern.trim() ? lackOf(() => assertParts(pattern)) : 'It needs a name.');
const lackOfWord = (word: string) =>
  /^[A-Za-z0-9._-]*$/.test(word) && word.length <= NAME_LIMITS.word ? '' : `Letters, digits, _ - . alone, ${NAME_LIMITS.word} at the most.`; // prettier-ignore

/** An emptied word is the usual one again. */
function setWord(state: NamedState, word: string): void {
  setNaming(
    { words: { ...naming.value.words, [state]: word || undefined } },
    `${state} is ${word || NAME_WORDS[state]}`,
  );
}
const example = (what: 'material' | 'mesh') =>
  engine.size ? sceneName(props.doc, what, { size: engine.size, facts: facts.value }) : '';
</script>

<template>
  <label class="row">
    <span>File names</span>
    <TextField
      :model-value="doc.handOff.pattern"
      label="File name pattern"
      :lack="lackOfPattern"
      data-test="pattern"
      @commit="setPattern"
    />
    <span class="soft">Parts: {{ NAME_PARTS.join('  ') }}</span>
  </label>
  <template v-if="hasScene">
    <label v-for="what in ['material', 'mesh'] as const" :key="what" class="row">
      <span>Name of the {{ what }}</span>
      <TextField
        :model-value="naming[what] ?? SCENE_PATTERN"
        :label="`Name of the ${what}`"
        :lack="lackOfName"
        :data-test="`name-${what}`"
        @commit="setNaming({ [what]: $event }, `${what} ${$event}`)"
      />
      <span class="soft" :data-test="`example-${what}`">{{ example(what) }}</span>
    </label>
  </template>
  <details>
    <summary class="soft" data-test="name-words">Words of {mode} and {sides}</summary>
    <div class="words">
      <label v-for="state in NAMED_STATES" :key="state">
        <span class="soft">{{ state }}</span>
        <TextField
          :model-value="naming.words?.[state] ?? NAME_WORDS[state]"
          :label="`Word for ${state}`"
          :lack="lackOfWord"
          :data-test="`word-${state}`"
          @commit="setWord(state, $event)"
        />
      </label>
    </div>
  </details>
</template>

<style scoped>
.row {
  display: grid;
  gap: 4px;
  margin-top: 12px;
}

details {
  margin-top: 8px;
  font-size: 12.5px;
}

summary {
  cursor: pointer;
}

.words {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 6px 10px;
  margin-top: 6px;
}
</style>
