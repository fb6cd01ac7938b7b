import { expect, test } from '@jest/globals';
import { pictureTools } from '../src/picture-tools.ts';
import {
  CARD_NORMALS,
  cardSurface,
  FLAT,
  makeMask,
  makePicture,
  meshSurface,
  ONE_CARD,
  packHandOff,
  PIECE_DEFAULTS,
  readBack,
  readObj,
  vertexTangents,
  type MapName,
  type MeshPlacement,
  type PackTools,
  type PieceDoc,
  type Raster,
  type Samples,
  type SurfaceMesh,
} from '@lithe-sieve/core/testing';
import { Mesh, Texture, type BufferGeometry, type MeshStandardMaterial } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { glbTools } from '../src/glb/tools.ts';
import { withTangents } from '../src/glb/tangents.ts';

const tools: PackTools = {
  ...pictureTools,
  glb: glbTools,
};
const doc: PieceDoc = { ...structuredClone(PIECE_DEFAULTS), name: 'Card', sources: [], run: [] };
const plain = {
  colour: makePicture(8, 8, new Uint8Array(256).fill(90)),
  mask: makeMask(8, 8, new Uint8Array(64).fill(255)),
  maps: new Map<MapName, Raster<Samples>>(),
};

/** A strip round a cylinder of radius 1, its picture across, its second half with the picture mirrored. */
function mirroredStrip(steps: number): SurfaceMesh {
  const angles = Array.from({ length: steps + 1 }, (_, i) => (Math.PI * i) / steps);
  const [positions, normals, uvs] = [[], [], []] as [number[], number[], number[]];
  for (const angle of angles) {
    const out = [-Math.cos(angle), 0, Math.sin(angle)];
    for (const y of [0, 1]) {
      positions.push(out[0], y, out[2]);
      normals.push(...out);
      uvs.push(1 - Math.abs(1 - (2 * angle) / Math.PI), 1 - y);
    }
  }
  const indices = Array.from({ length: steps }, (_, i) => [0, 2, 3, 0, 3, 1].map((k) => 2 * i + k)).flat();
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvs: Float32Array.from(uvs),
    indices: Uint16Array.from(indices),
  };
}

// glTF 2.0 §3.7.2.1: tangents go along u, w is the handedness; MikkTSpace parts a vertex where the picture is mirrored
test('tangents of a bent strip go round it, and turn where the picture is mirrored', () => {
  const strip = mirroredStrip(8);
  const { mesh, tangents } = withTangents(strip);
  const count = strip.positions.length / 3;
  expect(mesh.positions.length / 3).toBe(count + 2); // the two vertices of the seam
  expect(mesh.indices).toHaveLength(strip.indices.length);
  for (let i = 0; i < mesh.indices.length; i++) {
    const [at, from] = [mesh.indices[i], strip.indices[i]];
    expect([...mesh.positions.subarray(3 * at, 3 * at + 3)]).toEqual([
      ...strip.positions.subarray(3 * from, 3 * from + 3),
    ]);
    const [nx, , nz] = mesh.normals.subarray(3 * at, 3 * at + 3);
    const [x, y, z, w] = tangents.subarray(4 * at, 4 * at + 4);
    const isFirstHalf = Math.floor(i / 6) < 4;
    const sign = isFirstHalf ? 1 : -1;
    // round the cylinder, from left to right seen from outside
    expect([x, y, z, w]).toEqual([
      expect.closeTo(sign * nz, 1),
      expect.closeTo(0, 5),
      expect.closeTo(-sign * nx, 1),
      sign,
    ]);
  }
});

test('the tangents of a flat card are those of its picture, and its vertices stay four', () => {
  const { mesh } = meshSurface({
    positions: Float32Array.of(-1, 0, 0, 1, 0, 0, 1, 2, 0, -1, 2, 0),
    normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
    uvs: Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0),
    indices: Uint16Array.of(0, 1, 2, 0, 2, 3),
  });
  const made = withTangents(mesh);
  expect(made.mesh).toEqual(mesh);
  expect([...made.tangents]).toEqual([1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1]);
});

// what the Stand lights normal maps by, beside the published package
test.each([
  ['bent both ways', { form: { ...FLAT, kind: 'bent' as const, along: 60, across: 40 } }],
  ['folded', { form: { ...FLAT, kind: 'folded' as const } }],
  [
    'with normals of a sphere',
    { normals: { ...CARD_NORMALS, share: 0.8 }, set: { ...ONE_CARD, kind: 'star' as const } },
  ],
])('tangents of the vertices of a card that is %s are those of MikkTSpace', (_, more) => {
  const { mesh } = cardSurface({ cardWidth: 1, ...more }, { width: 64, height: 96 });
  const published = withTangents(mesh);
  const own = vertexTangents(mesh);
  let off = 0;
  for (const [corner, vertex] of mesh.indices.entries()) {
    const at = published.mesh.indices[corner];
    for (let k = 0; k < 4; k++) off = Math.max(off, Math.abs(own[4 * vertex + k] - published.tangents[4 * at + k]));
  }
  expect(off).toBeLessThan(0.0087); // half a degree: along a fold it weighs triangles of one side alone
});

