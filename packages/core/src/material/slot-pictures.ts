import { byteOfLinear16Table } from '../colour/srgb.ts';
import { mapKind, type MapName } from '../raster/maps.ts';
import { toEightBits, type Raster, type Samples } from '../raster/raster.ts';
import type { GltfMaterial } from './gltf-material.ts';

/** Texels by the map that they are of. */
type Held = ReadonlyMap<string, Raster<Samples>>;

/** A picture of a GLB for one slot or several. */
export interface SlotPicture {
  label: string;
  channels: 3 | 4;
  holds: 'colour' | 'data';
  /** Its texels, where at least one of its slots is there. Of some rows of a piece, those rows. */
  raster(slots: Held): Raster;
  /** Where a material has it. */
  textureOf(material: GltfMaterial): { index: number } | undefined;
}

/** 8 bits, which every reader takes, and green up, as glTF has it. */
export const NORMALS: SlotPicture = {
  label: 'normal',
  channels: 3,
  holds: 'data',
  raster(slots) {
    const raster = slots.get('normal')!;
    return { ...raster, data: toEightBits(raster.data) };
  },
  textureOf: (material) => material.normalTexture,
};

/** Occlusion in red, roughness in green, metalness in blue, as glTF 2.0 §3.9.2 and §3.9.3 read them. */
const PACKED = ['occlusion', 'roughness', 'metalness'] as const;

export const SURFACE: SlotPicture = {
  label: 'surface',
  channels: 3,
  holds: 'data',
  raster: (slots) => packed(slots)!,
  textureOf: ({ pbrMetallicRoughness, occlusionTexture }) =>
    pbrMetallicRoughness.metallicRoughnessTexture ?? occlusionTexture,
};

/** Those three in one picture, what is missing neutral; null where there is none of them. */
export function packed(maps: Held): Raster | null {
  const parts = PACKED.map((map) => maps.get(map));
  const some = parts.find((part) => part);
  if (!some) return null;
  const { width, height } = some;
  const data = new Uint8Array(3 * width * height);
  for (const [c, part] of parts.entries()) {
    const neutral = mapKind(PACKED[c]).neutral[0];
    for (let i = 0, o = c; o < data.length; i++, o += 3) data[o] = part ? part.data[i] : neutral;
  }
  return { width, height, channels: 3, data };
}

/** A colour, read as sRGB: encoded so that it is decoded to the map's own values. */
export const SPECULAR: SlotPicture = {
  label: 'specular',
  channels: 3,
  holds: 'colour',
  raster(slots) {
    const map = slots.get('specular')!;
    const encoded = byteOfLinear16Table();
    const data = new Uint8Array(3 * map.data.length);
    for (let i = 0, o = 0; i < map.data.length; i++, o += 3) {
      data[o] = data[o + 1] = data[o + 2] = encoded[map.data[i] * 257];
    }
    return { width: map.width, height: map.height, channels: 3, data };
  },
  textureOf: ({ extensions }) => extensions?.KHR_materials_specular?.specularColorTexture,
};

/** Read from alpha, the colour left aside. */
export const TRANSMISSION: SlotPicture = {
  label: 'translucency',
  channels: 4,
  holds: 'data',
  raster(slots) {
    const map = slots.get('translucency')!;
    const data = new Uint8Array(4 * map.data.length).fill(255);
    for (let i = 0; i < map.data.length; i++) data[4 * i + 3] = map.data[i];
    return { width: map.width, height: map.height, channels: 4, data };
  },
  textureOf: ({ extensions }) => extensions?.KHR_materials_diffuse_transmission?.diffuseTransmissionTexture,
};

/** Three channels of a map of colours, read as sRGB as they are. */
function ofColours(map: 'throughColour' | 'emission', label: string, textureOf: SlotPicture['textureOf']): SlotPicture {
  return {
    label,
    channels: 3,
    holds: 'colour',
    raster(slots) {
      const { width, height, data: all } = slots.get(map)!;
      const data = new Uint8Array(3 * width * height);
      for (let i = 0, o = 0; o < data.length; i += 4, o += 3) {
        data[o] = all[i];
        data[o + 1] = all[i + 1];
        data[o + 2] = all[i + 2];
      }
      return { width, height, channels: 3, data };
    },
    textureOf,
  };
}

export const THROUGH_COLOUR = ofColours(
  'throughColour',
  'translucency colour',
  ({ extensions }) => extensions?.KHR_materials_diffuse_transmission?.diffuseTransmissionColorTexture,
);

export const EMISSION = ofColours('emission', 'emission', (material) => material.emissiveTexture);

/** Those that hold one map alone, by it. */
export const GLTF_PICTURES: Partial<Record<MapName, SlotPicture>> = {
  normal: NORMALS,
  specular: SPECULAR,
  translucency: TRANSMISSION,
  throughColour: THROUGH_COLOUR,
  emission: EMISSION,
};
