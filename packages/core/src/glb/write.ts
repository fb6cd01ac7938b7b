import { utf8 } from '../codec/utf8.ts';
import type { Material } from '../piece/piece-doc.ts';
import type { CardSurface } from '../card/surface.ts';
import { tangentsOf } from '../card/tangents.ts';
import type { Wrap } from '../sieve/mip-filters.ts';
import { gltfMaterial, type MaterialPart } from './material.ts';

export interface CardGlb {
  name: string;
  /** In metres. */
  surface: CardSurface;
  material: Material;
  /** Base colour with alpha, as a PNG file. */
  base: Uint8Array;
  /** What lies beside it, in this order. */
  textures?: readonly CardTexture[];
  /** Beside the texture; clamped where it is left out. */
  wrap?: { across: Wrap; down: Wrap };
}

/** A texture beside the base colour. */
export interface CardTexture {
  label: string;
  png: Uint8Array;
  /** What it sets in the material, given its place in the file. */
  into(index: number): MaterialPart;
}

const ARRAY_BUFFER = 34962;
const ELEMENT_ARRAY_BUFFER = 34963;
const FLOAT = 5126;
const UNSIGNED_SHORT = 5123;
const UNSIGNED_INT = 5125;
/** glTF 2.0 §5.26, as OpenGL numbers them. */
const SAMPLED: Record<Wrap, number> = { clamp: 33071, repeat: 10497, mirror: 33648 };
const LINEAR = 9729;
const LINEAR_MIPMAP_LINEAR = 9987;

/** One card as a binary glTF (glTF 2.0 §4.4): scene, node, mesh, material and the PNGs in one buffer. */
export function writeCardGlb({ name, surface, material, base, textures = [], wrap }: CardGlb): Uint8Array {
  const { positions, normals, uvs, indices } = surface.mesh;
  const count = positions.length / 3;
  const images = [{ label: 'base', bytes: base }, ...textures.map(({ label, png }) => ({ label, bytes: png }))];
  const written = gltfMaterial(
    name,
    material,
    textures.map((texture, i) => texture.into(1 + i)),
  );
  const normal = written.normalTexture !== undefined;
  const extensionsUsed = Object.keys(written.extensions ?? {});
  const parts: { bytes: Uint8Array; target?: number }[] = [
    { bytes: bytesOf(positions), target: ARRAY_BUFFER },
    { bytes: bytesOf(normals), target: ARRAY_BUFFER },
    { bytes: bytesOf(uvs), target: ARRAY_BUFFER },
    { bytes: bytesOf(indices), target: ELEMENT_ARRAY_BUFFER },
    ...(normal ? [{ bytes: bytesOf(tangentsOf(surface.mesh)), target: ARRAY_BUFFER }] : []),
  ];
  const firstImage = parts.length;
  parts.push(...images.map(({ bytes }) => ({ bytes })));
  let length = 0;
  const bufferViews = parts.map(({ bytes, target }) => {
    const byteOffset = length;
    length = padded(length + bytes.length);
    return { buffer: 0, byteOffset, byteLength: bytes.length, ...(target ? { target } : {}) };
  });
  const json = {
    asset: { version: '2.0', generator: 'Lithe Sieve' },
    ...(extensionsUsed.length > 0 ? { extensionsUsed } : {}),
    scene: 0,
    scenes: [{ name, nodes: [0] }],
    nodes: [{ name, mesh: 0 }],
    meshes: [
      {
        name,
        primitives: [
          {
            attributes: { POSITION: 0, NORMAL: 1, TEXCOORD_0: 2, ...(normal ? { TANGENT: 4 } : {}) },
            indices: 3,
            material: 0,
          },
        ],
      },
    ],
    materials: [written],
    textures: images.map((_, source) => ({ sampler: 0, source })),
    samplers: [
      {
        magFilter: LINEAR,
        minFilter: LINEAR_MIPMAP_LINEAR,
        wrapS: SAMPLED[wrap?.across ?? 'clamp'],
        wrapT: SAMPLED[wrap?.down ?? 'clamp'],
      },
    ],
    images: images.map(({ label }, i) => ({
      name: `${name}_${label}`,
      mimeType: 'image/png',
      bufferView: firstImage + i,
    })),
    accessors: [
      { bufferView: 0, componentType: FLOAT, count, type: 'VEC3', ...surface.bounds },
      { bufferView: 1, componentType: FLOAT, count, type: 'VEC3' },
      { bufferView: 2, componentType: FLOAT, count, type: 'VEC2' },
      {
        bufferView: 3,
        componentType: indices instanceof Uint32Array ? UNSIGNED_INT : UNSIGNED_SHORT,
        count: indices.length,
        type: 'SCALAR',
      },
      ...(normal ? [{ bufferView: 4, componentType: FLOAT, count, type: 'VEC4' }] : []),
    ],
    bufferViews,
    buffers: [{ byteLength: length }],
  };
  return joinGlb(
    json,
    parts.map((p) => p.bytes),
    length,
  );
}

/** The bytes of the view alone, whatever else its buffer holds. */
function bytesOf({ buffer, byteOffset, byteLength }: ArrayBufferView): Uint8Array {
  return new Uint8Array(buffer, byteOffset, byteLength);
}

function padded(length: number): number {
  return (length + 3) & ~3;
}

function joinGlb(json: unknown, parts: Uint8Array[], binLength: number): Uint8Array {
  const text = utf8(JSON.stringify(json));
  const jsonLength = padded(text.length);
  const out = new Uint8Array(12 + 8 + jsonLength + 8 + binLength);
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true); // glTF
  view.setUint32(4, 2, true);
  view.setUint32(8, out.length, true);
  view.setUint32(12, jsonLength, true);
  view.setUint32(16, 0x4e4f534a, true); // JSON
  out.fill(0x20, 20, 20 + jsonLength);
  out.set(text, 20);
  let at = 20 + jsonLength;
  view.setUint32(at, binLength, true);
  view.setUint32(at + 4, 0x004e4942, true); // BIN
  at += 8;
  for (const part of parts) {
    out.set(part, at);
    at += padded(part.length);
  }
  return out;
}
