import type { TextureFormat } from '../codec/texture-format.ts';
import type { NameFacts } from '../piece/naming.ts';
import { PACKING_AT_FIRST, type TextureContainer } from '../piece/packing.ts';
import { hasRegions } from '../piece/has-regions.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { ProfileId } from '../piece/profile-id.ts';
import type { Target } from '../piece/target.ts';
import type { MapName } from '../raster/maps.ts';
import type { RunState } from '../raster/run-state.ts';
import type { FieldDivisor } from '../sieve/distance-field.ts';
import type { PieceView } from '../material/piece-view.ts';
import type { Packed, PackTools, Written } from './file-format.ts';
import { viewOf } from './view-of.ts';
import { fileStem } from './file-name.ts';
import { isPicture, isTexture, packedIn, type FilePlan, type PicturePlan, type TexturePlan } from './file-plan.ts';
import { formatOf } from './formats.ts';
import { REGIONS_FILE } from './formats/regions.ts';
import { GLTF_FILES, MAP_FILES, SURFACE_FILE } from './map-files.ts';
import { packedPlans } from './packed.ts';

/** Kinds of profile, as a person looks for one. */
export const PROFILE_GROUPS = ['Card with its material', 'Pictures', 'Every mip level', 'Distances'] as const;
export type ProfileGroup = (typeof PROFILE_GROUPS)[number];

