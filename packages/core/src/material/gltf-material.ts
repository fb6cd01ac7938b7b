import type { Material } from '../piece/piece-doc.ts';

/** Roughness of every card until the piece has a map of its own. */
export const CARD_ROUGHNESS = 0.75;

interface TextureInfo {
  index: number;
}

/** The material of glTF 2.0 §5.19, as far as cards use it, with the Khronos extensions for specular, translucency and emission. */
export interface GltfMaterial {
  name?: string;
  alphaMode?: string;
  alphaCutoff?: number;
  doubleSided?: boolean;
  pbrMetallicRoughness: {
    baseColorTexture: TextureInfo;
    baseColorFactor?: number[];
    metallicFactor?: number;
    roughnessFactor?: number;
    metallicRoughnessTexture?: TextureInfo;
  };
  normalTexture?: TextureInfo;
  occlusionTexture?: TextureInfo;
  emissiveTexture?: TextureInfo;
  emissiveFactor?: number[];
  extensions?: MaterialExtensions;
}

interface MaterialExtensions {
  KHR_materials_specular?: { specularColorFactor: number[]; specularColorTexture: TextureInfo };
  KHR_materials_diffuse_transmission?: {
    diffuseTransmissionFactor?: number;
    diffuseTransmissionTexture?: TextureInfo;
    diffuseTransmissionColorTexture: TextureInfo;
  };
  KHR_materials_emissive_strength?: { emissiveStrength: number };
}

/** What a texture sets in a material. */
export type MaterialPart = Partial<Omit<GltfMaterial, 'pbrMetallicRoughness'>> & {
  pbrMetallicRoughness?: Partial<GltfMaterial['pbrMetallicRoughness']>;
};

/** Of a back that looks otherwise. @param tint - Linear. @param base - Place of its own base texture; 0: the front's. */
export function backGltfMaterial(front: GltfMaterial, tint: readonly number[], base: number): GltfMaterial {
  const { baseColorFactor = [1, 1, 1, 1] } = front.pbrMetallicRoughness;
  return {
    ...front,
    name: backName(front.name ?? ''),
    pbrMetallicRoughness: {
      ...front.pbrMetallicRoughness,
      baseColorTexture: { index: base },
      baseColorFactor: [...tint, baseColorFactor[3]],
    },
  };
}

/** The material of a back has the front's name and this. */
export const backName = (front: string): string => `${front} back`;

/** Linear reflectance of what shows no picture: the grey of a photographer's card, 18 %; common practice. */
export const PLAIN_GREY = 0.18;

/** Of triangles that show no picture. */
export function plainGltfMaterial(name: string): object {
  return {
    name,
    pbrMetallicRoughness: {
      baseColorFactor: [PLAIN_GREY, PLAIN_GREY, PLAIN_GREY, 1],
      metallicFactor: 0,
      roughnessFactor: CARD_ROUGHNESS,
    },
    doubleSided: true,
  };
}

/** `alphaCutoff` stands only where the mode is MASK, as the specification asks. */
export function gltfMaterial(
  name: string,
  { mode, cutoff, doubleSided, opacity, emission = 1 }: Material,
  parts: readonly MaterialPart[] = [],
): GltfMaterial {
  const glows = parts.some((part) => part.emissiveTexture) && emission !== 1;
  const strength: MaterialPart = {
    extensions: { KHR_materials_emissive_strength: { emissiveStrength: emission } },
  };
  const extensions = joined([...parts, ...(glows ? [strength] : [])]);
  const surface = Object.assign(
    {},
    ...parts.map((part) => part.pbrMetallicRoughness),
  ) as MaterialPart['pbrMetallicRoughness'];
  const others = parts.map(({ pbrMetallicRoughness: _, extensions: __, ...part }) => part);
  return {
    name,
    pbrMetallicRoughness: {
      baseColorTexture: { index: 0 },
      ...(opacity < 1 ? { baseColorFactor: [1, 1, 1, opacity] } : {}),
      metallicFactor: 0,
      roughnessFactor: CARD_ROUGHNESS,
      ...surface,
    },
    ...(Object.assign({}, ...others) as Partial<GltfMaterial>),
    alphaMode: mode.toUpperCase(),
    ...(mode === 'mask' ? { alphaCutoff: cutoff } : {}),
    doubleSided,
    ...(Object.keys(extensions).length > 0 ? { extensions } : {}),
  };
}

/** Several parts may set values of one extension. */
function joined(parts: readonly MaterialPart[]): MaterialExtensions {
  const out: Record<string, object> = {};
  for (const { extensions = {} } of parts) {
    for (const [name, values] of Object.entries(extensions as Record<string, object>))
      out[name] = { ...out[name], ...values };
  }
  return out;
}
