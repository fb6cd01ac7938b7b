import { Document, type Primitive, WebIO } from '@gltf-transform/core';
import { describe, expect, test } from '@jest/globals';
import { Mesh } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { looksLikeMesh, readUserMesh } from '@lithe-sieve/host';
import { looksLikeGlb, readUserGlb } from '@lithe-sieve/host/glb';

/** Two leaves on a stalk: nodes in nodes, turned, scaled, one mirrored; a strip, a fan, points that are no faces. */
async function stalk(change: (document: Document) => void = () => undefined): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const floats = (type: 'VEC2' | 'VEC3', values: number[]) =>
    document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer);
  const square = (mode: number, material: string | null, indices?: number[]) => {
    const primitive = document
      .createPrimitive()
      .setMode(mode as ReturnType<Primitive['getMode']>)
      .setAttribute('POSITION', floats('VEC3', [0, 0, 0, 1, 0, 0, 0, 2, 0, 1, 2, 0.5]))
      .setAttribute('NORMAL', floats('VEC3', [0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1]))
      .setAttribute('TEXCOORD_0', floats('VEC2', [0, 1, 1, 1, 0, 0, 1, 0]));
    if (material) primitive.setMaterial(document.createMaterial(material));
    if (indices) primitive.setIndices(document.createAccessor().setType('SCALAR').setArray(Uint16Array.from(indices)).setBuffer(buffer)); // prettier-ignore
    return primitive;
  };
  const leaf = document
    .createMesh()
    .addPrimitive(square(4, 'leaf', [0, 1, 2, 2, 1, 3]))
    .addPrimitive(square(5, 'back'));
  const rest = document.createMesh().addPrimitive(square(6, null)).addPrimitive(square(0, null));
  const turned = document
    .createNode()
    .setMesh(leaf)
    .setTranslation([1, 0, 0])
    .setRotation([0, Math.SQRT1_2, 0, Math.SQRT1_2]);
  const mirrored = document.createNode().setMesh(rest).setScale([-2, 1, 3]);
  const parent = document.createNode().setTranslation([0, 5, 0]).setScale([0.5, 0.5, 0.5]).addChild(turned).addChild(mirrored); // prettier-ignore
  document.createScene().addChild(parent);
  change(document);
  return new WebIO().writeBinary(document);
}

/** Corners of every triangle, by place, each from its least corner on, sorted: however a loader orders them. */
function trianglesOf(corners: number[][]): string[] {
  const out: string[] = [];
  for (let i = 0; i < corners.length; i += 3) {
    const three = corners
      .slice(i, i + 3)
      .map((c) => c.map((v) => (Math.round(v * 1e4) / 1e4 + 0).toFixed(4)).join(' '));
    const least = three.indexOf([...three].sort()[0]);
    out.push([0, 1, 2].map((k) => three[(least + k) % 3]).join(' | '));
  }
  return out.sort();
}

/** Of a GLB, as far as it is changed here. */
interface Json {
  buffers: { uri?: string }[];
  accessors: { count: number }[];
  nodes: { children?: number[]; mesh?: number }[];
  meshes: object[];
  scenes: { nodes: number[] }[];
  extensionsRequired?: string[];
}

