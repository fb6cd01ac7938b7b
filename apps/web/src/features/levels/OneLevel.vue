<script setup lang="ts">
import type { LevelSettings } from '@lithe-sieve/core';
import { computed, onBeforeUnmount, ref } from 'vue';
import { useLevelActions } from '../../actions/level-actions';
import ListLine from '../../components/ListLine.vue';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, usePiece } from '../../stores/open-piece/open-piece';

/** One level by itself: a source in its place, or paint on it. */
const props = defineProps<{ levels: LevelSettings }>();
const clip = useClip();
const bench = useBenchStore();
const piece = usePiece();
const actions = useLevelActions();

/** Longer side up to which single texels are painted. */
const MOST_SIDE = 512;
const MADE = '(made)';

const sizes = computed(
  () => clip.levels?.slice(1).map(({ width, height }, i) => ({ level: i + 1, width, height })) ?? [],
);
const chosen = ref<number | null>(null);
const one = computed(() => {
  const first = sizes.value.find((s) => Math.max(s.width, s.height) <= 64) ?? sizes.value[0];
  return sizes.value.find((s) => s.level === chosen.value) ?? first ?? null;
});
const source = computed(() => props.levels.replaced.find((r) => r.level === one.value?.level)?.sourceId ?? MADE);
const origins = computed(() => [
  { value: MADE, label: 'the level before' },
  ...piece.sources.slice(1).map((s) => ({ value: s.id, label: s.fileName })),
]);
const isGone = computed(() => source.value !== MADE && !piece.sources.some((s) => s.id === source.value));
const paint = computed(() => props.levels.painted.find((p) => p.level === one.value?.level));
const fits = computed(() => paint.value?.width === one.value?.width && paint.value?.height === one.value?.height);
const canPaint = computed(() => one.value && Math.max(one.value.width, one.value.height) <= MOST_SIDE);

function choose(level: number): void {
  chosen.value = level;
  if (bench.paintLevel !== null) bench.paintLevel = canPaint.value ? level : null;
}
function togglePaint(): void {
  bench.paintLevel = bench.paintLevel === null && one.value ? one.value.level : null;
}
onBeforeUnmount(() => (bench.paintLevel = null));
</script>

<template>
  <fieldset v-if="one" data-test="one-level">
    <legend>One level by itself</legend>
    <ListLine
      label="Level"
      :value="one.level"
      :options="sizes.map((s) => ({ value: s.level, label: `${s.width} × ${s.height}` }))"
      data-test="one-level-choice"
      @choose="choose"
    />
    <ListLine
      label="Comes from"
      :value="isGone ? null : source"
      :options="origins"
      placeholder="a source that is gone"
      data-test="one-level-source"
      @choose="actions.replace(one.level, $event === MADE ? '' : $event)"
    />
    <p class="buttons">
      <ElButton
        size="small"
        :type="bench.paintLevel === null ? 'default' : 'primary'"
        :disabled="!canPaint"
        :aria-pressed="bench.paintLevel !== null"
        data-test="paint-level"
        @click="togglePaint"
      >
        {{ bench.paintLevel === null ? 'Paint on it' : 'End painting' }}
      </ElButton>
      <ElButton v-if="paint" size="small" @click="actions.clearPaint(one.level)">Take the paint off</ElButton>
    </p>
    <p v-if="bench.paintLevel !== null" class="soft" role="status">
      On the Sheet: a press turns a texel, a drag paints on. By key: arrows and the space bar; Esc ends it.
    </p>
    <p v-else-if="!canPaint" class="soft">Levels of up to {{ MOST_SIDE }} texels can be painted on.</p>
    <p v-if="paint" class="soft" data-test="painted-texels">
      {{ paint.kept.length + paint.dropped.length }} texels painted{{
        fits ? '' : ` at ${paint.width} × ${paint.height}: they do not count at this size`
      }}.
    </p>
  </fieldset>
</template>

<style scoped>
fieldset {
  margin: 12px 0 4px;
  padding: 6px 0 0;
  border: 0;
  border-top: 1px solid var(--rule);
}

legend {
  padding: 0 8px 0 0;
  font-size: 12px;
  font-weight: 600;
}

.buttons {
  margin: 8px 0 4px;
}
</style>
