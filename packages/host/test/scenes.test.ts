import { beforeAll, describe, expect, test } from '@jest/globals';
import { DOMParser } from '@xmldom/xmldom';
import { materialDescriptionSchema } from '@lithe-sieve/contract';
import { unzipSync, zipSync } from 'fflate';
import {
  type AlphaMode,
  digits,
  makeMask,
  makePicture,
  nodeName,
  packHandOff,
  CARD_SIDES,
  FLAT,
  PIECE_DEFAULTS,
  readBack,
  readMtl,
  readMtlx,
  readUsda,
  readUsdz,
  textOf,
  utf8,
  type HandOffFile,
  type MapName,
  type PackTools,
  type PieceDoc,
  type ProfileId,
  type Raster,
  type RunState,
  type Samples,
  type SurfaceMesh,
} from '@lithe-sieve/core/testing';
import { ImageLoader, type BufferGeometry, type Mesh, type MeshPhysicalMaterial, type Object3D } from 'three';
import { MTLLoader } from 'three/examples/jsm/loaders/MTLLoader.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { USDLoader } from 'three/examples/jsm/loaders/USDLoader.js';
import { glbTools } from '../src/glb/tools.ts';
import { pictureTools } from '../src/picture-tools.ts';

// readers of other hands, three.js r187: USDLoader, OBJLoader, MTLLoader, and MaterialXLoader with its strict validator

const [W, H] = [20, 30];
const tools: PackTools = { ...pictureTools, glb: glbTools };
const grey = (v: number): Raster => ({ width: W, height: H, channels: 1, data: new Uint8Array(W * H).fill(v) });
const maps = new Map<MapName, Raster<Samples>>([
  ['normal', { width: W, height: H, channels: 3, data: new Uint16Array(3 * W * H).fill(32768) }],
  ['roughness', grey(100)],
  ['occlusion', grey(200)],
  ['translucency', grey(90)],
  ['specular', grey(128)],
]);
const state = {
  colour: makePicture(
    W,
    H,
    Uint8Array.from({ length: 4 * W * H }, (_, i) => (i % 4 === 3 ? 255 : i % 251)),
  ),
  mask: makeMask(
    W,
    H,
    Uint8Array.from({ length: W * H }, (_, i) => (i % W < 12 ? 255 : 0)),
  ),
  maps,
} as unknown as RunState;

const docOf = (profile: ProfileId, more: Partial<PieceDoc> = {}): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  ...{ name: 'Näpfchen 3', cardWidth: 0.37, sources: [], run: [] },
  ...more,
  handOff: { ...PIECE_DEFAULTS.handOff, profile },
});
const write = (doc: PieceDoc) => packHandOff(doc, state, tools);
const fileOf = (files: HandOffFile[], extension: string) => files.find((f) => f.name.endsWith(extension))!;
const failed = async (files: HandOffFile[], doc: PieceDoc) =>
  (await readBack(files, doc, tools)).filter((c) => !c.ok).map((c) => c.what);

type Card = Mesh<BufferGeometry, MeshPhysicalMaterial>;
function meshesOf(group: Object3D): Card[] {
  const out: Card[] = [];
  group.traverse((o) => {
    if ((o as Card).isMesh) out.push(o as Card);
  });
  return out;
}

/** Corner by corner, x y z u v with v up, as the card itself has them. */
function cornersOf({ positions, uvs, indices }: SurfaceMesh): number[][] {
  return Array.from(indices, (i) => [...positions.subarray(3 * i, 3 * i + 3), uvs[2 * i], 1 - uvs[2 * i + 1]]);
}
function cornersRead({ geometry }: Card): number[][] {
  const { position, uv } = geometry.attributes;
  const at = geometry.index ? [...geometry.index.array] : Array.from({ length: position.count }, (_, i) => i);
  return at.map((i) => [position.getX(i), position.getY(i), position.getZ(i), uv.getX(i), uv.getY(i)]);
}
const near = (found: number[][], wanted: number[][]) =>
  found.length === wanted.length && found.every((c, i) => c.every((v, k) => Math.abs(v - wanted[i][k]) < 1e-6));