describe('a GLB of somebody', () => {
  test('holds the triangles that three draws, where its nodes put them, a slot for each material', async () => {
    const bytes = await stalk();
    expect(looksLikeGlb(bytes)).toBe(true);
    const mesh = await readUserGlb(bytes);
    const { scene } = await new GLTFLoader().parseAsync(bytes.slice().buffer, '');
    const theirs: number[][] = [];
    scene.updateMatrixWorld(true);
    scene.traverse((object) => {
      if (!(object instanceof Mesh)) return;
      const { geometry, matrixWorld } = object as Mesh;
      const bare = geometry.toNonIndexed();
      const flip = matrixWorld.determinant() < 0; // a renderer turns their faces over
      const position = bare.getAttribute('position').applyMatrix4(matrixWorld);
      for (let i = 0; i < position.count; i += 3) {
        for (const k of flip ? [0, 2, 1] : [0, 1, 2])
          theirs.push([position.getX(i + k), position.getY(i + k), position.getZ(i + k)]);
      }
    });
    const ours = [...mesh.indices].map((i) => [...mesh.positions.subarray(3 * i, 3 * i + 3)]);
    expect(trianglesOf(ours)).toEqual(trianglesOf(theirs));
    expect(mesh.slots).toEqual([{ name: 'leaf', triangles: 2 }, { name: 'back', triangles: 2 }, { name: 'without a material', triangles: 2 }]); // prettier-ignore
    // normals face as their triangles do; the second of the fan is drawn the other way round
    for (let t = 0; t < 3 * 5; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) =>
        mesh.positions.subarray(3 * mesh.indices[t + k], 3 * mesh.indices[t + k] + 3),
      );
      const [p, q] = [b, c].map((v) => v.map((x, i) => x - a[i]));
      const way = [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];
      const normal = mesh.normals.subarray(3 * mesh.indices[t], 3 * mesh.indices[t] + 3);
      expect(way.reduce((sum, v, i) => sum + v * normal[i], 0)).toBeGreaterThan(0);
    }
  });

  test('a glTF with its buffers inside is read as its GLB is; one without says so', async () => {
    const bytes = await stalk();
    const { json, resources } = await new WebIO().binaryToJSON(bytes);
    const [binary] = Object.values(resources);
    const uri = `data:application/octet-stream;base64,${Buffer.from(binary).toString('base64')}`;
    const text = (buffer: object) => new TextEncoder().encode(JSON.stringify({ ...json, buffers: [buffer] }));
    const file = text({ ...json.buffers![0], uri });
    const { mesh, facts } = await readUserMesh(file);
    expect([facts.format, looksLikeMesh(file), looksLikeMesh(new TextEncoder().encode('{"name": 1}'))]).toEqual([
      'gltf',
      true,
      false,
    ]);
    expect(mesh).toEqual(await readUserGlb(bytes));
    const refused = (of: Uint8Array) => expect(readUserMesh(of)).rejects;
    await refused(text({ ...json.buffers![0], uri: 'stalk.bin' })).toThrow('stalk.bin');
    await refused(text({ byteLength: 5e9, uri: 'data:application/octet-stream;base64,AAAA' })).toThrow();
    await refused(new TextEncoder().encode('{"asset": {"version": "1.0"}}')).toThrow('no glTF 2.0');
    await refused(file.subarray(0, 900)).toThrow('cannot be read');
  });

  test('what is broken, needs another file, or claims too much is an error that says so', async () => {
    const bytes = await stalk();
    await expect(readUserGlb(bytes.subarray(0, 200))).rejects.toThrow('cannot be read');
    const json = (change: (json: Json) => void) => withJson(bytes, change);
    const refused = async (change: (json: Json) => void, why: string) =>
      expect([String(change), await readUserGlb(json(change)).catch((e: Error) => e.message)]).toEqual([
        String(change),
        expect.stringContaining(why),
      ]);
    await refused((j) => (j.buffers[0].uri = 'other.bin'), 'external buffers');
    await refused((j) => (j.extensionsRequired = ['KHR_draco_mesh_compression']), 'KHR_draco_mesh_compression');
    await refused((j) => (j.accessors[0].count = 4e9), 'at most');
    await refused((j) => (j.nodes[0].children = [0]), 'no tree');
    await refused((j) => (j.meshes = []), 'no triangles');
    const manyNodes = (length: number) => (j: Json) => {
      const shown = Array.from({ length }, () => ({ mesh: 0 }));
      j.scenes[0].nodes = shown.map((_, i) => j.nodes.length + i);
      j.nodes = [...j.nodes, ...shown];
    };
    await refused(manyNodes(200_000), 'nodes; at most');
    await refused((j) => (manyNodes(15_000)(j), (j.accessors[0].count = 1000)), 'at most');
    await expect(readUserGlb(await stalk((d) => void d.getRoot().listAccessors()[0].setElement(0, [Number.NaN, 0, 0])))).rejects.toThrow('NaN'); // prettier-ignore
    await expect(readUserGlb(await stalk((d) => void d.getRoot().listMeshes()[0].listPrimitives()[0].getIndices()!.setScalar(0, 9)))).rejects.toThrow('names vertex'); // prettier-ignore
  });
});

/** The container of glTF 2.0 §4.4 with its JSON changed. */
function withJson(bytes: Uint8Array, change: (json: Json) => void): Uint8Array {
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as Json;
  change(json);
  const text = new TextEncoder().encode(JSON.stringify(json));
  const padded = new Uint8Array(Math.ceil(text.length / 4) * 4).fill(32);
  padded.set(text);
  const out = new Uint8Array(20 + padded.length + bytes.length - 20 - length);
  out.set(bytes.subarray(0, 12));
  out.set(padded, 20);
  out.set(bytes.subarray(20 + length), 20 + padded.length);
  const view = new DataView(out.buffer);
  view.setUint32(8, out.length, true);
  view.setUint32(12, padded.length, true);
  view.setUint32(16, 0x4e4f534a, true);
  return out;
}
