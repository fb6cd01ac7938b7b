import { SieveError } from '../errors.ts';
import type { GltfMaterial } from './material.ts';

/** The parts of a GLB that a check of ours compares. */
export interface ReadGlb {
  material: {
    alphaMode: string;
    alphaCutoff: number;
    doubleSided: boolean;
    opacity: number;
  };
  /** The base colour image as a file. */
  image: Uint8Array;
  /** The image of a texture of its material, where there is one. */
  imageOf(textureOf: (material: GltfMaterial) => { index: number } | undefined): Uint8Array | null;
}

interface GltfJson {
  materials: GltfMaterial[];
  textures: { source: number }[];
  images: { bufferView: number }[];
  bufferViews: { byteOffset?: number; byteLength: number }[];
}

/** Reads back a card: container, material with the defaults of glTF 2.0 §5.19, base colour image. */
export function readCardGlb(bytes: Uint8Array): ReadGlb {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 28 || view.getUint32(0, true) !== 0x46546c67 || view.getUint32(8, true) !== bytes.length) {
    throw new SieveError('corrupt', 'The GLB header does not fit the file.');
  }
  const jsonLength = view.getUint32(12, true);
  const json = JSON.parse(ascii(bytes.subarray(20, 20 + jsonLength))) as GltfJson;
  const bin = bytes.subarray(28 + jsonLength);
  const [material] = json.materials;
  const imageAt = (texture: { index: number } | undefined): Uint8Array | null => {
    if (!texture) return null;
    const { byteOffset = 0, byteLength } =
      json.bufferViews[json.images[json.textures[texture.index].source].bufferView];
    return bin.subarray(byteOffset, byteOffset + byteLength);
  };
  const pbr = material.pbrMetallicRoughness;
  return {
    material: {
      alphaMode: material.alphaMode ?? 'OPAQUE',
      alphaCutoff: material.alphaCutoff ?? 0.5,
      doubleSided: material.doubleSided ?? false,
      opacity: material.pbrMetallicRoughness.baseColorFactor?.[3] ?? 1,
    },
    image: imageAt(pbr.baseColorTexture)!,
    imageOf: (textureOf) => imageAt(textureOf(material)),
  };
}

function ascii(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 4096) text += String.fromCharCode(...bytes.subarray(i, i + 4096));
  return text;
}
