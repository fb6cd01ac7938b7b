<script setup lang="ts">
import {
  FLAT,
  FORM_KINDS,
  FORM_RANGES,
  FORM_USES,
  formStretch,
  type CardForm,
  type CardSize,
  type FormKind,
  type PieceDoc,
} from '@lithe-sieve/core';
import { computed } from 'vue';
import { useCardActions } from '../../actions/card-actions';
import ListLine from '../../components/ListLine.vue';
import NumberSlider from '../../components/NumberSlider.vue';

/** How the card is bent. */
const props = defineProps<{
  doc: PieceDoc;
  /** Metres. */
  size: CardSize;
}>();
const { previewForm: preview, setForm: commit } = useCardActions();
const form = computed(() => props.doc.form ?? FLAT);
const numbers = computed(() => {
  const own = FORM_USES[form.value.kind];
  return own.length === 0 ? [] : [...own, 'segments' as const, 'tolerance' as const].filter((n) => !hasNoUse(n));
});
/** A tolerance decides where no number was chosen. */
const hasNoUse = (name: FormNumber) => name === 'tolerance' && form.value.segments > 0;
/** Share by which the sides are stretched; a hundredth of a percent is rounding. */
const stretch = computed(() => {
  const share = formStretch(form.value, props.size);
  return share > 0.0005 ? `${(100 * share).toFixed(1)} %` : null;
});

type FormNumber = Exclude<keyof CardForm, 'kind'>;

const KINDS: Record<FormKind, string> = {
  flat: '',
  bent: 'Bends from its root to its tip, from side to side, or both.',
  folded: 'Two sides along a fold, a midrib for example; it may bend along as well.',
  'over an edge': 'A part lies on top, the rest hangs down in front.',
  'round a post': 'Lies on a post from its middle on; what is too wide goes on straight.',
  slung: 'Hangs between two supports like a chain: awnings, hammocks, nets.',
};

const NUMBERS: Record<
  FormNumber,
  { label: string; hint: string; unit?: string; zero?: string; logarithmic?: boolean }
> = {
  along: { label: 'Along', hint: 'Degrees from root to tip; positive bends to the front.', unit: 'degrees' },
  curl: { label: 'Towards the tip', hint: 'Where it bends: −1 at its root, 0 evenly, 1 at its tip.' },
  across: {
    label: 'Across',
    hint: 'Degrees from side to side; positive brings the sides to the front.',
    unit: 'degrees',
  },
  fold: { label: 'Fold', hint: 'Degrees between the two sides; positive brings them to the front.', unit: 'degrees' },
  round: { label: 'Rounding', hint: 'Share of the width that the fold is spread over; 0 is a sharp edge.' },
  foldAt: { label: 'Fold at', hint: 'Where the fold runs, as a share of the width.' },
  lean: { label: 'Lean', hint: 'Degrees by which it leans at its root; positive leans to the front.', unit: 'degrees' },
  over: { label: 'On top', hint: 'Share of the card that lies on top of the edge.' },
  radius: { label: 'Radius', hint: 'Of the edge’s rounding, or of the post.', unit: 'mm', logarithmic: true },
  wrap: { label: 'Round it', hint: 'Degrees of the post that it lies on, at most.', unit: 'degrees' },
  sag: { label: 'Sag', hint: 'How far its middle hangs below its supports, as a share of its length.' },
  segments: {
    label: 'Pieces',
    hint: 'Flat pieces of a bend; 0 takes the fewest that the tolerance allows.',
    zero: 'by tolerance',
  },
  tolerance: { label: 'Tolerance', hint: 'How far flat pieces may leave the curve.', unit: 'mm', logarithmic: true },
};
</script>

<template>
  <ListLine
    label="Shape"
    :value="form.kind"
    :options="FORM_KINDS.map((value) => ({ value, label: value }))"
    data-test="card-form"
    @choose="commit({ kind: $event }, $event)"
  />
  <p v-if="KINDS[form.kind]" class="soft hint">{{ KINDS[form.kind] }}</p>
  <NumberSlider
    v-for="name in numbers"
    :key="name"
    v-bind="{ ...FORM_RANGES[name], ...NUMBERS[name] }"
    :model-value="form[name]"
    @preview="preview({ [name]: $event })"
    @commit="commit({ [name]: $event }, `${NUMBERS[name].label.toLowerCase()} ${$event}`)"
  />
  <p v-if="stretch" class="soft hint" data-test="form-stretch">
    Bent both ways, parts of it are up to {{ stretch }} longer or shorter than on the flat card: no sheet bends both
    ways without.
  </p>
</template>

<style scoped>
.hint {
  margin: 4px 0 12px;
}
</style>
