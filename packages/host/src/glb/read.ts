import type { Accessor, GLTF, JSONDocument, Primitive } from '@gltf-transform/core';
import {
  backName,
  SieveError,
  type Beside,
  type GltfMaterial,
  type ReadGlb,
  type SurfaceMesh,
} from '@lithe-sieve/core';
import { glbIo, ROOT_TIP } from './io.ts';

/** Reads back a card: container, material with the defaults of glTF 2.0 §5.19, mesh, images. */
export async function readCardGlb(bytes: Uint8Array): Promise<ReadGlb> {
  try {
    const container = await glbIo.binaryToJSON(bytes);
    return { ...materialOf(container), ...(await meshOf(container)) };
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new SieveError('corrupt', `This is no GLB with a card: ${why}`);
  }
}

/** Of a glTF whose buffer and pictures are files beside it. */
export async function readCardApart(bytes: Uint8Array, beside: Beside): Promise<ReadGlb> {
  try {
    const json = JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF;
    const needed = [...(json.buffers ?? []), ...(json.images ?? [])].map(({ uri = '' }) => uri);
    const resources: JSONDocument['resources'] = {};
    for (const uri of needed) {
      const found = beside(uri);
      if (!found) throw new Error(`${uri} is not beside it`);
      resources[uri] = found as Uint8Array<ArrayBuffer>;
    }
    const container = { json, resources };
    return { ...materialOf(container), ...(await meshOf(container)) };
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new SieveError('corrupt', `This is no glTF with a card: ${why}`);
  }
}

function materialOf(container: JSONDocument): Pick<ReadGlb, 'material' | 'image' | 'imageOf'> {
  const material = container.json.materials![0] as unknown as GltfMaterial;
  const pbr = material.pbrMetallicRoughness;
  return {
    material: {
      alphaMode: material.alphaMode ?? 'OPAQUE',
      alphaCutoff: material.alphaCutoff ?? 0.5,
      doubleSided: material.doubleSided ?? false,
      opacity: pbr.baseColorFactor?.[3] ?? 1,
      emission: material.extensions?.KHR_materials_emissive_strength?.emissiveStrength ?? 1,
    },
    image: imageAt(container, pbr.baseColorTexture)!,
    imageOf: (textureOf) => imageAt(container, textureOf(material)),
  };
}

function imageAt({ json, resources }: JSONDocument, texture: { index: number } | undefined): Uint8Array | null {
  if (!texture) return null;
  const { bufferView, uri } = json.images![json.textures![texture.index].source!];
  if (bufferView === undefined) return resources[uri ?? ''] ?? null;
  return bytesOf(json.bufferViews![bufferView], resources);
}

function bytesOf({ byteOffset = 0, byteLength }: GLTF.IBufferView, resources: JSONDocument['resources']): Uint8Array {
  const [buffer] = Object.values(resources);
  return buffer.subarray(byteOffset, byteOffset + byteLength);
}

/** The material left aside, so that its images are not copied. */
async function meshOf(container: JSONDocument): Promise<Pick<ReadGlb, 'mesh' | 'tangents' | 'back' | 'plain'>> {
  const { json, resources } = container;
  const { asset, accessors, bufferViews, buffers, meshes, materials = [] } = json;
  const bare = meshes!.map((mesh) => ({
    ...mesh,
    primitives: mesh.primitives.map(({ attributes, indices }) => ({ attributes, indices })),
  }));
  const document = await glbIo.readJSON({
    json: { asset, accessors, bufferViews, buffers, meshes: bare },
    resources,
  });
  const [primitive, ...others] = document.getRoot().listMeshes()[0].listPrimitives();
  const [front, ...beside] = meshes![0].primitives.map(({ material = 0 }) => materials[material]);
  const isBack = others.length > 0 && beside[0]?.name === backName(front?.name ?? '');
  const tangentsOf = (of: Primitive) => floats(of.getAttribute('TANGENT'));
  return {
    mesh: surfaceOf(primitive),
    tangents: tangentsOf(primitive),
    back: isBack
      ? {
          mesh: surfaceOf(others[0]),
          tangents: tangentsOf(others[0]),
          image: imageAt(container, beside[0].pbrMetallicRoughness?.baseColorTexture)!,
          tint: (beside[0].pbrMetallicRoughness?.baseColorFactor ?? [1, 1, 1]).slice(0, 3),
        }
      : null,
    plain: others.slice(isBack ? 1 : 0).map((other, i) => ({
      name: beside[i + (isBack ? 1 : 0)]?.name ?? '',
      mesh: surfaceOf(other),
    })),
  };
}

function surfaceOf(primitive: Primitive): SurfaceMesh {
  const rootTip = floats(primitive.getAttribute(ROOT_TIP));
  return {
    positions: floats(primitive.getAttribute('POSITION'))!,
    normals: floats(primitive.getAttribute('NORMAL'))!,
    uvs: floats(primitive.getAttribute('TEXCOORD_0'))!,
    indices: primitive.getIndices()!.getArray() as Uint16Array | Uint32Array,
    ...(rootTip && { rootTip }),
  };
}

function floats(accessor: Accessor | null): Float32Array | null {
  return accessor ? (accessor.getArray() as Float32Array) : null;
}