const MODES: AlphaMode[] = ['opaque', 'mask', 'blend'];
const bent = { form: { ...FLAT, kind: 'bent', along: 40 } } as const;

beforeAll(() => {
  ImageLoader.prototype.load = function (url, done) {
    const image = { src: url } as never;
    queueMicrotask(() => done?.(image));
    return image;
  };
});

describe('USD', () => {
  test.each(MODES)('in mode %s as another reader has it: clip, pictures, corners', async (mode) => {
    const material = { ...PIECE_DEFAULTS.material, mode, cutoff: 0.37, opacity: mode === 'blend' ? 0.5 : 1 };
    const doc = docOf('usd', { material });
    const files = await write(doc);
    expect(await failed(files, doc)).toEqual([]);
    const text = textOf(fileOf(files, '.usda').bytes);
    const [card] = meshesOf(new USDLoader().parse(text, ''));
    await Promise.resolve();
    expect([card.material.alphaTest, card.material.transparent]).toEqual([
      mode === 'mask' ? 0.37 : 0,
      mode === 'blend',
    ]);
    expect((card.material.map!.image as { src: string }).src).toBe(fileOf(files, '_base.png').name);
    expect((card.material.normalMap!.image as { src: string }).src).toBe(fileOf(files, '_normal.png').name);
    const [{ mesh }] = readUsda(text).parts;
    expect(near(cornersRead(card), cornersOf(mesh))).toBe(true);
  });

  test.each(['usd', 'usdz', 'obj'] as const)(
    '%s in centimetres with Z up: a hundred times as large, upright along Z, its front to −Y',
    async (profile) => {
      const [plain, other] = [docOf(profile), docOf(profile)];
      other.handOff.space = { unit: 'cm', up: 'Z' };
      const files = await write(other);
      expect(await failed(files, other)).toEqual([]);
      if (profile !== 'usd') return;
      const [is, was] = [other, plain].map(async (doc) => readUsda(textOf(fileOf(await write(doc), '.usda').bytes)));
      const { metres, up, parts } = await is;
      expect([metres, up]).toEqual([0.01, 'Z']);
      const [{ mesh }] = (await was).parts;
      const turned = (v: Float32Array, by: number) => Array.from(v, (_, i) => by * [v[i], -v[i + 1], v[i - 1]][i % 3]);
      parts[0].mesh.positions.forEach((v, i) => expect(v).toBeCloseTo(turned(mesh.positions, 100)[i], 4));
      expect(Array.from(parts[0].mesh.normals, (v) => v + 0)).toEqual(turned(mesh.normals, 1).map((v) => v + 0));
    },
  );

  test('a mask at a cutoff of 0 keeps everything, where a threshold of 0 would blend', async () => {
    const doc = docOf('usd', { material: { ...PIECE_DEFAULTS.material, cutoff: 0 } });
    const files = await write(doc);
    expect(await failed(files, doc)).toEqual([]);
    expect(readUsda(textOf(fileOf(files, '.usda').bytes)).says.mode).toBe('opaque');
  });

  test('a package is read by another, aligned to 64 bytes; compressed, moved or without a layer it is refused', async () => {
    const doc = docOf('usdz');
    const files = await write(doc);
    expect(await failed(files, doc)).toEqual([]);
    const { bytes } = fileOf(files, '.usdz');
    const [card] = meshesOf(new USDLoader().parse(bytes.slice().buffer, ''));
    expect([card.material.alphaTest, card.material.map !== null]).toEqual([doc.material.cutoff, true]);
    const inside = unzipSync(bytes); // by fflate, as every zip
    expect(Object.keys(inside)).toEqual(readUsdz(bytes).map((f) => f.name));
    expect(() => readUsdz(zipSync(inside, { level: 0 }))).toThrow(/no multiple of 64/);
    expect(() => readUsdz(zipSync(inside, { level: 6 }))).toThrow(/compressed/);
    expect(() => readUsdz(zipSync({}, { level: 0 }))).toThrow(/no layer/);
    expect(await failed([{ ...files[0], bytes: bytes.subarray(0, -40) }], doc)).toEqual(['opens']);
  });

  test.each([
    ['no layer', '#usda 2.0', /does not begin/],
    ['no mesh', '#usda 1.0\ndef Xform "a" {}', /no mesh/],
    ['nested without end', `#usda 1.0\n${'def Xform "a" {'.repeat(500)}`, /too deeply/],
    ['values nested without end', `#usda 1.0\n(a = ${'['.repeat(500)}`, /too deeply/],
    ['a name that is not closed', '#usda 1.0\ndef Mesh "a', /not closed/],
    ['no material', '#usda 1.0\ndef Mesh "a" {\n int[] faceVertexCounts = [3] }', /no UsdPreviewSurface/],
  ])('%s is refused in words', (_, text, words) => {
    expect(() => readUsda(text)).toThrow(words);
  });
});

