<script setup lang="ts">
import {
  drawnStrands,
  recipeKind,
  recipeShapes,
  RECIPE_SEED,
  RECIPE_SIDE,
  type Range,
  type SourceRef,
} from '@lithe-sieve/core';
import { Dices } from 'lucide-vue-next';
import { computed } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import NumberField from '../../components/NumberField.vue';
import type { AnyField } from '../run/forms/fields';
import { isPlain } from '../run/forms/fields';
import PlainField from '../run/forms/PlainField.vue';
import AtlasParts from './AtlasParts.vue';
import ColoursOfPiece from './ColoursOfPiece.vue';
import GuideList from './GuideList.vue';
import HandOnRecipe from './HandOnRecipe.vue';
import PartList from './PartList.vue';
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
    fields: fields.filter(isPlain).filter((f: AnyField) => f.when?.(params.value, 1) ?? true),
  })),
);
/** Where strands would be too thin to be seen. */
const fewer = computed(() => {
  const { kind: name, params: strands, width } = recipe.value;
  if (name !== 'strands') return '';
  const { count } = drawnStrands(strands, width);
  return count < strands.strands
    ? `${count} strands of ${strands.least} texels are drawn instead: they cover as much.`
    : '';
});
/** Where each change takes long. */
const MANY = 300_000;
const SECONDS_PER_MILLION = 4;
const cost = computed(() => {
  const millions = recipeShapes(recipe.value) / 1e6;
  if (millions * 1e6 < MANY) return '';
  return `Up to ${millions.toFixed(1)} million shapes: each change takes about ${Math.ceil(millions * SECONDS_PER_MILLION)} s.`;
});
const rangeOf = (name: string) => (kind.value.ranges as Record<string, Range>)[name];
</script>

<template>
  <h2>{{ source.fileName }}</h2>
  <p class="soft hint">{{ kind.label }}: {{ kind.hint }}</p>
  <p v-if="cost" class="soft hint" data-test="recipe-cost">{{ cost }}</p>
  <p v-if="recipe.version < kind.version" data-test="newer-version">
    There is a version {{ kind.version }}. {{ kind.better }}
    <button type="button" class="linked" @click="actions.takeNewest(source)">Use it</button>
  </p>
  <div v-if="recipe.kind !== 'atlas'" class="seed">
    <span>Seed</span>
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
  <AtlasParts v-if="recipe.kind === 'atlas'" :source="source" :params="recipe.params" />
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
  <ColoursOfPiece v-if="recipe.kind !== 'atlas'" :source="source" />
  <PartList v-if="kind.mostParts && recipe.kind !== 'atlas'" :source="source" :most="kind.mostParts" />
  <PinnedBlades v-if="recipe.kind === 'tuft'" :source="source" :params="recipe.params" />
  <GuideList v-if="recipe.kind === 'strands'" :source="source" :params="recipe.params" />
  <HandOnRecipe :source="source" />
  <p v-if="fewer" class="soft" role="status">{{ fewer }}</p>
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

<style scoped src="./recipe-lists.css"></style>
<style scoped>
.seed,
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin: 4px 0 10px;
}
</style>
