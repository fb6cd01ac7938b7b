import type { MapName } from '../raster/maps.ts';
import type { Raster, Samples } from '../raster/raster.ts';
import type { MaterialPart } from './gltf-material.ts';
import {
  EMISSION,
  NORMALS,
  SPECULAR,
  SURFACE,
  THROUGH_COLOUR,
  TRANSMISSION,
  type SlotPicture,
} from './slot-pictures.ts';

/** A place of a material that a map of the run fills, beside colour and alpha. */
export interface MaterialSlot {
  /** Says its channels and depth, whether it holds colour or data, and its neutral value. */
  map: MapName;
  /** The picture of a GLB that it lies in; several may share one. */
  picture: SlotPicture;
  /** What it sets in a glTF material, given the picture's place in the file. */
  into(index: number): MaterialPart;
}

/** Reflectance head on at white, of the 4 % that glTF starts from (KHR_materials_specular): our maps reach 8 %. */
const SPECULAR_AT_WHITE = 2;

/**
 * The one table of them. Writer, read-back, estimates, the packed surface file and the list of what is left out go over it;
 * the Stand has a shader term for each (`surface-shader.ts` of the web does not compile without).
 */
export const MATERIAL_SLOTS = {
  normal: { map: 'normal', picture: NORMALS, into: (index) => ({ normalTexture: { index } }) },
  // a texture is multiplied by the factors: what it does not hold is neutral in it
  roughness: {
    map: 'roughness',
    picture: SURFACE,
    into: (index) => ({ pbrMetallicRoughness: { roughnessFactor: 1, metallicRoughnessTexture: { index } } }),
  },
  metalness: {
    map: 'metalness',
    picture: SURFACE,
    into: (index) => ({ pbrMetallicRoughness: { metallicFactor: 1, metallicRoughnessTexture: { index } } }),
  },
  // the colour and not the strength: that would dim what is mirrored at a grazing angle too
  specular: {
    map: 'specular',
    picture: SPECULAR,
    into: (index) => ({
      extensions: {
        KHR_materials_specular: {
          specularColorFactor: [SPECULAR_AT_WHITE, SPECULAR_AT_WHITE, SPECULAR_AT_WHITE],
          specularColorTexture: { index },
        },
      },
    }),
  },
  occlusion: { map: 'occlusion', picture: SURFACE, into: (index) => ({ occlusionTexture: { index } }) },
  translucency: {
    map: 'translucency',
    picture: TRANSMISSION,
    into: (index) => ({
      extensions: {
        KHR_materials_diffuse_transmission: {
          diffuseTransmissionFactor: 1,
          diffuseTransmissionTexture: { index },
          diffuseTransmissionColorTexture: { index: 0 }, // the colour of the sheet, unless it has one of its own
        },
      },
    }),
  },
  throughColour: {
    map: 'throughColour',
    picture: THROUGH_COLOUR,
    into: (index) => ({
      extensions: { KHR_materials_diffuse_transmission: { diffuseTransmissionColorTexture: { index } } },
    }),
  },
  // how strong it is, is a number of the material
  emission: {
    map: 'emission',
    picture: EMISSION,
    into: (index) => ({ emissiveTexture: { index }, emissiveFactor: [1, 1, 1] }),
  },
} as const satisfies Record<string, MaterialSlot>;

export type SlotName = keyof typeof MATERIAL_SLOTS;
export const SLOT_NAMES = Object.keys(MATERIAL_SLOTS) as SlotName[];

const all = () => Object.entries(MATERIAL_SLOTS) as [SlotName, MaterialSlot][];

/** The texels of the slots that a piece fills; all have one size. */
export type SlotRasters = ReadonlyMap<SlotName, Raster<Samples>>;

/** Those of a run's maps that a material has a slot for. */
export function slotsOf(maps: ReadonlyMap<MapName, Raster<Samples>>): SlotRasters {
  return new Map(
    all().flatMap(([name, slot]) => {
      const raster = maps.get(slot.map);
      return raster ? [[name, raster] as const] : [];
    }),
  );
}

/** A picture of a GLB with what it holds. */
export interface FilledPicture {
  picture: SlotPicture;
  raster: Raster;
  /** What its slots set in the material. */
  into: (index: number) => MaterialPart[];
}

/** The pictures that these slots need beside the base colour, in the order of the file. */
export function picturesOf(slots: SlotRasters): FilledPicture[] {
  const filled = all().flatMap(([name, slot]) => (slots.has(name) ? [slot] : []));
  return [...new Set(filled.map((slot) => slot.picture))].map((picture) => {
    const held = filled.filter((slot) => slot.picture === picture);
    return { picture, raster: picture.raster(slots), into: (index) => held.map((slot) => slot.into(index)) };
  });
}
