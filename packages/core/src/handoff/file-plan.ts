import type { MtlxShader } from '../scene/mtlx-write.ts';
import { GLTF_PICTURES } from '../material/slot-pictures.ts';
import type { TextureFormat } from '../codec/texture-format.ts';
import type { FileSlot } from '../piece/profile-id.ts';
import {
  PICTURE_EXTENSIONS,
  TEXTURE_EXTENSIONS,
  type PackedFile,
  type PictureExtension,
  type TextureExtension,
} from '../piece/packing.ts';
import { mapKind, MAPS, type MapName } from '../raster/maps.ts';
import type { FieldDivisor } from '../sieve/distance-field.ts';

/** What every plan says. */
interface Planned {
  /** What {map} of its name stands for: of our own profiles one of these, else what a person called it. */
  slot: FileSlot | (string & {});
  /** For a person, a few words. */
  contents: string;
}

export interface PicturePlan extends Planned {
  extension: PictureExtension;
  /** One map, or several in the channels of one. */
  holds: MapName | 'colour and mask' | 'occlusion, roughness, metalness' | 'packed';
  /** As glTF's slot for that map reads it: normals of 8 bits, green up; reflectance as a colour; translucency in alpha. */
  forGltf?: true;
  /** Where a person fills its channels. */
  packed?: PackedFile;
  /** A mask as distances from its outline, so many times smaller. */
  divisor?: FieldDivisor;
}

/** All mip levels in one file. */
export interface TexturePlan extends Planned {
  extension: TextureExtension;
  holds: 'colour and mask' | 'packed';
  texels: TextureFormat;
  /** Where a person fills its channels. */
  packed?: PackedFile;
  /** Of a KTX2: each level compressed as a whole. */
  zlib?: boolean;
}

/** The card with its material and its pictures, in one file. */
export interface GlbPlan extends Planned {
  extension: 'glb' | 'usdz';
  holds: 'colour and mask';
}

/** The card with its material, its pictures in files beside it. */
export interface ScenePlan extends Planned {
  extension: 'gltf' | 'usda' | 'obj' | 'mtl';
  holds: 'scene';
}

/** What a scene file leaves to a file beside it. */
export interface GeometryPlan extends Planned {
  extension: 'bin';
  holds: 'geometry';
}

/** A material alone. */
export interface MtlxPlan extends Planned {
  extension: 'mtlx';
  holds: 'material';
  shader: MtlxShader;
}

/** Where the parts of an atlas lie. */
export interface RegionsPlan extends Planned {
  extension: 'json';
  holds: 'regions';
}

/** The material and its pictures in plain JSON. */
export interface DescriptionPlan extends Planned {
  extension: 'json';
  holds: 'description';
}

/** A file that a hand-off writes. Each kind has its format in `formats/`. */
export type FilePlan =
  PicturePlan | TexturePlan | GlbPlan | ScenePlan | GeometryPlan | MtlxPlan | RegionsPlan | DescriptionPlan;

export function isPicture(plan: FilePlan): plan is PicturePlan {
  return PICTURE_EXTENSIONS.some((extension) => extension === plan.extension);
}

export function isTexture(plan: FilePlan): plan is TexturePlan {
  return TEXTURE_EXTENSIONS.some((extension) => extension === plan.extension);
}

/** The channels that a person filled; of another file none. */
export const packedIn = (plan: FilePlan): PackedFile | undefined => ('packed' in plan ? plan.packed : undefined);

/** Files that say what is drawn: a card, or the materials of one. */
const SCENES: readonly FilePlan['extension'][] = ['glb', 'gltf', 'usda', 'usdz', 'mtlx', 'obj', 'mtl'];

export const isScene = ({ extension }: FilePlan): boolean => SCENES.includes(extension);

/** Files that a person can read. */
const TEXTS: readonly FilePlan['extension'][] = ['gltf', 'usda', 'mtlx', 'obj', 'mtl', 'json'];

export const isText = ({ extension }: FilePlan): boolean => TEXTS.includes(extension);

/** Whether it is seen as it is: then a file may say that it is sRGB, which of data would be wrong. */
export function isColour({ holds, packed: of, forGltf }: Pick<PicturePlan, 'holds' | 'packed' | 'forGltf'>): boolean {
  if (forGltf) return GLTF_PICTURES[holds as MapName]?.holds === 'colour';
  if (of) return of.fills.some((fill) => 'map' in fill && mapKind(fill.map).holds === 'colour');
  return holds === 'colour' || holds === 'colour and mask' || (holds in MAPS && mapKind(holds as MapName).holds === 'colour'); // prettier-ignore
}
