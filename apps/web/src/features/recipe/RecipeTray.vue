<script setup lang="ts">
import { recipeKind, RECIPE_SEED, RECIPE_SIDE, type Range, type SourceRef } from '@lithe-sieve/core';
import { Dices } from 'lucide-vue-next';
import { computed } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import NumberField from '../../components/NumberField.vue';
import type { AnyField } from '../run/forms/fields';
import { isPlain } from '../run/forms/fields';
import PlainField from '../run/forms/PlainField.vue';
import PinnedBlades from './PinnedBlades.vue';
import { RECIPE_FIELDS } from './recipe-fields';

const props = defineProps<{ source: SourceRef }>();
const actions = useRecipeActions();

const recipe = computed(() => props.source.recipe!);
const kind = computed(() => recipeKind(recipe.value.kind));
const params = computed(() => recipe.value.params as unknown as Record<string, never>);
const groups = computed(() =>
  RECIPE_FIELDS[recipe.value.kind].map(({ title, fields }) => ({
    title,
    fields: fields.filter(isPlain).filter((f: AnyField) => f.when?.(params.value) ?? true),
  })),
);
const rangeOf = (name: string) => (kind.value.ranges as Record<string, Range>)[name];
</script>

<template>
  <h2>{{ source.fileName }}</h2>
  <p class="soft hint">{{ kind.label }}: {{ kind.hint }}</p>
  <div class="seed">
    <NumberField
      :model-value="recipe.seed"
      v-bind="RECIPE_SEED"
      label="Seed"
      @commit="actions.setFrame(source, { seed: $event }, `seed ${$event}`)"
    />
    <ElButton size="small" data-test="reseed" @click="actions.reseed(source)"
      ><Dices :size="14" class="lead" />Reseed</ElButton
    >
  </div>
  <details v-for="({ title, fields }, i) in groups" :key="title" :open="i === 0">
    <summary>{{ title }}</summary>
    <PlainField
      v-for="field in fields"
      :key="'name' in field ? field.name : ''"
      :field="field"
      :params="params"
      :range="'name' in field ? rangeOf(field.name) : undefined"
      @preview="actions.preview(source, $event)"
      @commit="(p, what) => actions.set(source, p, what)"
    />
  </details>
  <PinnedBlades v-if="recipe.kind === 'tuft'" :source="source" :params="recipe.params" />
  <details>
    <summary>Size</summary>
    <div v-for="side in ['width', 'height'] as const" :key="side" class="line">
      <span>{{ side === 'width' ? 'Width, texels' : 'Height, texels' }}</span>
      <NumberField
        :model-value="recipe[side]"
        v-bind="RECIPE_SIDE"
        :label="side === 'width' ? 'Width, texels' : 'Height, texels'"
        @commit="actions.setFrame(source, { [side]: $event }, `${side} ${$event}`)"
      />
    </div>
  </details>
</template>

<style scoped>
.seed,
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin: 4px 0 10px;
}

details {
  border-top: 1px solid var(--rule);
}

summary {
  padding: 6px 0;
  font-weight: 600;
  cursor: pointer;
}

.lead {
  margin-right: 5px;
}
</style>
