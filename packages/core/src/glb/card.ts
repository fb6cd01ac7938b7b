import type { Material } from '../piece/piece-doc.ts';

/** A card stands on y = 0, centred on x, facing +Z; units are metres. */
export interface CardSize {
  width: number;
  height: number;
}

export function cardSize(widthMetres: number, picture: { width: number; height: number }): CardSize {
  return { width: widthMetres, height: (widthMetres * picture.height) / picture.width };
}

/** The four corners: bottom left, bottom right, top right, top left. UV origin is the top left (glTF 2.0 §3.8.3). */
export function cardGeometry({ width, height }: CardSize): {
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  indices: Uint16Array;
} {
  const half = width / 2;
  return {
    positions: Float32Array.of(-half, 0, 0, half, 0, 0, half, height, 0, -half, height, 0),
    normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
    uvs: Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0),
    indices: Uint16Array.of(0, 1, 2, 0, 2, 3),
  };
}

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
