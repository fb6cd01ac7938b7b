<script setup lang="ts">
// Where a picture without a mask begins: masks that were found for it, and what worked for other pictures.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import CutOut from '../../components/CutOut.vue';
import { differenceOf } from '../../components/cut-out';
import { whilePointed } from '../../components/pointed';
import TroubleNote from '../../components/TroubleNote.vue';
import { useStartActions } from '../../actions/start-actions';
import { usePiece, useProposals } from '../../stores/open-piece/open-piece';
import type { ShownProposal } from '../../stores/open-piece/proposals';
import KeptStarts from './KeptStarts.vue';

const piece = usePiece();
const proposals = useProposals();
const actions = useStartActions();
const { leftOut } = actions;

/** Masks are held against the one that is pointed at, else the likeliest. */
const pointed = ref<string | null>(null);
const marksDifference = ref(true);
const list = computed(() => proposals.now?.likeliest ?? []);
const against = computed(() => list.value.find(({ key }) => key === pointed.value) ?? list.value[0]);
const isRecipe = computed(() => Boolean(piece.sources[0]?.recipe));

let endLook: () => void = () => undefined;
onMounted(() => (endLook = proposals.look()));
onBeforeUnmount(() => {
  actions.showNone();
  endLook();
});

function point(proposal: ShownProposal): void {
  pointed.value = proposal.key;
  actions.showProposal(proposal);
}

function leave(): void {
  pointed.value = null;
  actions.showNone();
}

/** In words, how far it is from the one that it is held against. */
function differs(proposal: ShownProposal): string {
  if (!against.value || proposal === against.value) return '';
  const percent = 100 * differenceOf(proposal.mask, against.value.mask);
  return `differs in ${percent < 1 ? 'under 1' : Math.round(percent)} %`;
}

/** Arrows go from picture to picture, two to a row. */
function onKey(event: KeyboardEvent): void {
  const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 2, ArrowUp: -2 }[event.key];
  if (!step) return;
  const all = Array.from((event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button'));
  all[all.indexOf(document.activeElement as HTMLElement) + step]?.focus();
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <h2>Start from…</h2>
  <p v-if="isRecipe" class="soft hint">This picture is grown from a recipe, which brings its own mask.</p>
  <template v-else>
    <p class="soft hint said">Point at a mask to see it on Sheet and Stand; press it to take its steps.</p>
    <p v-if="proposals.busy" class="soft" role="status" data-test="proposing">Looking for masks…</p>
    <TroubleNote v-else-if="proposals.failure" v-bind="proposals.failure">
      <ElButton size="small" @click="proposals.tryAgain()">Try again</ElButton>
    </TroubleNote>
    <p v-else-if="proposals.now && list.length === 0" role="status" data-test="no-proposals">
      Nothing in this picture parts a subject from what lies behind it. Scribble on both, insert another mask step, or
      bring in a mask picture.
    </p>
    <div
      v-if="list.length > 0 && proposals.now"
      class="pictures"
      role="group"
      aria-label="Masks found for this picture"
      @keydown="onKey"
    >
      <button
        v-for="proposal in list"
        :key="proposal.key"
        type="button"
        class="proposal"
        data-test="proposal"
        :aria-label="`${proposal.title}: ${proposal.reason}`"
        v-bind="whilePointed(() => point(proposal), leave)"
        @click="actions.takeProposal(proposal)"
      >
        <CutOut
          :picture="proposals.now.picture"
          :mask="proposal.mask"
          :other="marksDifference && pointed && against && against !== proposal ? against.mask : null"
        />
        <strong>{{ proposal.title }}</strong>
        <span class="soft">{{ differs(proposal) }}</span>
      </button>
    </div>
    <p v-if="against" class="reason" data-test="reason">{{ pointed ? '' : 'Likeliest: ' }}{{ against.reason }}</p>
    <label v-if="list.length > 1" class="switch">
      <ElSwitch v-model="marksDifference" size="small" />
      Mark what others keep <i class="more" />more, <i class="less" />less
    </label>
  </template>
  <KeptStarts
    :shown="actions.showStart"
    :hidden="actions.showNone"
    @take="(start, name) => void actions.takeKept(start, name)"
  />
  <p v-if="leftOut.length > 0" role="status" class="soft" data-test="left-out">
    Left out, because it belongs to the other picture: {{ leftOut.join(', ') }}.
  </p>
</template>

<style scoped>
.said {
  margin-bottom: 8px;
}

.pictures {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.proposal {
  display: flex;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
  padding: 4px;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  font-size: 11.5px;
  line-height: 1.3;
  text-align: left;
  cursor: pointer;
}

.proposal:hover,
.proposal:focus-visible {
  border-color: var(--green);
}

.reason {
  min-height: 2.6em;
  margin: 6px 0 0;
  font-size: 12px;
  line-height: 1.3;
}

.switch {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 5px;
  margin-top: 8px;
  font-size: 11.5px;
}

i {
  width: 9px;
  height: 9px;
  border-radius: 2px;
}

.more {
  background: rgb(42 150 214);
}

.less {
  background: rgb(226 88 62);
}
</style>
