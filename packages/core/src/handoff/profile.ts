import type { DdsFormat } from '../codec/dds/write.ts';
import { PACKING_AT_FIRST } from '../piece/packing.ts';
import { hasRegions } from '../piece/has-regions.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { ProfileId } from '../piece/profile-id.ts';
import type { Target } from '../piece/target.ts';
import type { RunState } from '../raster/run-state.ts';
import type { FieldDivisor } from '../sieve/distance-field.ts';
import type { PackTools, Written } from './file-format.ts';
import { fileStem } from './file-name.ts';
import { isPicture, type FilePlan, type PicturePlan } from './file-plan.ts';
import { formatOf } from './formats.ts';
import { REGIONS_FILE } from './formats/regions.ts';
import { MAP_FILES, SURFACE_FILE } from './map-files.ts';
import { packedPlans } from './packed.ts';

export interface Profile {
  id: ProfileId;
  label: string;
  hint: string;
  files: readonly FilePlan[];
  /** What of its target is not as {@link TARGET_AT_FIRST} has it. */
  target?: Partial<Target>;
}

const BASE: PicturePlan = {
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
    target: { opacity: 'mask picture' },
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
  {
    id: 'own-packing',
    label: 'Channels packed by yourself',
    hint: 'PNG files of your own: for each channel a map, its inverse, or a value.',
    files: [],
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
    target: { levels: 'file', ...(texels === 'BC1' ? { oneBit: true } : {}) },
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
    target: { opacity: 'mask picture' },
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

export interface HandOffFile extends Written {
  name: string;
  plan: FilePlan;
}

/** What a profile writes of a piece: beside its own files the regions of an atlas. */
export function filesOf(doc: PieceDoc, { files }: Profile = profileOf(doc.handOff.profile)): readonly FilePlan[] {
  const { profile, packing = PACKING_AT_FIRST } = doc.handOff;
  const own = profile === 'own-packing' ? packedPlans(packing) : [];
  return [...files, ...own, ...(hasRegions(doc) ? [REGIONS_FILE] : [])];
}

/** @param size - Of the whole texture. */
export function fileName(doc: PieceDoc, plan: FilePlan, { width, height }: { width: number; height: number }): string {
  const halvings = isPicture(plan) ? (plan.packed?.halvings ?? 0) : 0;
  const size = { width: Math.max(1, width >> halvings), height: Math.max(1, height >> halvings) };
  return `${fileStem(doc, plan.slot, size)}.${plan.extension}`;
}

/** Writes the files of a profile; a file for a map that the run does not make is omitted. */
export async function packHandOff(
  doc: PieceDoc,
  state: RunState,
  tools: PackTools,
  profile?: Profile,
): Promise<HandOffFile[]> {
  const out: HandOffFile[] = [];
  const plans = filesOf(doc, profile);
  for (const [i, plan] of plans.entries()) {
    const name = fileName(doc, plan, state.colour);
    const report = (share: number) => tools.progress?.((i + share) / plans.length, `Writing ${name}`);
    report(0);
    const written = await formatOf(plan).write(plan, { doc, state }, tools, report);
    if (written) out.push({ name, plan, ...written });
  }
  return out;
}