describe('OBJ with its materials', () => {
  test('read by another: corners, map_d, the pictures beside', async () => {
    const doc = docOf('obj', bent);
    const files = await write(doc);
    expect(await failed(files, doc)).toEqual([]);
    const object = new OBJLoader().parse(textOf(fileOf(files, '.obj').bytes)) as unknown as Object3D & {
      materialLibraries: string[];
    };
    expect(object.materialLibraries).toEqual([fileOf(files, '.mtl').name]);
    const [card] = meshesOf(object);
    const wanted = fileOf(await write(docOf('usd', bent)), '.usda');
    const [{ mesh }] = readUsda(textOf(wanted.bytes)).parts;
    expect(mesh.indices.length).toBeGreaterThan(6);
    expect(near(cornersRead(card), cornersOf(mesh))).toBe(true);
    const found = new MTLLoader().parse(textOf(fileOf(files, '.mtl').bytes), '') as unknown as {
      materialsInfo: Record<string, Record<string, string>>;
    };
    const info = found.materialsInfo[card.material.name];
    expect([info.map_d, info.map_kd].map((v) => v.split(' ').at(-1))).toEqual(
      ['_mask.png', '_base.png'].map((end) => fileOf(files, end).name),
    );
    expect(() => readMtl(textOf(fileOf(files, '.mtl').bytes), 'another')).toThrow(/holds no another/);
  });
});

describe('MaterialX', () => {
  interface Read {
    materials: Record<string, { alphaTest: number; transparent: boolean }>;
    errors: unknown[];
    warnings: { code: string }[];
  }
  let read: (text: string) => Read;

  beforeAll(async () => {
    // what they ask of a browser
    Object.assign(globalThis, { DOMParser, self: globalThis, createImageBitmap: () => Promise.resolve({}) });
    const { ImageBitmapLoader } = await import('three/webgpu');
    ImageBitmapLoader.prototype.load = () => undefined;
    const { MaterialXLoader } = await import('three/examples/jsm/loaders/MaterialXLoader.js');
    const { createStrictInterfaceValidator } =
      (await import('three/examples/jsm/loaders/materialx/MaterialXInterfaceValidation.js')) as {
        createStrictInterfaceValidator: () => unknown;
      };
    const loader = new MaterialXLoader() as unknown as { parse(text: string, options: object): Read };
    read = (text) => loader.parse(text, { throwOnErrors: false, interfaceValidator: createStrictInterfaceValidator() });
  });

  test.each(MODES)('in mode %s: every node and input is one of version 1.39, no error', async (mode) => {
    const doc = docOf('materialx', { material: { ...PIECE_DEFAULTS.material, mode, cutoff: 0.37, opacity: 0.8 } });
    const files = await write(doc);
    expect(await failed(files, doc)).toEqual([]);
    const [gltf, standard] = files.slice(0, 2).map((f) => textOf(f.bytes));
    const found = read(gltf);
    expect([found.errors, found.warnings]).toEqual([[], []]);
    const [material] = Object.values(found.materials);
    expect([material.alphaTest, material.transparent]).toEqual([mode === 'mask' ? 0.37 : 0, mode === 'blend']);
    const other = read(standard);
    // that reader has no translucency, and says so; a node that does not exist would be an error
    expect([other.errors, other.warnings.filter((w) => w.code !== 'ignored-surface-input')]).toEqual([[], []]);
    const said = [gltf, standard].map(readMtlx).map((s) => [s.mode, s.mode === 'mask' ? s.cutoff : 0]);
    expect(said).toEqual([[mode, mode === 'mask' ? 0.37 : 0], [mode, mode === 'mask' ? 0.37 : 0]]); // prettier-ignore
  });

  test.each([
    ['no XML', 'not xml', /no materialx/],
    ['an older version', '<materialx version="1.38"/>', /version 1.38/],
    ['no material', '<materialx version="1.39"/>', /no material/],
  ])('%s is refused in words', (_, text, words) => {
    expect(() => readMtlx(text)).toThrow(words);
  });

  test('a graph that goes round ends', async () => {
    const [file] = await write(docOf('materialx'));
    const round = textOf(file.bytes).replace(
      'name="in" type="color4" nodename="base"',
      'name="in" nodename="base_rgb"',
    );
    expect(readMtlx(round).colour).toBeNull();
  });
});

