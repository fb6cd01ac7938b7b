import type { DecodedPicture } from '../codec/picture.ts';
import { cardSurface } from '../card/kinds.ts';
import { cardOf } from '../piece/has-regions.ts';
import { writeCardGlb, type CardTexture } from '../glb/write.ts';
import type { MapName } from '../raster/maps.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { DdsFormat } from '../codec/dds/write.ts';
import type { Picture, Raster, Samples } from '../raster/raster.ts';
import { frameOf, type RunState } from '../raster/run-state.ts';
import { withMaskAsAlpha, withoutAlpha } from '../run/compose.ts';
import { distanceField, type FieldDivisor } from '../sieve/distance-field.ts';
import type { SourceOf } from '../sieve/own-levels.ts';
import { thresholdByte } from '../math/threshold.ts';
import { fileStem } from './file-name.ts';
import { GLB_SLOTS, leftOutOfGlb, type GlbSlot } from './glb-slots.ts';
import { MAP_FILES, mapRaster, SURFACE_FILE, surfaceRaster } from './map-files.ts';
import type { FilePlan } from './file-plan.ts';
import type { ProfileId } from '../piece/profile-id.ts';
import { storeLevels, textureLevels } from './texture-levels.ts';

export interface Profile {
  id: ProfileId;
  label: string;
  hint: string;
  files: readonly FilePlan[];
}

const BASE: FilePlan = {
  slot: 'base',
  extension: 'png',
  holds: 'colour and mask',
  contents: 'RGBA, 8 bits each, straight alpha',
};

/** How a hand-off is packed. A new profile is one entry here. */
export const PROFILES: readonly Profile[] = [
  {
    id: 'glb',
    label: 'Card as GLB',
    hint: 'glTF 2.0 in one file: the card in metres, the material, colour with alpha and the maps that glTF knows inside.',
    files: [
      {
        slot: 'card',
        extension: 'glb',
        holds: 'colour and mask',
        contents: 'card, material, colour + alpha',
      },
    ],
  },
  {
    id: 'rgba-png',
    label: 'Colour + alpha in one PNG',
    hint: 'For targets that clip by the alpha channel of the base colour.',
    files: [BASE],
  },
  {
    id: 'rgb-and-mask',
    label: 'Colour PNG and mask PNG',
    hint: 'For targets with a slot of its own for the opacity mask.',
    files: [
      { slot: 'base', extension: 'png', holds: 'colour', contents: 'RGB, 8 bits each, no alpha' },
      { slot: 'mask', extension: 'png', holds: 'mask', contents: 'grey, 8 bits: white kept, black dropped' },
    ],
  },
  {
    id: 'all-maps',
    label: 'Every map as a PNG',
    hint: 'Colour with alpha, and each map that the run makes in a file of its own.',
    files: [BASE, ...MAP_FILES],
  },
  {
    id: 'packed-maps',
    label: 'Colour, normal and packed surface PNG',
    hint: 'Colour with alpha, normals, and occlusion, roughness and metalness in the channels of one file.',
    files: [BASE, ...MAP_FILES.filter((f) => f.holds === 'normal'), SURFACE_FILE],
  },
  dds('dds-bc7', 'BC7', '8 bits a texel, the finest blocks'),
  dds('dds-bc3', 'BC3', '8 bits a texel, read by older graphics cards too'),
  dds('dds-bc1', 'BC1', '4 bits a texel, alpha is the clip itself'),
  dds('dds-rgba', 'rgba8', '32 bits a texel, nothing compressed'),
  distances('distance-2', 2, '½'),
  distances('distance-4', 4, '¼'),
  distances('distance-8', 8, '⅛'),
];

/** All mip levels in one file. */
function dds(id: ProfileId, texels: DdsFormat, hint: string): Profile {
  const label = texels === 'rgba8' ? 'RGBA' : texels;
  return {
    id,
    label: `DDS with mip levels, ${label}`,
    hint: `Colour and alpha of every level in one file: ${hint}.`,
    files: [
      { slot: 'base', extension: 'dds', texels, holds: 'colour and mask', contents: `${label} with all mip levels` },
    ],
  };
}

/** For targets that clip a magnified distance. */
function distances(id: ProfileId, divisor: FieldDivisor, size: string): Profile {
  return {
    id,
    label: `Colour PNG and distances at ${size}`,
    hint: 'The mask as distances from its outline, to be clipped at 0.5 whatever the cutoff was: sharp from near by.',
    files: [
      { slot: 'base', extension: 'png', holds: 'colour', contents: 'RGB, 8 bits each, no alpha' },
      {
        slot: 'mask',
        extension: 'png',
        holds: 'mask',
        divisor,
        contents: `distances from the outline, ${size} the size`,
      },
    ],
  };
}

