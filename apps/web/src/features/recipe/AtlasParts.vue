<script setup lang="ts">
import {
  MOST_ATLAS_PARTS,
  MOST_COPIES,
  PART_WEIGHT,
  partedTo,
  partsEnlarged,
  withPart,
  type AtlasPacking,
  type AtlasParams,
  type RecipePart,
  type SourceRef,
} from '@lithe-sieve/core';
import { Blocks, X } from 'lucide-vue-next';
import { computed, ref, shallowRef } from 'vue';
import { useRecipeActions } from '../../actions/recipe-actions';
import NumberField from '../../components/NumberField.vue';
import TextField from '../../components/TextField.vue';
import { useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { OtherPiece } from '../stock/other-pieces';
import OtherPieceChoice from '../stock/OtherPieceChoice.vue';
import { packingTurns, type Atlas, type Wanted } from './packing-turns';
import { isGrown, usePartFiles, withTaken } from './use-parts';

/** The pieces of an atlas, and how they are packed. */
const props = defineProps<{ source: SourceRef; params: AtlasParams }>();
const engine = useEngine();
const piece = usePiece();
const actions = useRecipeActions();
const take = usePartFiles();

const recipe = computed(() => props.source.recipe as Atlas);
const parts = computed(() => recipe.value.parts ?? []);
const enlarged = computed(() => partsEnlarged(recipe.value));
const copies = computed(() => parts.value.reduce((sum, p) => sum + (p.copies ?? 1), 0));
const keep = ref(false);
const variations = ref(1);
const doing = ref('');
const trouble = ref<{ message: string; remedy: string } | null>(null);
/** What the last packing came to, for the places that it gave. */
const packing = shallowRef<AtlasPacking | null>(null);
const figures = computed(() =>
  packing.value && JSON.stringify(packing.value.placed) === JSON.stringify(props.params.placed) ? packing.value : null,
);
const percent = (share: number) => `${(100 * share).toFixed(0)} %`;

const inTurn = packingTurns();

/** The atlas of a source, as it is whenever it is asked for. */
function hostOf(id: string) {
  const now = () => piece.sources.find((s) => s.id === id);
  return {
    current() {
      const recipe = now()?.recipe;
      return recipe?.kind === 'atlas' ? recipe : undefined;
    },
    pack: (atlas: Atlas, kept: boolean) => engine.engine().others.pack(atlas, kept),
    apply(changed: RecipePart[], placed: AtlasParams['placed'], what: string) {
      const source = now();
      if (source) actions.setParts(source, changed, { placed }, what);
    },
  };
}

/** Packs what an edit makes of the atlas, both as one step; without room the parts are there, to be packed otherwise. */
async function pack(edit: (atlas: Atlas) => Wanted, what: string, host = hostOf(props.source.id)): Promise<void> {
  trouble.value = null;
  doing.value = 'packing…';
  const found = await inTurn(host, edit, what).finally(() => (doing.value = ''));
  if (found instanceof Error) trouble.value = { remedy: '', ...found, message: found.message };
  else packing.value = found;
}

const packAll = () =>
  pack(({ parts: all = [], params: { placed } }) => ({ parts: all, placed, keep: false }), 'packed');

/** One that fails does not take along those that are there already. */
async function add(other: OtherPiece): Promise<void> {
  const many = Math.min(isGrown(other.doc) ? variations.value : 1, MOST_ATLAS_PARTS - parts.value.length);
  const taken: RecipePart[] = [];
  const host = hostOf(props.source.id); // another piece may be shown by the time that they are there
  try {
    for (let k = 1; k <= many; k++) {
      doing.value = many > 1 ? `growing ${k} of ${many}…` : 'copying…';
      taken.push(await take(other, many > 1 ? k : undefined));
    }
  } finally {
    doing.value = '';
    if (taken.length > 0) await pack((atlas) => withAll(atlas, taken), `part ${other.doc.name}`, host);
  }
}

function withAll(atlas: Atlas, taken: readonly RecipePart[]): Wanted {
  let { parts: changed = [] } = atlas;
  let { placed } = atlas.params;
  for (const part of taken) {
    const before = changed.find((p) => p.piece === part.piece && p.variation === part.variation);
    if (changed.some((p) => p !== before && p.sha256 === part.sha256)) continue; // the same picture is there
    changed = withTaken(changed, part);
    if (before) placed = withPart(placed, before.sha256, part);
  }
  return { parts: changed, placed, keep: keep.value && placed.length > 0 };
}

function change({ sha256, name }: RecipePart, news: Partial<RecipePart>, what: string): Promise<void> {
  return pack(({ parts: all = [], params }) => {
    const placed = params.placed.filter((p) => p.part !== sha256);
    const changed = all.map((p) => (p.sha256 === sha256 ? { ...p, ...news } : p));
    return { parts: changed, placed, keep: keep.value && placed.length > 0 };
  }, `${name}: ${what}`);
}

function remove(part: RecipePart): void {
  const changed = parts.value.filter((p) => p !== part);
  actions.setParts(
    props.source,
    changed,
    { placed: withPart(props.params.placed, part.sha256, null) },
    `part ${part.name} taken out`,
  );
}
</script>

<template>
  <details open>
    <summary>Parts ({{ copies }})</summary>
    <OtherPieceChoice
      v-if="parts.length < MOST_ATLAS_PARTS"
      label="Add a piece"
      test="atlas-piece"
      shown=""
      :use="add"
    />
    <div class="line">
      <span title="Of a piece that is grown: how many, each with a seed of its own.">Variations of it</span>
      <NumberField
        :model-value="variations"
        :min="1"
        :max="32"
        :digits="0"
        label="Variations of it"
        @commit="variations = $event"
      />
    </div>
    <ElCheckbox v-model="keep" size="small" data-test="keep-places">Keep places when parts change</ElCheckbox>
    <div class="line">
      <ElButton size="small" :disabled="parts.length === 0 || doing !== ''" data-test="pack" @click="packAll"
        ><Blocks :size="14" class="lead" />Pack all again</ElButton
      >
      <span class="soft" role="status">{{ doing }}</span>
    </div>
    <p v-if="figures" class="soft" role="status" data-test="packing">
      {{ percent(figures.used) }} of the area is used; boxes would use {{ percent(figures.byBoxes) }}.
    </p>
    <p v-if="trouble" role="alert" class="warning">{{ trouble.message }} {{ trouble.remedy }}</p>
    <p v-if="parts.length === 0" class="soft" data-test="no-parts">
      Nothing is packed yet: add pieces of the Stock here. Each is copied with its maps, and packed by its outline.
    </p>
    <p v-else class="soft">
      A gutter of {{ params.gutter }} texels keeps parts apart down to mip level {{ partedTo(params.gutter) }}; the step
      <i>Bleed</i> fills it.
    </p>
    <p v-if="enlarged > 1.05" class="warning" role="status" data-test="enlarged">
      Parts are drawn at up to {{ enlarged.toFixed(1) }} times their size and are not sharp: make the atlas smaller, or
      the pieces that they come from larger.
    </p>
    <ul>
      <li v-for="part in parts" :key="part.sha256" class="part">
        <span class="name">{{ part.name }}</span>
        <button :aria-label="`Take ${part.name} out`" @click="remove(part)"><X :size="13" /></button>
        <label title="How many times it is there"
          >Copies
          <NumberField
            :model-value="part.copies ?? 1"
            :min="1"
            :max="MOST_COPIES"
            :digits="0"
            :label="`Copies of ${part.name}`"
            @commit="change(part, { copies: $event }, `${$event} copies`)"
        /></label>
        <label title="How large it is against the others"
          >Weight
          <NumberField
            :model-value="part.weight ?? 1"
            :min="PART_WEIGHT.min"
            :max="PART_WEIGHT.max"
            :digits="2"
            :label="`Weight of ${part.name}`"
            @commit="change(part, { weight: $event }, `weight ${$event}`)"
        /></label>
        <label title="Parts of one group lie beside each other"
          >Group
          <TextField
            :model-value="part.group ?? ''"
            :label="`Group of ${part.name}`"
            @commit="(group: string) => change(part, { group: group || undefined }, `group ${group}`)"
        /></label>
      </li>
    </ul>
  </details>
</template>

<style scoped src="./recipe-lists.css"></style>
<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin: 4px 0 8px;
}

.part {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 2px 6px;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}

.part .name {
  grid-column: 1 / 3;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.part > button {
  justify-self: end;
}

.part label {
  display: grid;
  font-size: 12px;
  color: var(--ink-soft);
}

.part :deep(.el-input-number) {
  width: 100%;
}
</style>
