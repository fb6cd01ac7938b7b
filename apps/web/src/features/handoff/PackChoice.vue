<script setup lang="ts">
import {
  EFFORTS,
  GREEN_WAYS,
  isPicture,
  isScene,
  isTexture,
  SCENE_SPACE,
  SCENE_UNITS,
  TEXTURE_CONTAINERS,
  UP_AXES,
  type SceneUnit,
  PACKING_AT_FIRST,
  profileOf,
  type Effort,
  type GreenWay,
  type PieceDoc,
  type ProfileId,
} from '@lithe-sieve/core';
import { saveFile } from '../../components/save-file';
import { descriptionSchemaFile } from './profile-file';
import ChoiceRow from './ChoiceRow.vue';
import PackingEditor from './PackingEditor.vue';
import { computed } from 'vue';
import { usePackActions } from '../../actions/pack-actions';
import NameFields from './NameFields.vue';

/** How files are packed and named. */
const props = defineProps<{ doc: PieceDoc }>();
const handOff = computed(() => props.doc.handOff);
const { setSpace, setContainer, setGreen, setEffort, setSway } = usePackActions();

const GREEN_NAMES: Record<GreenWay, string> = { OpenGL: 'up (OpenGL)', DirectX: 'down (DirectX)' };
/** Formats whose blocks have two colours that can be sought longer. */
const hasEffort = (id: ProfileId) =>
  profileOf(id).files.some((f) => isTexture(f) && (f.texels === 'BC1' || f.texels === 'BC3'));
const asThemselves = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));
/** Of glTF both are fixed. */
const hasSpace = (id: ProfileId) => profileOf(id).files.some((f) => ['usda', 'usdz', 'obj'].includes(f.extension));
const space = computed(() => handOff.value.space ?? SCENE_SPACE);
const hasTexture = (id: ProfileId) => profileOf(id).files.some(isTexture);
const EFFORT_HINTS: Record<Effort, string> = {
  quick: 'Colours of each block by one fit.',
  fine: 'A search around that fit: 5 to 10 % less error, ten to fifteen times as long.',
};
const hasMesh = (id: ProfileId) =>
  profileOf(id).files.some((f) => ['glb', 'gltf', 'usda', 'usdz'].includes(f.extension));
const holdsNormals = (id: ProfileId) =>
  id === 'own-packing' || profileOf(id).files.some((f) => f.holds === 'normal' && isPicture(f) && !f.forGltf);
</script>

<template>
  <ChoiceRow
    v-if="holdsNormals(handOff.profile)"
    label="Green of normals points"
    :value="handOff.green"
    :options="GREEN_WAYS.map((value) => ({ value, label: GREEN_NAMES[value] }))"
    data-test="green"
    @choose="setGreen"
  />
  <ChoiceRow
    v-if="hasEffort(handOff.profile)"
    label="Colours of blocks"
    :value="handOff.effort ?? 'quick'"
    :options="asThemselves(EFFORTS)"
    :hint="EFFORT_HINTS[handOff.effort ?? 'quick']"
    data-test="effort"
    @choose="setEffort"
  />
  <template v-if="hasSpace(handOff.profile)">
    <ChoiceRow
      label="Unit"
      :value="space.unit"
      :options="asThemselves(Object.keys(SCENE_UNITS) as SceneUnit[])"
      data-test="unit"
      @choose="setSpace({ ...space, unit: $event })"
    />
    <ChoiceRow
      label="Which axis is up"
      :value="space.up"
      :options="UP_AXES.map((value) => ({ value, label: `${value} up` }))"
      data-test="up-axis"
      @choose="setSpace({ ...space, up: $event })"
    />
  </template>
  <ChoiceRow
    v-if="hasTexture(handOff.profile)"
    label="Levels are written into a"
    :value="handOff.container ?? 'DDS'"
    :options="asThemselves(TEXTURE_CONTAINERS)"
    data-test="container"
    @choose="setContainer"
  />
  <PackingEditor v-if="handOff.profile === 'own-packing'" :packing="handOff.packing ?? PACKING_AT_FIRST" />
  <label v-if="hasMesh(handOff.profile)" class="pattern">
    <span>Root to tip in the vertices</span>
    <ElSwitch
      :model-value="handOff.sway ?? false"
      aria-label="Root to tip in the vertices"
      data-test="sway"
      @change="setSway(Boolean($event))"
    />
    <span class="soft">A value of each vertex, 0 at the root and 1 at the tip: what a shader sways by.</span>
  </label>
  <p v-if="handOff.profile === 'described'" class="pattern">
    <button
      type="button"
      class="linked"
      data-test="description-schema"
      @click="saveFile(descriptionSchemaFile(), 'material.schema.json')"
    >
      The schema of the description, as a file
    </button>
  </p>
  <NameFields :doc="doc" :has-scene="profileOf(handOff.profile).files.some(isScene)" />
</template>

<style scoped>
.pattern {
  display: grid;
  gap: 4px;
  margin-top: 12px;
}
</style>