test('reading back finds a mesh, UVs, normals or tangents that are not what was to be written', async () => {
  const normal = { width: 8, height: 8, channels: 3 as const, data: new Uint16Array(192).fill(40000) };
  const state = {
    ...plain,
    maps: new Map<MapName, Raster<Samples>>([['normal', normal]]),
  };
  const [file] = await packHandOff(doc, state, tools);
  const failed = async (read: PackTools['glb']['read']) =>
    (await readBack([file], doc, { ...tools, glb: { ...glbTools, read } })).filter((c) => !c.ok).map((c) => c.what);
  expect(await failed((bytes) => glbTools.read(bytes))).toEqual([]);
  for (const [what, name] of [
    ['geometry', 'positions'],
    ['normals of the mesh', 'normals'],
    ['UVs', 'uvs'],
  ] as const) {
    const damaged = await failed(async (bytes) => {
      const glb = await glbTools.read(bytes);
      const data = glb.mesh[name].slice();
      data[1] += 0.001;
      return { ...glb, mesh: { ...glb.mesh, [name]: data } };
    });
    expect(damaged).toContain(what);
  }
  expect(
    await failed(async (bytes) => {
      const glb = await glbTools.read(bytes);
      return { ...glb, tangents: glb.tangents!.map((v, i) => (i % 4 === 3 ? -v : v)) };
    }),
  ).toEqual(['tangents']);
  expect(await failed(async (bytes) => ({ ...(await glbTools.read(bytes)), tangents: null }))).toEqual(['tangents']);
  await expect(glbTools.read(file.bytes.subarray(0, 200))).rejects.toMatchObject({ code: 'corrupt' });
});

/** As three's own loader reads a GLB; without a page there are no pictures. */
async function meshesByThree(bytes: Uint8Array): Promise<Mesh<BufferGeometry, MeshStandardMaterial>[]> {
  const bare = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;
  const loader = new GLTFLoader().register(() => ({ name: 'test', loadTexture: () => Promise.resolve(new Texture()) }));
  const { scene } = await loader.parseAsync(bare, '');
  const meshes: Mesh<BufferGeometry, MeshStandardMaterial>[] = [];
  scene.traverse((part) => {
    if (part instanceof Mesh) meshes.push(part as Mesh<BufferGeometry, MeshStandardMaterial>);
  });
  return meshes;
}

test('materials of a mesh that show no piece stay plain: three finds each, and reading back compares them', async () => {
  const mesh = readObj(
    new TextEncoder().encode('v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nusemtl a\nf 1 2 3\nusemtl b\nf 1 4 2\nf 1 3 4\n'),
  );
  const own = { sha256: 'a'.repeat(64), fileName: 'x.obj', metres: 1, up: 'y' as const, slot: 'b' };
  const placement = { middle: [0, 0], size: [0.5, 2], turn: 30, plane: [1, 0, 0, 1] } satisfies MeshPlacement;
  const placed = { ...doc, mesh: { ...own, placement } };
  const given = { ...tools, mesh };
  const [file] = await packHandOff(placed, plain, given);
  expect((await readBack([file], placed, given)).filter((c) => !c.ok)).toEqual([]);
  const found = (await meshesByThree(file.bytes)).map(({ geometry, material }) => [
    material.name,
    geometry.index!.count / 3,
    material.map !== null,
  ]);
  expect(found).toEqual([
    ['Card', 2, true],
    ['a', 1, false],
  ]);
  const read = async (bytes: Uint8Array) => {
    const glb = await glbTools.read(bytes);
    return { ...glb, plain: glb.plain.map((part) => ({ ...part, name: 'c' })) };
  };
  const wrong = await readBack([file], placed, { ...given, glb: { ...glbTools, read } });
  expect(wrong.filter((c) => !c.ok).map((c) => c.what)).toEqual(['plain materials']);
});

// KHR_materials_emissive_strength, KHR_materials_diffuse_transmission; the validator knows the first
test('emission with its strength, and a translucency colour of its own, are read by three and found again', async () => {
  const colours = (rgb: number[]) =>
    makePicture(
      8,
      8,
      new Uint8Array(256).map((_, i) => [...rgb, 255][i % 4]),
    );
  const thin = makeMask(8, 8, new Uint8Array(64).fill(120));
  const maps = new Map<MapName, Raster<Samples>>([
    ['translucency', thin],
    ['throughColour', colours([10, 200, 30])],
    ['emission', colours([250, 120, 7])],
  ]);
  const glowing = { ...doc, material: { ...doc.material, emission: 12.5 } };
  const [file] = await packHandOff(glowing, { ...plain, maps }, tools);
  const checks = await readBack([file], glowing, tools);
  expect(checks.filter((c) => !c.ok)).toEqual([]);
  expect(checks.map((c) => c.what)).toEqual(
    expect.arrayContaining(['emission strength', 'emission texture', 'translucency colour texture']),
  );
  const dim = (bytes: Uint8Array) => glbTools.read(bytes).then((glb) => ({ ...glb, material: { ...glb.material, emission: 1 } })); // prettier-ignore
  const failed = await readBack([file], glowing, { ...tools, glb: { ...glbTools, read: dim } });
  expect(failed.filter((c) => !c.ok).map((c) => c.what)).toEqual(['emission strength']);
  const [{ material }] = await meshesByThree(file.bytes);
  expect([material.emissiveIntensity, material.emissive.getHex(), material.emissiveMap !== null]).toEqual([12.5, 0xffffff, true]); // prettier-ignore
});
