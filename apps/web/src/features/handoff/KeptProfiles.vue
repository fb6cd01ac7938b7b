<script setup lang="ts">
// Profiles of one's own that the studio keeps by name; written to a file and brought in from one.
import { MOST_PROFILES, type KeptProfile } from '@lithe-sieve/contract';
import { packingOf, targetOf, toPlainError, type MapName, type PieceDoc } from '@lithe-sieve/core';
import { computed, ref } from 'vue';
import { usePackActions } from '../../actions/pack-actions';
import { PROFILES_API } from '../../api/kept.api';
import KeptThings from '../../components/KeptThings.vue';
import { makeId } from '../../document/ids';
import { chooseFiles } from '../../stores/files';
import { saveFile } from '../../components/save-file';
import { profileFile, profileSchemaFile, readProfileFile } from './profile-file';

const props = defineProps<{ doc: PieceDoc; made: ReadonlySet<MapName> }>();
const { takeProfile, duplicate } = usePackActions();
const trouble = ref('');
/** Counts up, so that the list is asked for again. */
const lists = ref(0);

const isOwn = computed(() => props.doc.handOff.profile === 'own-packing');
const canDuplicate = computed(() => !isOwn.value && packingOf(props.doc, props.made) !== null);

function now(): KeptProfile {
  const { pattern, naming, green, budget } = props.doc.handOff;
  const packing = packingOf(props.doc, props.made)!;
  return {
    packing,
    target: { ...targetOf(props.doc) },
    pattern,
    green,
    ...(naming ? { naming } : {}),
    ...(budget ? { budget } : {}),
  };
}

async function bringIn(): Promise<void> {
  trouble.value = '';
  const [file] = await chooseFiles('.json,application/json', false);
  if (!file) return;
  try {
    const { name, profile } = await readProfileFile(file);
    await PROFILES_API.keep({ id: makeId(), name, held: profile });
    lists.value++;
    takeProfile(profile, name);
  } catch (error) {
    trouble.value = toPlainError(error).message;
  }
}

const fileNameOf = (name: string) => `${name.replace(/[^A-Za-z0-9._-]+/g, '-')}.profile.json`;
</script>

<template>
  <div class="own">
    <p v-if="canDuplicate">
      <button type="button" class="linked" data-test="duplicate-profile" @click="duplicate(made)">
        Duplicate it and change it
      </button>
    </p>
    <h3>Kept in the studio</h3>
    <KeptThings
      :key="lists"
      :api="PROFILES_API"
      what="profile"
      :most="MOST_PROFILES"
      :now="isOwn ? now : null"
      @take="takeProfile"
    >
      <template #more="{ held, called }">
        <button
          type="button"
          class="linked small"
          :aria-label="`Write ${called} to a file`"
          data-test="profile-to-file"
          @click="saveFile(profileFile(called, held), fileNameOf(called))"
        >
          to a file
        </button>
      </template>
    </KeptThings>
    <p v-if="trouble" class="bad" role="alert" data-test="profile-file-trouble">{{ trouble }}</p>
    <p class="line">
      <button type="button" class="linked" data-test="profile-from-file" @click="bringIn">
        Bring one in from a file
      </button>
      <button type="button" class="linked" @click="saveFile(profileSchemaFile(), 'profile.schema.json')">
        How such a file is made up
      </button>
    </p>
  </div>
</template>

<style scoped>
.own {
  margin-top: 8px;
  padding: 8px 8px 0;
  border-top: 1px solid var(--rule);
  text-align: left;
}

h3 {
  font-size: 12.5px;
  font-weight: 600;
}

.line {
  display: flex;
  gap: 18px;
}

.small {
  font-size: 11px;
}

.bad {
  color: var(--red);
}
</style>