test('the description is as its schema has it, and says what each picture is', async () => {
  const doc = docOf('described', { material: { ...PIECE_DEFAULTS.material, cutoff: 0.37 } });
  const files = await write(doc);
  const said = materialDescriptionSchema.parse(JSON.parse(textOf(files[0].bytes)));
  expect(said.pictures.map((p) => p.file)).toEqual(files.slice(1).map((f) => f.name));
  expect([said.material.cutoff, said.kept, said.card.max]).toEqual([
    0.37,
    0.6,
    [expect.closeTo(0.185, 6), expect.closeTo(0.555, 6), 0],
  ]);
  expect(said.pictures.filter((p) => p.read === 'sRGB').map((p) => p.holds)).toEqual(['colour, opacity in alpha']);
});

test.each(['gltf', 'usd', 'materialx', 'obj', 'described'] as const)(
  '%s: a picture that is missing, or another mode, is found by reading back',
  async (profile) => {
    const doc = docOf(profile);
    const files = await write(doc);
    const without = files.filter((f) => !f.name.endsWith('_base.png'));
    expect((await failed(without, doc)).length).toBeGreaterThan(0);
    if (profile === 'described') return; // it is compared as it was written
    const other = { ...doc, material: { ...doc.material, mode: 'opaque' as const } };
    expect(await failed(files, other)).toContain('alpha mode');
  },
);

test('a back of its own is a part with a material of its own in each', async () => {
  const sides = { ...CARD_SIDES, tint: [255, 128, 64] as [number, number, number] };
  for (const profile of ['gltf', 'usd', 'usdz', 'materialx', 'obj'] as const) {
    const doc = docOf(profile, { sides, material: { ...PIECE_DEFAULTS.material, doubleSided: false } });
    expect([profile, await failed(await write(doc), doc)]).toEqual([profile, []]);
  }
});

test('numbers come back as they were in 32 bits; names are kept apart and begin with a letter', () => {
  const values = Float32Array.from([1 / 3, 1e-7, 123456.789, -0.1, 16777217, 2 ** -126]);
  expect(values.every((v) => Math.fround(Number(digits(v))) === v)).toBe(true);
  const taken = new Set<string>();
  expect(['3 Näpf', '', 'a b', 'A-b'].map((n) => nodeName(n, taken))).toEqual(['card_3_Napf', 'card', 'a_b', 'A_b_2']);
  expect(textOf(utf8('Näpfchen % 草 𝄞'))).toBe('Näpfchen % 草 𝄞');
});
