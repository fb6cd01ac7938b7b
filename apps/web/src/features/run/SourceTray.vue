<script setup lang="ts">
import { SOURCE_ROLES, stepKind, type Channel, type SourceRef, type SourceRole } from '@lithe-sieve/core';
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useSourceActions } from '../../actions/source-actions';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import { useBenchStore } from '../../stores/bench.store';
import { ACCEPTED, useBringInStore } from '../../stores/bring-in.store';
import { filesOf } from '../../stores/files';
import { useFollowStore } from '../../stores/follow.store';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { Thumb } from '../../workers/types';
import FollowDialog from '../follow/FollowDialog.vue';
import FollowedFile from '../follow/FollowedFile.vue';

const props = defineProps<{ source: SourceRef }>();
const piece = usePiece();
const bench = useBenchStore();
const engine = useEngine();
const bringIn = useBringInStore();
const follow = useFollowStore();
const following = ref(false);
const chooser = useTemplateRef<HTMLInputElement>('chooser');

const facts = computed(() => piece.facts.get(props.source.sha256));
/** The size of the colour picture, where this source has another one and is not placed on it. */
const otherSize = computed(() => {
  const [first] = piece.sources;
  const colour = first && piece.facts.get(first.sha256);
  const own = facts.value;
  if (!colour || !own || props.source.place || (colour.width === own.width && colour.height === own.height)) return '';
  return `${colour.width} × ${colour.height}`;
});
const isColour = computed(() => piece.sources[0]?.id === props.source.id);
const usedBy = computed(
  () =>
    piece.run.filter((s) =>
      stepKind(s.kind)
        .reads?.(s.params)
        .some((r) => r.id === props.source.id),
    ).length,
);
const isLevel = computed(() => piece.doc?.levels.replaced.some((r) => r.sourceId === props.source.id));
const use = computed(() => {
  if (usedBy.value > 0) return `Read by ${usedBy.value} step${usedBy.value > 1 ? 's' : ''} of the run.`;
  if (isLevel.value) return 'It takes the place of a mip level.';
  return 'No step of the run reads it yet: insert “From channel”.';
});

const CHANNEL_WORDS = { 1: 'grey', 2: 'grey + alpha', 3: 'RGB', 4: 'RGB + alpha' } as const;
const ALPHA_WORDS = {
  none: 'none in the file',
  present: 'present',
  opaque: 'there, but all opaque: it was probably not saved',
  transparent: 'there, but all transparent',
} as const;

const actions = useSourceActions();
const setRole = (role: SourceRole) => actions.setRole(props.source, role);
const makeColour = () => actions.makeColour(props.source);

function replace(event: Event): void {
  const input = event.target as HTMLInputElement;
  const [file] = filesOf(input.files);
  if (file) void bringIn.replace(props.source.id, file);
  input.value = '';
}

/** A picture of each channel that the file has. */
const channels = shallowRef<{ name: Channel | 'grey'; thumb: Thumb }[]>([]);
watch(
  () => [props.source.sha256, engine.sourceThumbs.has(props.source.sha256)] as const,
  async ([sha256]) => {
    const found = await engine.engine().channelThumbs(sha256);
    if (props.source.sha256 !== sha256) return;
    const alpha = facts.value?.channels === 4 || facts.value?.channels === 2;
    const grey = (facts.value?.channels ?? 0) < 3;
    channels.value = found
      .filter((c) => (c.name === 'alpha' ? alpha : !grey || c.name === 'red'))
      .map((c) => (grey && c.name === 'red' ? { ...c, name: 'grey' } : c));
  },
  { immediate: true },
);

function remove(): void {
  actions.remove(props.source);
  bench.selection = { kind: 'material' };
}
</script>

