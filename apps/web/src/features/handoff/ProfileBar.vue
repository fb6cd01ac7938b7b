<script setup lang="ts">
// For which target: the profile, and what such a target does.
import { isScene, PROFILE_GROUPS, profileOf, PROFILES, targetOf, type PieceDoc } from '@lithe-sieve/core';
import { ChevronDown } from 'lucide-vue-next';
import { computed, ref, useTemplateRef } from 'vue';
import { usePopoverFocus } from '../../components/popover-focus';
import { usePackActions } from '../../actions/pack-actions';
import { useEngine } from '../../stores/open-piece/open-piece';
import KeptProfiles from './KeptProfiles.vue';
import TargetEditor from './TargetEditor.vue';

const props = defineProps<{ doc: PieceDoc }>();
const { setProfile } = usePackActions();
const open = ref(false);
const inside = useTemplateRef<HTMLElement>('inside');
const button = useTemplateRef<HTMLElement>('button');
usePopoverFocus(open, inside, button);
const engine = useEngine();
const made = computed(() => new Set(engine.maps?.maps.map((m) => m.map)));

const profile = computed(() => profileOf(props.doc.handOff.profile));
const target = computed(() => targetOf(props.doc));
const hasMaterial = computed(() => profile.value.files.some(isScene));

/** Arrow keys press a radio too: those go on through the list. */
function closeIfPressed({ detail }: MouseEvent): void {
  if (detail > 0) open.value = false;
}

const yesOrNo = (is: boolean) => (is ? 'yes' : 'no');
const abilities = computed(() => {
  const { opacity, channel, levels, powerOfTwo, largest, clips, blends, twoSided } = target.value;
  const from = opacity === 'a channel' && channel ? `${channel.file}, ${'RGBA'[channel.channel]}` : opacity;
  return [
    ['opacity', hasMaterial.value ? 'by the material' : from],
    ['levels', levels === 'file' ? 'of the file' : `its own, ${levels}`],
    ['clips', yesOrNo(clips)],
    ['blends', yesOrNo(blends)],
    ['two sides', yesOrNo(twoSided)],
    ['side', `${powerOfTwo ? 'power of two ' : ''}≤ ${largest}`],
  ];
});
</script>

<template>
  <div class="bar">
    <span class="soft">For</span>
    <ElPopover v-model:visible="open" placement="bottom-start" trigger="click" :width="640" :persistent="false">
      <template #reference>
        <button
          ref="button"
          type="button"
          class="chosen"
          aria-haspopup="true"
          :aria-expanded="open"
          data-test="profile"
        >
          {{ profile.label }} <ChevronDown :size="15" />
        </button>
      </template>
      <div ref="inside" @keydown.esc.stop="open = false">
        <div class="profiles" role="radiogroup" aria-label="Profile">
          <template v-for="group in PROFILE_GROUPS" :key="group">
            <h3>{{ group }}</h3>
            <label
              v-for="p in PROFILES.filter((one) => one.group === group)"
              :key="p.id"
              class="profile"
              :class="{ on: p.id === doc.handOff.profile }"
            >
              <input
                type="radio"
                name="profile"
                :value="p.id"
                :checked="p.id === doc.handOff.profile"
                :data-test="`profile-${p.id}`"
                @change="setProfile(p.id)"
                @click="closeIfPressed"
                @keydown.enter.prevent.stop="open = false"
              />
              <span
                ><strong>{{ p.label }}</strong
                ><span class="soft">{{ p.hint }}</span></span
              >
            </label>
          </template>
        </div>
        <KeptProfiles :doc="doc" :made="made" />
      </div>
    </ElPopover>
    <TargetEditor v-if="doc.handOff.profile === 'own-packing'" :target="target" :doc="doc" />
    <dl>
      <template v-for="[name, value] in abilities" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ value }}</dd>
      </template>
    </dl>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 8px 18px;
  border-bottom: 1px solid var(--rule);
  background: var(--paper-deep);
}

.chosen {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 6px 10px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: var(--paper-high);
  color: inherit;
  font: inherit;
  font-weight: 650;
  white-space: nowrap;
  cursor: pointer;
}

dl {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  justify-content: flex-end;
  margin: 0 0 0 auto;
  font-size: 12px;
}

dt {
  margin-right: -9px;
  color: var(--ink-soft);
}

dd {
  margin: 0;
  font-weight: 600;
}

.profiles {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 10px;
  max-height: 52vh;
  overflow-y: auto;
}

.profiles h3 {
  grid-column: 1 / -1;
  margin: 8px 8px 2px;
  font-size: 12px;
  font-weight: 600;
  color: var(--ink-soft);
}

.profiles h3:first-child {
  margin-top: 0;
}

.profile {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 5px 8px;
  border-left: 3px solid transparent;
  line-height: 1.35;
  text-align: left;
  cursor: pointer;
}

.profile.on {
  border-color: var(--green);
  background: var(--green-pale);
}

.profile > span {
  display: grid;
}

.profile input {
  accent-color: var(--green);
}
</style>
