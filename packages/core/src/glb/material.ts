import type { Material } from '../piece/piece-doc.ts';

/** Roughness of every card until the piece has a map of its own. */
export const CARD_ROUGHNESS = 0.75;

/** The material of glTF 2.0 §5.19; `alphaCutoff` only where the mode is MASK, as the specification asks. */
export function gltfMaterial(name: string, { mode, cutoff, doubleSided, opacity }: Material): Record<string, unknown> {
  return {
    name,
    pbrMetallicRoughness: {
      baseColorTexture: { index: 0 },
      ...(opacity < 1 ? { baseColorFactor: [1, 1, 1, opacity] } : {}),
      metallicFactor: 0,
      roughnessFactor: CARD_ROUGHNESS,
    },
    alphaMode: mode.toUpperCase(),
    ...(mode === 'mask' ? { alphaCutoff: cutoff } : {}),
    doubleSided,
  };
}