/** Whether mip levels travel in the files. */
export function holdsLevels({ files }: Profile): boolean {
  return files.some((f) => f.extension === 'dds');
}

export function profileOf(id: ProfileId): Profile {
  return PROFILES.find((p) => p.id === id) ?? PROFILES[0];
}

export interface HandOffFile {
  name: string;
  plan: FilePlan;
  bytes: Uint8Array;
  /** What was written, and must be found in it. */
  raster: Raster<Samples>;
  /** Of a GLB, the textures beside that one, and maps that it has no place for. */
  textures?: { slot: GlbSlot; raster: Raster }[];
  leftOut?: string[];
  /** Of a DDS every level: as it was to be, and as it must be read out of its blocks. */
  levels?: { wanted: Picture[]; read: Picture[] };
}

export interface PackTools {
  encodePng(raster: Raster<Samples>): Promise<Uint8Array>;
  decodePng(bytes: Uint8Array): Promise<DecodedPicture>;
  /** Every issue that the official glTF validator finds, at any severity of error or warning. */
  validateGlb(bytes: Uint8Array): Promise<string[]>;
  /** Of the piece, for levels that it replaces. */
  sourceOf?: SourceOf;
  progress?(share: number, doing: string): void;
}

/** The raster that a plan puts into its file; null where the run makes no such map. */
export function rasterFor(
  { holds, divisor }: FilePlan,
  state: RunState,
  { material: { cutoff, opacity }, handOff }: Pick<PieceDoc, 'material' | 'handOff'>,
): Raster<Samples> | null {
  if (divisor) return distanceField(state.mask, thresholdByte(cutoff, opacity), divisor);
  if (holds === 'colour and mask') return withMaskAsAlpha(state);
  if (holds === 'occlusion, roughness, metalness') return surfaceRaster(state);
  return holds === 'colour' ? withoutAlpha(state.colour) : mapRaster(holds, state, handOff);
}

/** The card with the maps that glTF has places for. */
async function packCard(
  doc: PieceDoc,
  state: RunState,
  base: Uint8Array,
  tools: PackTools,
): Promise<Pick<HandOffFile, 'bytes' | 'textures' | 'leftOut'>> {
  const textures = GLB_SLOTS.flatMap((slot) => {
    const raster = slot.raster(state);
    return raster ? [{ slot, raster }] : [];
  });
  const has = (map: MapName) => state.maps.has(map);
  const packed: CardTexture[] = [];
  for (const { slot, raster } of textures) {
    const png = await tools.encodePng(raster);
    packed.push({ label: slot.label, png, into: (index) => slot.into(index, has) });
  }
  const bytes = writeCardGlb({
    name: doc.name,
    surface: cardSurface({ ...cardOf(doc), cardWidth: doc.cardWidth * frameOf(state).share }, state.colour),
    material: doc.material,
    wrap: { across: doc.levels.wrapAcross, down: doc.levels.wrapDown },
    base,
    textures: packed,
  });
  return { bytes, textures, leftOut: leftOutOfGlb(state.maps.keys()) };
}

/** Writes the files of a profile; a file for a map that the run does not make is left out. */
export async function packHandOff(
  doc: PieceDoc,
  state: RunState,
  tools: PackTools,
  { files }: Profile = profileOf(doc.handOff.profile),
): Promise<HandOffFile[]> {
  const out: HandOffFile[] = [];
  for (const [i, plan] of files.entries()) {
    const name = `${fileStem(doc, plan.slot, state.colour)}.${plan.extension}`;
    const report = (share: number) => tools.progress?.((i + share) / files.length, `Writing ${name}`);
    report(0);
    if (plan.texels) {
      const wanted = textureLevels(doc, state, tools.sourceOf);
      const { bytes, levels: read } = storeLevels(wanted, plan.texels, doc.material, doc.handOff.effort, report);
      out.push({ name, plan, bytes, raster: wanted[0], levels: { wanted, read } });
      continue;
    }
    const raster = rasterFor(plan, state, doc);
    if (!raster) continue;
    const png = await tools.encodePng(raster);
    out.push(
      plan.extension === 'png'
        ? { name, plan, bytes: png, raster }
        : { name, plan, raster, ...(await packCard(doc, state, png, tools)) },
    );
  }
  return out;
}
