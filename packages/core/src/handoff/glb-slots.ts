import { byteOfLinear16Table } from '../colour/srgb.ts';
import type { GltfMaterial, MaterialPart } from '../glb/material.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import type { Raster } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import { glbNormals, surfaceRaster } from './map-files.ts';

/** A place of a glTF material for maps of a run, beside the base colour. */
export interface GlbSlot {
  label: string;
  /** Maps that go into its texture. */
  holds: readonly MapName[];
  /** Its texture; null where the run makes none of its maps. Of some rows of a run, those rows. */
  raster(state: RunState): Raster | null;
  /** What it sets in the material. @param has - Which maps the run makes. */
  into(index: number, has: (map: MapName) => boolean): MaterialPart;
  /** Where its texture is found again. */
  textureOf(material: GltfMaterial): { index: number } | undefined;
}

/** Reflectance head on at white, of the 4 % that glTF starts from (KHR_materials_specular): our maps reach 8 %. */
const SPECULAR_AT_WHITE = 2;

/** Every one of them: a texture that glTF has a place for is an entry here. */
export const GLB_SLOTS: readonly GlbSlot[] = [
  {
    label: 'normal',
    holds: ['normal'],
    raster: glbNormals,
    into: (index) => ({ normalTexture: { index } }),
    textureOf: (material) => material.normalTexture,
  },
  {
    label: 'surface',
    holds: ['occlusion', 'roughness', 'metalness'],
    raster: surfaceRaster,
    // a texture is multiplied by the factors: what it does not hold is neutral in it
    into: (index, has) => ({
      ...(has('metalness') || has('roughness')
        ? {
            pbrMetallicRoughness: {
              ...(has('metalness') && { metallicFactor: 1 }),
              ...(has('roughness') && { roughnessFactor: 1 }),
              metallicRoughnessTexture: { index },
            },
          }
        : {}),
      ...(has('occlusion') && { occlusionTexture: { index } }),
    }),
    textureOf: ({ pbrMetallicRoughness, occlusionTexture }) =>
      pbrMetallicRoughness.metallicRoughnessTexture ?? occlusionTexture,
  },
  {
    label: 'specular',
    holds: ['specular'],
    raster: specularColour,
    // the colour and not the strength: that would dim what is mirrored at a grazing angle too
    into: (index) => ({
      extensions: {
        KHR_materials_specular: {
          specularColorFactor: [SPECULAR_AT_WHITE, SPECULAR_AT_WHITE, SPECULAR_AT_WHITE],
          specularColorTexture: { index },
        },
      },
    }),
    textureOf: ({ extensions }) => extensions?.KHR_materials_specular?.specularColorTexture,
  },
  {
    label: 'translucency',
    holds: ['translucency'],
    raster: transmission,
    into: (index) => ({
      extensions: {
        KHR_materials_diffuse_transmission: {
          diffuseTransmissionFactor: 1,
          diffuseTransmissionTexture: { index },
          diffuseTransmissionColorTexture: { index: 0 }, // what goes through has the colour of the sheet
        },
      },
    }),
    textureOf: ({ extensions }) => extensions?.KHR_materials_diffuse_transmission?.diffuseTransmissionTexture,
  },
];

/** What of these maps a GLB has no place for, as people call them. */
export function leftOutOfGlb(maps: Iterable<MapName>): string[] {
  const placed = new Set<MapName>(['colour', 'mask', ...GLB_SLOTS.flatMap(({ holds }) => holds)]);
  return [...maps].filter((map) => !placed.has(map)).map((map) => mapKind(map).label);
}

/** A colour, read as sRGB: encoded so that it is decoded to the map's own values. */
function specularColour({ maps }: RunState): Raster | null {
  const map = maps.get('specular');
  if (!map) return null;
  const encoded = byteOfLinear16Table();
  const data = new Uint8Array(3 * map.data.length);
  for (let i = 0, o = 0; i < map.data.length; i++, o += 3) {
    data[o] = data[o + 1] = data[o + 2] = encoded[map.data[i] * 257];
  }
  return { width: map.width, height: map.height, channels: 3, data };
}

/** Read from alpha, the colour left aside. */
function transmission({ maps }: RunState): Raster | null {
  const map = maps.get('translucency');
  if (!map) return null;
  const data = new Uint8Array(4 * map.data.length).fill(255);
  for (let i = 0; i < map.data.length; i++) data[4 * i + 3] = map.data[i];
  return { width: map.width, height: map.height, channels: 4, data };
}
