import { SieveError } from '../errors.ts';
import { textOf } from '../codec/utf8.ts';

/** What a strict reader of glTF 2.0 takes out of a GLB: no library of the writer's reads it. */
export interface StrictGlb {
  alphaMode: 'OPAQUE' | 'MASK' | 'BLEND';
  alphaCutoff: number;
  doubleSided: boolean;
  opacity: number;
  baseColour: { bytes: Uint8Array; mime: string } | null;
  extensions: string[];
}

interface Gltf {
  asset?: { version?: string };
  extensionsUsed?: string[];
  extensionsRequired?: string[];
  meshes?: { primitives: { material?: number }[] }[];
  materials?: {
    alphaMode?: string;
    alphaCutoff?: number;
    doubleSided?: boolean;
    pbrMetallicRoughness?: { baseColorFactor?: number[]; baseColorTexture?: { index: number } };
  }[];
  textures?: { source?: number }[];
  images?: { bufferView?: number; mimeType?: string; uri?: string }[];
  bufferViews?: { buffer: number; byteOffset?: number; byteLength: number }[];
}

const MAGIC = 0x46546c67;
const [JSON_CHUNK, BIN_CHUNK] = [0x4e4f534a, 0x004e4942];

/**
 * The container of glTF 2.0 §4.4 and the first material that is used, with the defaults of §5.19.
 *
 * @throws SieveError `corrupt` where it is none, or names what is not there; `unsupported` where it requires an extension.
 */
export function readStrictGlb(bytes: Uint8Array): StrictGlb {
  const { json, bin } = chunksOf(bytes);
  return materialOf(JSON.parse(textOf(json)) as Gltf, (gltf, texture) => imageOf(gltf, texture, bin));
}

/** The same of a glTF as text. @param beside - Files by their name; null: not there. @throws SieveError. */
export function readStrictGltf(bytes: Uint8Array, beside: (name: string) => Uint8Array | null): StrictGlb {
  return materialOf(JSON.parse(textOf(bytes)) as Gltf, ({ images, textures }, texture) => {
    const { uri = '', mimeType = '' } = images?.[textures?.[texture]?.source ?? -1] ?? {};
    const found = beside(uri);
    if (!found) throw new SieveError('missing-source', `It names ${uri || 'no picture'}, which is not beside it.`);
    return { bytes: found, mime: mimeType };
  });
}

function materialOf(gltf: Gltf, pictureOf: (gltf: Gltf, texture: number) => StrictGlb['baseColour']): StrictGlb {
  if (gltf.asset?.version !== '2.0') throw wrong(`it is of version ${gltf.asset?.version ?? 'none'}`);
  const required = gltf.extensionsRequired ?? [];
  if (required.length > 0) {
    throw new SieveError('unsupported', `It requires ${required.join(', ')}, which not every reader knows.`);
  }
  const used = gltf.meshes?.flatMap((m) => m.primitives.map((p) => p.material)).find((m) => m !== undefined);
  const material = used === undefined ? undefined : gltf.materials?.[used];
  if (!material) throw wrong('its mesh has no material');
  const { alphaMode = 'OPAQUE', alphaCutoff = 0.5, doubleSided = false, pbrMetallicRoughness: pbr = {} } = material;
  if (alphaMode !== 'OPAQUE' && alphaMode !== 'MASK' && alphaMode !== 'BLEND') throw wrong(`alphaMode is ${alphaMode}`);
  return {
    alphaMode,
    alphaCutoff,
    doubleSided,
    opacity: pbr.baseColorFactor?.[3] ?? 1,
    baseColour: pbr.baseColorTexture ? pictureOf(gltf, pbr.baseColorTexture.index) : null,
    extensions: gltf.extensionsUsed ?? [],
  };
}

function chunksOf(bytes: Uint8Array): { json: Uint8Array; bin: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== MAGIC) throw wrong('it does not begin as one');
  if (view.getUint32(8, true) !== bytes.length) throw wrong('its length is not what it says');
  const found = new Map<number, Uint8Array>();
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = view.getUint32(at, true);
    if (at + 8 + length > bytes.length) throw wrong('a chunk ends beyond it');
    found.set(view.getUint32(at + 4, true), bytes.subarray(at + 8, at + 8 + length));
    at += 8 + length;
  }
  const json = found.get(JSON_CHUNK);
  if (!json) throw wrong('it has no JSON');
  return { json, bin: found.get(BIN_CHUNK) ?? new Uint8Array(0) };
}

function imageOf(gltf: Gltf, texture: number, bin: Uint8Array): StrictGlb['baseColour'] {
  const image = gltf.images?.[gltf.textures?.[texture]?.source ?? -1];
  const view = gltf.bufferViews?.[image?.bufferView ?? -1];
  if (!image || !view) throw wrong('its base colour has no image inside');
  const from = view.byteOffset ?? 0;
  if (from + view.byteLength > bin.length) throw wrong('its image ends beyond it');
  return { bytes: bin.subarray(from, from + view.byteLength), mime: image.mimeType ?? '' };
}

const wrong = (why: string) => new SieveError('corrupt', `It is no GLB that a strict reader takes: ${why}.`);
