import { Accessor, type Document, type GLTF } from '@gltf-transform/core';
import {
  backGltfMaterial,
  gltfMaterial,
  plainGltfMaterial,
  subMesh,
  type CardApart,
  type CardGlb,
  type SurfaceMesh,
} from '@lithe-sieve/core';
import { glbIo, ROOT_TIP } from './io.ts';
import { withTangents } from './tangents.ts';

/** glTF 2.0 §5.26, as OpenGL numbers them. */
const SAMPLED = { clamp: 33071, repeat: 10497, mirror: 33648 } as const;
const LINEAR = 9729;
const LINEAR_MIPMAP_LINEAR = 9987;

/** One card as a binary glTF (glTF 2.0 §4.4): scene, node, mesh, materials and the PNGs in one buffer. */
export async function writeCardGlb(card: CardGlb): Promise<Uint8Array> {
  const { base, textures, back } = card;
  const pngs = [base, ...textures.map((t) => t.png), ...(back?.base ? [back.base] : [])];
  const document = await documentOf(card, back && { tint: back.tint, hasBase: back.base !== null });
  for (const [i, texture] of document.getRoot().listTextures().entries()) texture.setURI('').setImage(pngs[i]);
  return glbIo.writeBinary(document);
}

/** The same as text, with its geometry in one file and each picture in another. */
export async function writeCardApart(card: CardApart): Promise<{ json: Uint8Array; bin: Uint8Array }> {
  const { base, textures, back, geometry } = card;
  const names = [base, ...textures.map((t) => t.uri), ...(back?.base ? [back.base] : [])];
  const document = await documentOf(card, back && { tint: back.tint, hasBase: back.base !== null });
  for (const [i, texture] of document.getRoot().listTextures().entries()) texture.setURI(names[i]).setImage(NO_BYTES);
  document.getRoot().listBuffers()[0].setURI(geometry);
  const { json, resources } = await glbIo.writeJSON(document);
  return { json: new TextEncoder().encode(`${JSON.stringify(json, null, 2)}\n`), bin: resources[geometry] };
}

/** Stands for a picture that is a file of its own. */
const NO_BYTES = new Uint8Array(1);

async function documentOf(
  {
    name,
    names,
    surface,
    material,
    sway,
    textures,
    wrap,
  }: Omit<CardGlb, 'base' | 'back' | 'textures'> & {
    textures: readonly Pick<CardGlb['textures'][number], 'label' | 'into'>[];
  },
  back: { tint: readonly number[]; hasBase: boolean } | null,
): Promise<Document> {
  const images = [{ label: 'base' }, ...textures, ...(back?.hasBase ? [{ label: 'back' }] : [])];
  const written = gltfMaterial(
    names.material,
    material,
    textures.flatMap((texture, i) => texture.into(1 + i)),
  );
  const json = {
    asset: { version: '2.0', generator: 'Lithe Sieve' },
    extensionsUsed: Object.keys(written.extensions ?? {}),
    materials: [
      written,
      ...(back ? [backGltfMaterial(written, back.tint, back.hasBase ? images.length - 1 : 0)] : []),
      ...surface.plain.map(({ name: plain }) => plainGltfMaterial(plain)),
    ],
    textures: images.map((_, source) => ({ sampler: 0, source })),
    samplers: [
      {
        magFilter: LINEAR,
        minFilter: LINEAR_MIPMAP_LINEAR,
        wrapS: SAMPLED[wrap.across],
        wrapT: SAMPLED[wrap.down],
      },
    ],
    images: images.map(({ label }, i) => ({ name: `${name}_${label}`, mimeType: 'image/png', uri: `${i}.png` })),
  };
  // what is read with the JSON is copied: the images take their place afterwards
  const resources = Object.fromEntries(images.map((_, i) => [`${i}.png`, new Uint8Array(1)]));
  const document = await glbIo.readJSON({ json: json as unknown as GLTF.IGLTF, resources });
  document.getRoot().getAsset().generator = 'Lithe Sieve';
  const hasNormals = written.normalTexture !== undefined;
  const buffer = document.createBuffer();
  const accessor = (type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4', data: Float32Array | Uint16Array | Uint32Array) =>
    document.createAccessor().setBuffer(buffer).setType(Accessor.Type[type]).setArray(data);
  const materials = document.getRoot().listMaterials();
  const primitiveOf = ({ positions, normals, uvs, indices }: SurfaceMesh, material: number) =>
    document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', positions))
      .setAttribute('NORMAL', accessor('VEC3', normals))
      .setAttribute('TEXCOORD_0', accessor('VEC2', uvs))
      .setIndices(accessor('SCALAR', indices))
      .setMaterial(materials[material]);
  const shown = document.createMesh(names.mesh);
  const { mesh, plain } = surface;
  const { indices, backFrom = indices.length } = mesh;
  const sides = back
    ? [{ from: 0, to: backFrom }, { from: backFrom, to: indices.length }].map((span) => subMesh(mesh, [span]))
    : [mesh]; // prettier-ignore
  for (const [i, side] of sides.entries()) {
    const own = hasNormals ? withTangents(side) : { mesh: side, tangents: null };
    const primitive = primitiveOf(own.mesh, i);
    if (sway && own.mesh.rootTip) primitive.setAttribute(ROOT_TIP, accessor('SCALAR', own.mesh.rootTip));
    if (own.tangents) primitive.setAttribute('TANGENT', accessor('VEC4', own.tangents));
    shown.addPrimitive(primitive);
  }
  plain.forEach((part, i) => shown.addPrimitive(primitiveOf(part.mesh, sides.length + i)));
  const node = document.createNode(names.mesh).setMesh(shown);
  document.getRoot().setDefaultScene(document.createScene(name).addChild(node));
  return document;
}