<template>
  <h2>{{ source.fileName }}</h2>
  <p class="soft hint">
    {{ isColour ? 'The colour picture of this piece, kept as it came.' : 'A further source, kept as it came.' }} The
    Sheet shows it while it is selected.
  </p>
  <label v-if="!isColour" class="role">
    <span>Used as</span>
    <ElSelect
      :model-value="source.role ?? 'reference'"
      size="small"
      aria-label="What the source is for"
      data-test="role"
      @change="setRole"
    >
      <ElOption v-for="r in SOURCE_ROLES.slice(1)" :key="r" :value="r" :label="r" />
    </ElSelect>
  </label>
  <dl v-if="facts" data-test="facts">
    <dt>Size</dt>
    <dd>
      {{ facts.width }} × {{ facts.height }}
      <span v-if="otherSize" class="warn" data-test="other-size">colour: {{ otherSize }}</span>
    </dd>
    <dt>Kind</dt>
    <dd>{{ facts.format.toUpperCase() }}{{ facts.palette ? ', palette' : '' }}</dd>
    <dt>Channels</dt>
    <dd>{{ CHANNEL_WORDS[facts.channels] }}</dd>
    <dt>Bit depth</dt>
    <dd>{{ facts.bitDepth }} a channel</dd>
    <dt>Alpha</dt>
    <dd :class="{ warn: facts.alpha === 'opaque' || facts.alpha === 'transparent' }">{{ ALPHA_WORDS[facts.alpha] }}</dd>
    <dt>Border</dt>
    <dd>
      <i :style="{ background: `rgb(${facts.border.colour.join()})` }" /> {{ Math.round(100 * facts.border.share) }} %
      uniform
    </dd>
  </dl>
  <ul v-if="channels.length" class="channels">
    <li v-for="c in channels" :key="c.name">
      <ThumbCanvas :thumb="c.thumb" /><span>{{ c.name }}</span>
    </li>
  </ul>
  <p v-for="note in facts?.notes" :key="note" class="soft">{{ note }}</p>
  <p v-if="!isColour" class="soft">{{ use }}</p>
  <FollowedFile v-if="source.follows" :path="source.follows" :sha256="source.sha256" same="Only its texels changed." />
  <div class="tools">
    <ElButton size="small" @click="chooser?.click()">Replace the file…</ElButton>
    <input ref="chooser" type="file" hidden :accept="ACCEPTED" data-test="replace-chooser" @change="replace" />
    <ElButton v-if="source.follows" size="small" @click="follow.unfollow(source.id)">Stop following</ElButton>
    <ElButton v-else size="small" data-test="follow" @click="following = true">Follow a file on disk…</ElButton>
    <FollowDialog v-model="following" :file-name="source.fileName" @choose="follow.follow(source.id, $event)" />
    <ElButton v-if="!isColour" size="small" @click="makeColour">Make it the colour picture</ElButton>
    <ElButton size="small" :disabled="piece.sources.length < 2" @click="remove">Remove from the piece</ElButton>
  </div>
</template>

<style scoped>
.role {
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}

.role span {
  color: var(--ink-soft);
}

.channels {
  display: flex;
  gap: 6px;
  margin: 0 0 10px;
  padding: 0;
  list-style: none;
  font-size: 11px;
  text-align: center;
}

.channels canvas {
  display: block;
  width: 54px;
  height: 54px;
  object-fit: contain;
  background: #000;
}

h2 {
  font-size: 15px;
  font-weight: 650;
  overflow-wrap: anywhere;
}

.hint {
  margin-bottom: 12px;
}

dl {
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 5px 8px;
  margin: 0 0 12px;
}

dt {
  color: var(--ink-soft);
}

dd {
  margin: 0;
}

dd i {
  display: inline-block;
  width: 22px;
  height: 13px;
  margin-right: 4px;
  vertical-align: -2px;
  border-radius: 2px;
  outline: 1px solid #0003;
}

.warn {
  color: var(--amber);
  font-weight: 600;
}

.tools {
  display: grid;
  gap: 6px;
  justify-items: start;
  margin-top: 12px;
}

.tools .el-button {
  margin: 0;
}
</style>
