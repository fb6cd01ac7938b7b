import { looksLikeGltf } from './glb/user-mesh.ts';
import {
  declaredSize,
  holds,
  holdsLevels,
  isScene,
  mapKind,
  PACKED_AS,
  PACKING_AT_FIRST,
  profileOf,
  ROWS_FROM_TEXELS,
  sceneBytes,
  stepKind,
  texelsAtMost,
  type PackedFile,
  type PieceDoc,
} from '@lithe-sieve/core';
import type { HandOffInput } from './hand-off.ts';

const MB = 1024 * 1024;
/** For a task that holds nothing large. */
export const SMALL_BYTES = 48 * MB;
/** For a whole run, besides its sources: mask and colour, what a step makes beside them, what is written. */
const RUN_BYTES_PER_TEXEL = 26;
/** For holding a mask at distance: its levels; where sides do not halve evenly, level 0 too; else planes for a wider filter. */
const HOLD_BYTES_PER_TEXEL = { even: 6, odd: 34, wider: 6 };
/** For the textures that a GLB has for specular and translucency, and the file once more while its container is put together. */
const GLB_BYTES_PER_TEXEL = 12;
/** For a back that has a picture of its own: with the mask as its alpha, and as a file. */
const BACK_BYTES_PER_TEXEL = 8;
/** For a recipe: colour, height, normal, translucency, tint id and root to tip. */
const GROWN_BYTES_PER_TEXEL = 15;
/** For a part of one, or of a brush's tip: read, and with its mip levels. */
const PART_BYTES_PER_TEXEL = 10;
/** The same of 16 bits a sample: its file as it is read, and its levels. */
const RELIEF_BYTES_PER_TEXEL = 22;
/** For a texture that is laid: floats between its two axes. */
const LAID_BYTES_PER_TEXEL = 16;
/** For blurred values, distances, horizons. */
const MAP_WORK_BYTES_PER_TEXEL = 16;
/** For a texture with its mip levels: as they are wanted, as they are read out of their blocks, and what is between. */
const LEVELS_BYTES_PER_TEXEL = 20;
/** For what targets make of the files: colour and mask read again, alpha of every level, and that of the Bench. */
const RECEIVED_BYTES_PER_TEXEL = 9;
/** Texels of the largest texture that a hand-off comes to. */
export function handedOffTexels({ doc, sources }: HandOffInput): number {
  const [first] = sources;
  return first ? texelsAtMost(doc.run, first.recipe ?? declaredSize(first.bytes), doc.cardWidth) : 0;
}

/** Beside the file of a mesh: what is known of its corners, and its vertices, of which there are at most so many. */
const MESH_BYTES = 300e6;
const MESH_BYTES_PER_BYTE = 12;

/** About the peak memory of reading a mesh. */
export function meshBytes(bytes: Uint8Array): number {
  const { length } = bytes;
  const text = looksLikeGltf(bytes) ? GLTF_TEXT * length : 0;
  return SMALL_BYTES + length + text + Math.min(MESH_BYTES, MESH_BYTES_PER_BYTE * length);
}

/** A text with its buffers inside: as words, as what it says, and its buffers decoded. */
const GLTF_TEXT = 4;

/** About its peak memory, by what its files hold. @throws SieveError for a file that is none. */
export function handOffBytes(input: HandOffInput): number {
  const { doc, sources, tips } = input;
  const sizes = sources.map(({ bytes, recipe }) => recipe ?? declaredSize(bytes));
  const pictures = sources.reduce((sum, { recipe }, i) => {
    const perTexel = recipe ? GROWN_BYTES_PER_TEXEL : 4;
    return sum + perTexel * sizes[i].width * sizes[i].height + (recipe ? sceneBytes(recipe) : 0);
  }, 0);
  const { material, levels, handOff } = doc;
  const perTexel =
    RUN_BYTES_PER_TEXEL +
    RECEIVED_BYTES_PER_TEXEL +
    mapBytes(doc) +
    (holds(material, levels) ? holdBytes(sizes[0], levels.averages !== 'box') : 0) +
    (profileOf(handOff.profile).files.some(isScene)
      ? GLB_BYTES_PER_TEXEL + (doc.sides ? BACK_BYTES_PER_TEXEL : 0)
      : 0) +
    (handOff.profile === 'own-packing' ? packedBytes(handOff.packing ?? PACKING_AT_FIRST) : 0) +
    (holdsLevels(doc) ? LEVELS_BYTES_PER_TEXEL : 0);
  const own = sizes[0] ? sizes[0].width * sizes[0].height : 0;
  const parts = tips.reduce((sum, { bytes }) => sum + partBytes(declaredSize(bytes)), 0);
  const laid = hasFit(doc) ? (LAID_BYTES_PER_TEXEL + perTexel) * handedOffTexels(input) : 0;
  const files = [...sources.map((s) => s.bytes), ...tips.map((t) => t.bytes)];
  const read = files.reduce((sum, bytes) => sum + (bytes?.length ?? 0), 0);
  const mesh = input.mesh ? (doc.sides ? 2 : 1) * meshBytes(input.mesh) : 0;
  return SMALL_BYTES + read + parts + pictures + perTexel * own + laid + mesh;
}

/** Of files that a person packs, by the texel of the whole: each with its file, and a map in smaller levels. */
function packedBytes(files: readonly PackedFile[]): number {
  const own = files.map(({ as, bits, halvings }) => (2 * PACKED_AS[as].length * bits) / 8 / 4 ** halvings);
  return own.reduce((sum, bytes) => sum + bytes, 0) + 3;
}

/** Bytes of a run by the texel, its fit included. */
export function runBytesPerTexel(doc: PieceDoc): number {
  return RUN_BYTES_PER_TEXEL + LAID_BYTES_PER_TEXEL + mapBytes(doc);
}

const hasFit = ({ run }: PieceDoc) => run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');

function partBytes({ width, height, bytesPerTexel }: ReturnType<typeof declaredSize>): number {
  return (bytesPerTexel > 4 ? RELIEF_BYTES_PER_TEXEL : PART_BYTES_PER_TEXEL) * width * height;
}

/** Every step that makes a map hands one on; the largest needs planes of its own while it works. */
function mapBytes({ run }: PieceDoc): number {
  const made = run.flatMap((step) => (step.on ? (stepKind(step.kind).makes ?? []) : []));
  const bytes = made.reduce((sum, map) => sum + (mapKind(map).channels * mapKind(map).depth) / 8, 0);
  return bytes > 0 ? bytes + MAP_WORK_BYTES_PER_TEXEL : 0;
}

function holdBytes({ width, height } = { width: 2, height: 2 }, wider: boolean): number {
  const { even, odd, wider: planes } = HOLD_BYTES_PER_TEXEL;
  return width % 2 === 0 && height % 2 === 0 ? even + (wider ? planes : 0) : odd;
}

/** Bytes of a picture that is decoded: read by its rows a few lines; of one read whole, itself and what it is decoded through. */
export function decodingBytes(file: Uint8Array): number {
  const { width, height, bytesPerTexel, byRows } = declaredSize(file);
  const whole = byRows && width * height >= ROWS_FROM_TEXELS ? 0 : 2 * bytesPerTexel * width * height;
  return SMALL_BYTES + file.length + whole;
}
