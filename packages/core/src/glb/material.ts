import type { Material } from '../piece/piece-doc.ts';

/** Roughness of every card until the piece has a map of its own. */
export const CARD_ROUGHNESS = 0.75;

/** The packed texture of a card: occlusion in red, roughness in green, metalness in blue; those that it holds. */
export interface PackedSurface {
  png: Uint8Array;
  holds: readonly ('occlusion' | 'roughness' | 'metalness')[];
}

/** Which textures a material has, by their place in the file. */
export interface TexturePlaces {
  normal?: number | undefined;
  packed?: { index: number; holds: PackedSurface['holds'] } | undefined;
}

/** The material of glTF 2.0 §5.19; `alphaCutoff` only where the mode is MASK, as the specification asks. */
export function gltfMaterial(
  name: string,
  { mode, cutoff, doubleSided, opacity }: Material,
  { normal, packed }: TexturePlaces = {},
): Record<string, unknown> {
  const has = (map: PackedSurface['holds'][number]) => packed?.holds.includes(map) ?? false;
  return {
    name,
    pbrMetallicRoughness: {
      baseColorTexture: { index: 0 },
      ...(opacity < 1 ? { baseColorFactor: [1, 1, 1, opacity] } : {}),
      // a texture is multiplied by these: what it does not hold is neutral in it
      metallicFactor: has('metalness') ? 1 : 0,
      roughnessFactor: has('roughness') ? 1 : CARD_ROUGHNESS,
      ...(packed && (has('metalness') || has('roughness'))
        ? { metallicRoughnessTexture: { index: packed.index } }
        : {}),
    },
    ...(normal === undefined ? {} : { normalTexture: { index: normal } }),
    ...(packed && has('occlusion') ? { occlusionTexture: { index: packed.index } } : {}),
    alphaMode: mode.toUpperCase(),
    ...(mode === 'mask' ? { alphaCutoff: cutoff } : {}),
    doubleSided,
  };
}
