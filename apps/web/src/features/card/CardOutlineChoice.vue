<script setup lang="ts">
import {
  CARD_OUTLINE,
  coverageAt,
  OUTLINE_CORNERS,
  OUTLINE_DOWN_TO,
  thresholdByte,
  type FittedOutline,
  type PieceDoc,
} from '@lithe-sieve/core';
import { computed } from 'vue';
import { useCardActions } from '../../actions/card-actions';
import NumberSlider from '../../components/NumberSlider.vue';
import TroubleNote from '../../components/TroubleNote.vue';
import { useClip } from '../../stores/open-piece/open-piece';
import { useClipLook } from '../../stores/open-piece/use-clip-look';

/** What of the card there is. */
const props = defineProps<{ doc: PieceDoc }>();
const { previewOutline: preview, setOutline: commit } = useCardActions();
const clip = useClip();
useClipLook('outlines');

const outline = computed(() => props.doc.outline);
const opaque = computed(() => props.doc.material.mode === 'opaque');
/** Cards that show a part of an atlas each have an outline each. */
const parts = computed(() => clip.outlineRegions.length);
const whole = computed(() => clip.outline?.whole ?? 1);
const texels = computed(() => (clip.outline ? clip.outline.width * clip.outline.height : 1));
/** Texels. */
const kept = computed(() => {
  const { mode, cutoff, opacity } = props.doc.material;
  const [full] = clip.summaries;
  return full ? coverageAt(full.counts, mode === 'blend' ? 1 : thresholdByte(cutoff, opacity)) * texels.value : 0;
});
const figures = computed(() => (clip.outline ? figuresOf(clip.outline.outline) : null));
const rows = computed(() =>
  (parts.value ? [] : (clip.outlines?.outlines ?? [])).map((entry) => ({
    ...figuresOf(entry.outline),
    corners: entry.corners,
  })),
);

function figuresOf({ area, polygons, holes }: FittedOutline) {
  return {
    corners: [...polygons, ...holes].reduce((sum, polygon) => sum + polygon.length, 0),
    islands: polygons.length,
    /** Of the rectangle. */
    drawn: area / whole.value,
    /** Of what is drawn. */
    vain: area > 0 ? Math.max(0, 1 - kept.value / area) : 0,
  };
}

const isByHand = computed(() => Boolean(parts.value ? outline.value?.parts : outline.value?.byHand));
const isTaken = (corners: number) => !outline.value?.byHand && corners === outline.value?.corners;
const percent = (share: number) => `${Math.round(100 * share)} %`;
</script>

<template>
  <label class="line">
    <span>Cut to an outline</span>
    <ElSwitch
      :model-value="Boolean(outline)"
      aria-label="Cut to an outline"
      data-test="outline"
      @change="commit($event ? {} : null, $event ? `${CARD_OUTLINE.corners} corners` : 'none')"
    />
  </label>
  <p v-if="!outline" class="soft hint">The card is a rectangle: every pixel of it is drawn, kept or not.</p>
  <p v-else-if="opaque" class="soft hint">In mode opaque all of the card shows: it is not cut.</p>
  <template v-else>
    <p v-if="parts" class="soft hint">Each part of the atlas that a card shows has an outline of its own.</p>
    <NumberSlider
      label="Corners"
      hint="At most, of all islands and holes together. More follow the shape closer and cost triangles."
      :model-value="outline.corners"
      v-bind="OUTLINE_CORNERS"
      @preview="preview({ corners: $event })"
      @commit="commit({ corners: $event }, `${$event} corners`)"
    />
    <NumberSlider
      label="Held down to level"
      hint="What a renderer keeps on this mip level, and on all larger ones, lies within the outline."
      :model-value="outline.downTo"
      v-bind="OUTLINE_DOWN_TO"
      @preview="preview({ downTo: $event })"
      @commit="commit({ downTo: $event }, `held down to level ${$event}`)"
    />
    <label class="line">
      <span>Holes are left open</span>
      <ElSwitch
        :model-value="outline.holes"
        aria-label="Holes are left open"
        @change="commit({ holes: Boolean($event) }, $event ? 'holes open' : 'holes filled')"
      />
    </label>
    <label class="line">
      <span>Corners may cut</span>
      <ElSwitch
        :model-value="outline.cuts ?? false"
        aria-label="Corners may cut into what is kept"
        data-test="outline-cuts"
        @change="commit({ cuts: Boolean($event) }, $event ? 'corners may cut' : 'corners do not cut')"
      />
    </label>
    <p class="soft hint">
      Corners are dragged on the Sheet, a dark dot adds one; where they are many, zoom in.
      {{ outline.cuts ? 'They may cut into what is kept.' : 'They stop before anything that is kept.' }}
    </p>
    <p v-if="isByHand" class="soft hint" data-test="outline-by-hand">
      {{ parts ? 'Some are set by hand: they stay' : 'Set by hand: it stays' }} when the mask changes.
      <b v-if="clip.outline && clip.outline.outside > 0">{{ clip.outline.outside }} kept texels lie outside. </b>
      <button class="linked" @click="commit({ corners: outline.corners }, 'fitted again')">Fit it again</button>
    </p>
    <p v-if="figures" class="soft hint" data-test="outline-figures">
      <template v-if="figures.corners === 0">Nothing is kept: there is no card.</template>
      <template v-else>
        {{ figures.corners }} corners{{ figures.islands > 1 ? ` in ${figures.islands} islands` : '' }}:
        <b>{{ percent(1 - figures.drawn) }} fewer pixels</b> than the {{ parts ? 'rectangles' : 'rectangle' }};
        {{ percent(figures.vain) }} of what is drawn is in vain.
      </template>
      <span v-if="clip.outlineBusy"> Of the last state; the next one is computed…</span>
    </p>
    <TroubleNote
      v-if="clip.outlineFailure"
      :message="clip.outlineFailure.message"
      :remedy="clip.outlineFailure.remedy"
    />
    <table v-if="rows.length > 0" class="curve" aria-label="Corners against pixels drawn">
      <thead>
        <tr>
          <th>Corners</th>
          <th>Drawn, of the rectangle</th>
          <th>In vain</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.corners" :class="{ on: isTaken(row.corners) }">
          <td>
            <button
              class="linked"
              :aria-label="`Take ${row.corners} corners`"
              :aria-pressed="isTaken(row.corners)"
              @click="commit({ corners: row.corners }, `${row.corners} corners`)"
            >
              {{ row.corners }}
            </button>
          </td>
          <td class="drawn" :style="{ '--drawn': `${100 * row.drawn}%` }">{{ percent(row.drawn) }}</td>
          <td>{{ percent(row.vain) }}</td>
        </tr>
      </tbody>
    </table>
  </template>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}

.curve {
  width: 100%;
  font-size: 12px;
  border-collapse: collapse;
}

.curve th {
  font-weight: normal;
  text-align: left;
  color: var(--ink-soft);
}

.curve td,
.curve th {
  padding: 2px 4px;
}

.curve tr.on {
  background: var(--green-pale);
}

.drawn {
  width: 55%;
  background: linear-gradient(var(--bar), var(--bar)) left center / var(--drawn) 70% no-repeat;
}
</style>
