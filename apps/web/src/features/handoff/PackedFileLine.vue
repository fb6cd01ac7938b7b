<script setup lang="ts">
// A packed file: its name, channels, bits and size, with what it looks like.
import {
  PACKED_AS,
  PACKED_BITS,
  PACKED_HALVINGS,
  PICTURE_EXTENSIONS,
  packedRaster,
  type ChannelFill,
  type PackedAs,
  type PackedFile,
  PACKED_BLOCKS,
  TEXTURE_EXTENSIONS,
  DEEP_EXTENSIONS,
  type PackedBlocks,
} from '@lithe-sieve/core';
import { Trash2 } from 'lucide-vue-next';
import { computed } from 'vue';
import NumberField from '../../components/NumberField.vue';
import TextField from '../../components/TextField.vue';
import ThumbCanvas from '../../components/ThumbCanvas.vue';
import { useEngine } from '../../stores/open-piece/open-piece';
import { levelState, thumbOf } from './level-state';
import type { Thumb } from '../../workers/types';

const props = defineProps<{ file: PackedFile; last: boolean; taken: (name: string) => boolean }>();
const emit = defineEmits<{ change: [file: PackedFile, what: string]; remove: [] }>();
const engine = useEngine();

const SIZES = ['whole', '½', '¼'];
const FORMATS = [...PICTURE_EXTENSIONS, ...TEXTURE_EXTENSIONS];
type Format = (typeof FORMATS)[number];
const FORMAT_NAMES: Record<Format, string> = { png: 'PNG', tga: 'TGA', tif: 'TIFF', webp: 'WebP', dds: 'DDS', ktx2: 'KTX2' }; // prettier-ignore
const BLOCK_NAMES: Record<PackedBlocks, string> = { none: 'no blocks', BC1: 'BC1', BC3: 'BC3', BC4: 'BC4', BC5: 'BC5', BC7: 'BC7' }; // prettier-ignore
const hasLevels = computed(() => TEXTURE_EXTENSIONS.some((extension) => extension === props.file.format));
const isDeep = (format: Format = 'png') => DEEP_EXTENSIONS.includes(format);

/** PNG and TIFF alone have more than 8 bits. */
function setFormat(format: Format): void {
  emit('change', { ...props.file, format, ...(isDeep(format) ? {} : { bits: 8 }) }, FORMAT_NAMES[format]);
}
/** Texels a metre of the card at the size of the file; 0: nobody knows yet. */
const densityAt = (halvings: number) =>
  engine.size ? Math.round(Math.max(1, engine.size.width >> halvings) / engine.cardWidth) : 0;
const density = computed(() => densityAt(props.file.halvings));

/** The size that comes nearest, by ratio. */
function setDensity(wanted: number): void {
  const off = (halvings: number) => Math.abs(Math.log(densityAt(halvings) / wanted));
  const halvings = [...PACKED_HALVINGS].sort((a, b) => off(a) - off(b))[0];
  emit('change', { ...props.file, halvings }, `size ${SIZES[halvings]}`);
}

const NEUTRAL: ChannelFill = { value: 1 };

function lackOf(name: string): string {
  if (!/^[A-Za-z0-9_-]{1,40}$/.test(name)) return 'Letters, digits, _ and - alone, 40 at the most.';
  return props.taken(name) ? 'Another file has this name.' : '';
}

function setAs(as: PackedAs): void {
  const fills = PACKED_AS[as].map((_, i) => props.file.fills[i] ?? NEUTRAL);
  const { blocks = 'none' } = props.file;
  const kept = (PACKED_BLOCKS[as] as readonly string[]).includes(blocks) ? {} : { blocks: undefined };
  emit('change', { ...props.file, ...kept, as, fills }, as);
}

/** Of a small level of each map: alpha is shown as it is over the linen. */
const thumb = computed((): Thumb | null => {
  const state = levelState(engine, 128);
  return state && thumbOf(packedRaster({ ...props.file, bits: 8, halvings: 0 }, state, { green: 'OpenGL' }));
});
</script>

<template>
  <div class="file">
    <ThumbCanvas class="thumb linen" :thumb="thumb" />
    <TextField
      :model-value="file.name"
      label="Name of the file"
      :lack="lackOf"
      data-test="packed-name"
      @commit="emit('change', { ...file, name: $event }, `called ${$event}`)"
    />
    <button type="button" class="bare" :disabled="last" :aria-label="`Delete ${file.name}`" @click="emit('remove')">
      <Trash2 :size="14" />
    </button>
    <div class="how">
      <ElSegmented
        :model-value="file.format ?? 'png'"
        :options="FORMATS.map((value) => ({ value, label: FORMAT_NAMES[value] }))"
        size="small"
        :aria-label="`${file.name}: kind of file`"
        data-test="packed-format"
        @change="setFormat($event as Format)"
      />
      <ElSegmented
        :model-value="file.as"
        :options="Object.keys(PACKED_AS)"
        size="small"
        :aria-label="`${file.name}: channels`"
        data-test="packed-as"
        @change="setAs($event as PackedAs)"
      />
      <ElSegmented
        v-if="hasLevels"
        :model-value="file.blocks ?? 'none'"
        :options="PACKED_BLOCKS[file.as].map((value) => ({ value, label: BLOCK_NAMES[value] }))"
        size="small"
        :aria-label="`${file.name}: blocks`"
        data-test="packed-blocks"
        @change="emit('change', { ...file, blocks: $event as PackedBlocks }, BLOCK_NAMES[$event as PackedBlocks])"
      />
      <ElSegmented
        v-else
        :model-value="file.bits"
        :options="
          PACKED_BITS.map((value) => ({ value, label: `${value} bits`, disabled: value > 8 && !isDeep(file.format) }))
        "
        size="small"
        :aria-label="`${file.name}: bits`"
        @change="emit('change', { ...file, bits: $event as PackedFile['bits'] }, `${$event} bits`)"
      />
      <ElSegmented
        :model-value="file.halvings"
        :options="PACKED_HALVINGS.map((value) => ({ value, label: SIZES[value] }))"
        size="small"
        :aria-label="`${file.name}: size`"
        @change="
          emit('change', { ...file, halvings: $event as PackedFile['halvings'] }, `size ${SIZES[Number($event)]}`)
        "
      />
      <label v-if="density" class="density soft">
        <NumberField
          :model-value="density"
          :label="`${file.name}: texels a metre`"
          :min="1"
          :max="1000000"
          :digits="0"
          @commit="setDensity"
        />
        texels/m
      </label>
    </div>
  </div>
</template>

<style scoped>
.file {
  display: grid;
  grid-template-columns: 52px minmax(0, 1fr) auto;
  align-items: center;
  gap: 6px;
  margin-bottom: 6px;
}

.thumb {
  grid-row: span 2;
  width: 52px;
  height: 52px;
  object-fit: contain;
}

.how {
  display: flex;
  flex-wrap: wrap;
  grid-column: 2 / -1;
  gap: 4px;
}

.bare {
  padding: 2px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}

.bare:disabled {
  opacity: 0.3;
  cursor: default;
}
</style>
