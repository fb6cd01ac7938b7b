<script setup lang="ts">
// What the target of a packing of one's own does: where it takes opacity from, who makes its levels, what it can do.
import {
  MIP_FILTERS,
  OPACITY_FROM,
  PACKED_AS,
  PACKING_AT_FIRST,
  TARGET_SIDES,
  type OpacityFrom,
  type PieceDoc,
  type Target,
} from '@lithe-sieve/core';
import { computed, ref, useTemplateRef } from 'vue';
import { usePopoverFocus } from '../../components/popover-focus';
import { usePackActions } from '../../actions/pack-actions';

const props = defineProps<{ target: Target; doc: PieceDoc }>();
const { setTarget } = usePackActions();

const open = ref(false);
usePopoverFocus(open, useTemplateRef<HTMLElement>('inside'), useTemplateRef<HTMLElement>('button'));

const set = (values: Partial<Target>, what: string) => setTarget({ ...props.target, ...values }, what);

/** Every channel of every packed file, the last of the first: where opacity mostly is. */
const channels = computed(() => {
  const { packing = PACKING_AT_FIRST } = props.doc.handOff;
  return packing.flatMap(({ name, as }) =>
    PACKED_AS[as].map((letter, channel) => ({ file: name, channel, label: `${name}, ${letter}` })),
  );
});
const keyOf = ({ file, channel }: { file: string; channel: number }) => `${file} ${channel}`;

function setOpacity(opacity: OpacityFrom): void {
  const { channel = channels.value.at(-1) } = props.target;
  const own = opacity === 'a channel' && channel ? { channel: { file: channel.file, channel: channel.channel } } : {};
  set({ opacity, ...own }, `opacity from ${opacity}`);
}

function setChannel(key: string): void {
  const one = channels.value.find((c) => keyOf(c) === key);
  if (one) set({ channel: { file: one.file, channel: one.channel } }, `opacity from ${one.label}`);
}

const SWITCHES = [
  ['clips', 'Clips'],
  ['blends', 'Blends'],
  ['twoSided', 'Shows both sides'],
  ['powerOfTwo', 'Needs powers of two'],
] as const;
</script>

<template>
  <ElPopover v-model:visible="open" placement="bottom-start" trigger="click" :width="340" :persistent="false">
    <template #reference>
      <button ref="button" type="button" class="link" data-test="edit-target">What it does</button>
    </template>
    <div ref="inside" class="target" data-test="target" @keydown.esc.stop="open = false">
      <span>Takes opacity from</span>
      <ElSelect
        :model-value="target.opacity"
        size="small"
        :teleported="false"
        aria-label="Takes opacity from"
        data-test="opacity-from"
        @change="setOpacity"
      >
        <ElOption v-for="way in OPACITY_FROM" :key="way" :value="way" :label="way" />
      </ElSelect>
      <template v-if="target.opacity === 'a channel'">
        <span>Which one</span>
        <ElSelect
          :model-value="target.channel && keyOf(target.channel)"
          size="small"
          :teleported="false"
          aria-label="Channel that opacity is taken from"
          data-test="opacity-channel"
          @change="setChannel"
        >
          <ElOption v-for="c in channels" :key="keyOf(c)" :value="keyOf(c)" :label="c.label" />
        </ElSelect>
      </template>
      <span>Makes levels by</span>
      <ElSelect
        :model-value="target.levels"
        size="small"
        :teleported="false"
        aria-label="Makes levels by"
        @change="(levels: Target['levels']) => set({ levels }, `levels by ${levels}`)"
      >
        <ElOption v-for="filter in MIP_FILTERS" :key="filter" :value="filter" :label="filter" />
      </ElSelect>
      <span>Largest side</span>
      <ElSelect
        :model-value="target.largest"
        size="small"
        :teleported="false"
        aria-label="Largest side"
        data-test="largest"
        @change="(largest: number) => set({ largest }, `largest side ${largest}`)"
      >
        <ElOption v-for="side in TARGET_SIDES" :key="side" :value="side" :label="String(side)" />
      </ElSelect>
      <ElCheckbox
        v-for="[key, label] in SWITCHES"
        :key="key"
        :model-value="target[key]"
        size="small"
        @change="set({ [key]: Boolean($event) }, `${label.toLowerCase()}: ${$event ? 'yes' : 'no'}`)"
        >{{ label }}</ElCheckbox
      >
    </div>
  </ElPopover>
</template>

<style scoped>
.link {
  padding: 0;
  border: 0;
  background: none;
  color: var(--green);
  font: inherit;
  text-decoration: underline;
  white-space: nowrap;
  cursor: pointer;
}

.target {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 6px 10px;
  align-items: center;
}
</style>