export interface Profile {
  id: ProfileId;
  /** What it is among: said above it in a list. */
  group: ProfileGroup;
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

const COLOUR: PicturePlan = { slot: 'base', extension: 'png', holds: 'colour', contents: 'RGB, 8 bits each, no alpha' };

const MASK: PicturePlan = {
  slot: 'mask',
  extension: 'png',
  holds: 'mask',
  contents: 'grey, 8 bits: white kept, black dropped',
};

const isIn = (maps: readonly MapName[]) => (plan: PicturePlan) => maps.includes(plan.holds as MapName);
/** Colour of a back that has its own. */
const BACK = MAP_FILES.filter(isIn(['backColour']));

/** How a hand-off is packed. A new profile is one entry here. */
export const PROFILES: readonly Profile[] = [
  {
    id: 'glb',
    group: 'Card with its material',
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
    id: 'gltf',
    group: 'Card with its material',
    label: 'Card as glTF, files apart',
    hint: 'glTF 2.0 as text, its geometry and each picture in a file beside it.',
    files: [
      { slot: 'card', extension: 'gltf', holds: 'scene', contents: 'material, and which file is what' },
      { slot: 'card', extension: 'bin', holds: 'geometry', contents: 'vertices and triangles' },
      BASE,
      SURFACE_FILE,
      ...GLTF_FILES,
      ...BACK,
    ],
  },
  {
    id: 'usd',
    group: 'Card with its material',
    label: 'Card as USD, pictures beside',
    hint: 'A layer as text with UsdPreviewSurface: the cutoff as opacityThreshold, sides at the mesh, metres, Y up.',
    files: [
      { slot: 'card', extension: 'usda', holds: 'scene', contents: 'card and material, UsdPreviewSurface' },
      BASE,
      SURFACE_FILE,
      ...GLTF_FILES.filter(isIn(['normal', 'emission'])),
      ...BACK,
    ],
  },
  {
    id: 'usdz',
    group: 'Card with its material',
    label: 'Card as USDZ',
    hint: 'The same in one package: the layer and its pictures, nothing compressed, each aligned.',
    files: [{ slot: 'card', extension: 'usdz', holds: 'colour and mask', contents: 'card, material, pictures' }],
  },
  {
    id: 'materialx',
    group: 'Card with its material',
    label: 'Material as MaterialX',
    hint: 'Version 1.39 as gltf_pbr, and as standard_surface with the clip compared before opacity. It holds no card.',
    files: [
      { slot: 'card', extension: 'mtlx', holds: 'material', shader: 'gltf_pbr', contents: 'material, gltf_pbr' },
      {
        slot: 'card_standard',
        extension: 'mtlx',
        holds: 'material',
        shader: 'standard_surface',
        contents: 'material, standard_surface',
      },
      BASE,
      SURFACE_FILE,
      ...GLTF_FILES.filter(isIn(['normal', 'emission', 'throughColour'])),
      ...MAP_FILES.filter(isIn(['specular', 'translucency'])),
      ...BACK,
    ],
  },
  {
    id: 'obj',
    group: 'Card with its material',
    label: 'Card as OBJ + MTL',
    hint: 'For targets that know no newer format: the card, and a material with map_d. It has no cutoff and no sides.',
    files: [
      { slot: 'card', extension: 'obj', holds: 'scene', contents: 'vertices and triangles' },
      { slot: 'card', extension: 'mtl', holds: 'scene', contents: 'material: map_Kd, map_d' },
      COLOUR,
      MASK,
      ...GLTF_FILES.filter(isIn(['normal', 'emission'])),
      ...MAP_FILES.filter(isIn(['roughness', 'metalness'])),
    ],
  },
  {
    id: 'rgba-png',
    group: 'Pictures',
    label: 'Colour + alpha in one PNG',
    hint: 'For targets that clip by the alpha channel of the base colour.',
    files: [BASE],
  },
  {
    id: 'rgb-and-mask',
    group: 'Pictures',
    label: 'Colour PNG and mask PNG',
    hint: 'For targets with a slot of its own for the opacity mask.',
    target: { opacity: 'mask picture' },
    files: [COLOUR, MASK],
  },
  {
    id: 'all-maps',
    group: 'Pictures',
    label: 'Every map as a PNG',
    hint: 'Colour with alpha, and each map that the run makes in a file of its own.',
    files: [BASE, ...MAP_FILES],
  },
  {
    id: 'described',
    group: 'Pictures',
    label: 'Every map, and a description as JSON',
    hint: 'Plain JSON with a published schema: the material, the card, and which file and channel holds what.',
    files: [
      { slot: 'description', extension: 'json', holds: 'description', contents: 'JSON: material, card, pictures' },
      BASE,
      ...MAP_FILES,
    ],
  },
  {
    id: 'packed-maps',
    group: 'Pictures',
    label: 'Colour, normal and packed surface PNG',
    hint: 'Colour with alpha, normals, and occlusion, roughness and metalness in the channels of one file.',
    files: [BASE, ...MAP_FILES.filter((f) => f.holds === 'normal'), SURFACE_FILE],
  },
  {
    id: 'own-packing',
    group: 'Pictures',
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
function dds(id: ProfileId, texels: TextureFormat, hint: string): Profile {
  const label = texels === 'rgba8' ? 'RGBA' : texels;
  return {
    id,
    group: 'Every mip level',
    label: `Levels in the file, ${label}`,
    hint: `A DDS or KTX2 with colour and alpha of every level: ${hint}.`,
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
    group: 'Distances',
    label: `Colour PNG and distances at ${size}`,
    hint: 'The mask as distances from its outline, to be clipped at 0.5 whatever the cutoff was: sharp from near by.',
    target: { opacity: 'mask picture' },
    files: [
      COLOUR,
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
export function holdsLevels({ handOff }: Pick<PieceDoc, 'handOff'>): boolean {
  return filesOf({ handOff, sources: [], run: [] }).some(isTexture);
}

export function profileOf(id: ProfileId): Profile {
  return PROFILES.find((p) => p.id === id) ?? PROFILES[0];
}

export interface HandOffFile extends Written {
  name: string;
  plan: FilePlan;
}

/** What a profile writes of a piece: beside its own files the regions of an atlas. */
export function filesOf(
  doc: Pick<PieceDoc, 'handOff' | 'sources' | 'run'>,
  { files }: Profile = profileOf(doc.handOff.profile),
): readonly FilePlan[] {
  const { profile, packing = PACKING_AT_FIRST, container = 'DDS' } = doc.handOff;
  const own = profile === 'own-packing' ? packedPlans(packing) : [];
  const contained =
    container === 'DDS' ? files : files.map((plan) => (isTexture(plan) ? inKtx2(plan, container) : plan));
  return [...contained, ...own, ...(hasRegions(doc) ? [REGIONS_FILE] : [])];
}

const inKtx2 = (plan: TexturePlan, container: TextureContainer): TexturePlan => ({
  ...plan,
  extension: 'ktx2',
  zlib: container === 'KTX2, zlib',
});

/** @param size - Of the whole texture. */
export function fileName(
  doc: PieceDoc,
  plan: FilePlan,
  { width, height }: { width: number; height: number },
  facts?: NameFacts,
): string {
  const halvings = packedIn(plan)?.halvings ?? 0;
  const size = { width: Math.max(1, width >> halvings), height: Math.max(1, height >> halvings) };
  return `${fileStem(doc, { slot: plan.slot, size, ...(facts ? { facts } : {}) })}.${plan.extension}`;
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
  const maps = new Set(state.maps.keys());
  const nameOf = (plan: FilePlan) => fileName(doc, plan, state.colour, tools.facts);
  let view: PieceView | undefined;
  const piece: Packed = {
    doc,
    state,
    pictures: plans
      .filter(isPicture)
      .filter((plan) => formatOf(plan).isWritten(plan, maps))
      .map((plan) => ({ plan, name: nameOf(plan) })),
    nameOf: (extension) => nameOf(plans.find((plan) => plan.extension === extension)!),
    view: () => (view ??= viewOf(doc, state, tools)),
  };
  for (const [i, plan] of plans.entries()) {
    const name = nameOf(plan);
    const report = (share: number) => tools.progress?.((i + share) / plans.length, `Writing ${name}`);
    report(0);
    const written = await formatOf(plan).write(plan, piece, tools, report);
    if (written) out.push({ name, plan, ...written });
  }
  return out;
}
