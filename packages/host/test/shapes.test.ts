import { describe, expect, test } from '@jest/globals';
import { pictureTools } from '../src/picture-tools.ts';
import {
  CARD_SIDES,
  FLAT,
  FORM_KINDS,
  makeMask,
  makePicture,
  packHandOff,
  PIECE_DEFAULTS,
  pieceView,
  readBack,
  type CardSides,
  type MapName,
  type PackTools,
  type PieceDoc,
  type Raster,
  type Samples,
} from '@lithe-sieve/core/testing';
import { Mesh, Texture, type BufferGeometry, type MeshStandardMaterial } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { glbTools } from '../src/glb/tools.ts';

const tools: PackTools = {
  ...pictureTools,
  glb: glbTools,
};
const state = {
  colour: makePicture(8, 16, new Uint8Array(512).fill(90)),
  mask: makeMask(8, 16, new Uint8Array(128).fill(255)),
  maps: new Map<MapName, Raster<Samples>>([
    ['normal', { width: 8, height: 16, channels: 3, data: new Uint16Array(384).fill(40000) }],
  ]),
};
const withBack = {
  ...state,
  maps: new Map([...state.maps, ['backColour' as MapName, makePicture(8, 16, new Uint8Array(512).fill(180))]]),
};
const SIDES: [string, CardSides | undefined][] = [
  ['the front', undefined],
  ['a back', CARD_SIDES],
  ['a rim', { ...CARD_SIDES, rim: true }],
  ['a tinted back and a rim', { apart: 3, rim: true, tint: [200, 255, 128] }],
];

/** What three finds in a GLB, without its pictures: there is no page. */
async function meshesOf(bytes: Uint8Array): Promise<Mesh<BufferGeometry, MeshStandardMaterial>[]> {
  const loader = new GLTFLoader().register(() => ({ name: 'test', loadTexture: () => Promise.resolve(new Texture()) }));
  const { scene } = await loader.parseAsync(bytes.slice().buffer, '');
  const found: Mesh<BufferGeometry, MeshStandardMaterial>[] = [];
  scene.traverse((part) => {
    if (part instanceof Mesh) found.push(part as Mesh<BufferGeometry, MeshStandardMaterial>);
  });
  return found;
}

/** Corners of triangles, in their order. */
function cornersOf({ geometry }: Mesh): number[][] {
  const at = geometry.getAttribute('position');
  return Array.from(geometry.index!.array, (i) => [at.getX(i), at.getY(i), at.getZ(i)]);
}

// the validator checks tangents, reading back their way along u; three reads geometry by code of its own
describe.each(FORM_KINDS)('a card that is %s', (kind) => {
  test.each(SIDES)('with %s: valid, read back, and the same triangles in three', async (_, sides) => {
    const form = { ...FLAT, kind, along: 40, across: 20, lean: 10, fold: 50 };
    const doc: PieceDoc = { ...structuredClone(PIECE_DEFAULTS), name: 'Card', sources: [], run: [], form, sides };
    const [file] = await packHandOff(doc, state, tools);
    expect((await readBack([file], doc, tools)).filter((c) => !c.ok)).toEqual([]);
    const { mesh } = pieceView(doc, state).surface;
    const theirs = await meshesOf(file.bytes);
    const ours = Array.from(mesh.indices, (i) => [...mesh.positions.subarray(3 * i, 3 * i + 3)]);
    expect(theirs.flatMap(cornersOf)).toEqual(ours);
    const tinted = sides && sides.tint[0] < 255;
    expect(theirs.map(({ material }) => material.name)).toEqual(tinted ? ['Card', 'Card back'] : ['Card']);
    // IEC 61966-2-1: 200 is 0.578, 128 is 0.216 in linear light
    if (tinted) expect(theirs[1].material.color.toArray().map((v) => Number(v.toFixed(3)))).toEqual([0.578, 1, 0.216]);
  });
});

test.each([undefined, SIDES[3][1]])(
  'root to tip goes with every vertex, three reads it; a file without it is found',
  async (sides) => {
    const base = structuredClone(PIECE_DEFAULTS);
    const handOff = { ...base.handOff, sway: true };
    const form = { ...FLAT, kind: 'bent' as const, along: 60, segments: 4 };
    const doc: PieceDoc = { ...base, name: 'Card', sources: [], run: [], form, sides, handOff };
    const [file] = await packHandOff(doc, state, tools);
    expect((await readBack([file], doc, tools)).filter((c) => !c.ok)).toEqual([]);
    const shares = (await meshesOf(file.bytes)).flatMap(({ geometry }) => {
      const [tip, uv] = [geometry.getAttribute('_root_tip'), geometry.getAttribute('uv')];
      return Array.from({ length: tip.count }, (_, i) => tip.getX(i) - (1 - uv.getY(i)));
    });
    for (const off of shares) expect(off).toBeCloseTo(0, 6); // the picture stands upright on its card
    const { handOff: plainly } = base;
    const [without] = await packHandOff({ ...doc, handOff: plainly }, state, tools);
    const checks = await readBack([{ ...file, bytes: without.bytes }], doc, tools);
    expect(checks.filter((c) => !c.ok).map((c) => c.what)).toEqual(['root to tip']);
  },
);

test('a back with a colour of its own is a texture more, read back; without a back it is left out', async () => {
  const doc: PieceDoc = { ...structuredClone(PIECE_DEFAULTS), name: 'Card', sources: [], run: [], sides: CARD_SIDES };
  const [file] = await packHandOff(doc, withBack, tools);
  const checks = await readBack([file], doc, tools);
  expect(checks.filter((c) => !c.ok || c.found.includes('left out'))).toEqual([]);
  const { back } = await glbTools.read(file.bytes);
  const { raster } = await tools.decodePng(back!.image);
  expect([...raster.data.subarray(0, 4)]).toEqual([180, 180, 180, 255]); // the mask is its alpha
  expect(back!.tint).toEqual([1, 1, 1]);
  const front = { ...doc, sides: undefined };
  const [alone] = await packHandOff(front, withBack, tools);
  expect((await glbTools.read(alone.bytes)).back).toBeNull();
  expect((await readBack([alone], front, tools)).map((c) => c.found)).toContain('left out: back colour');
});

test('a tinted back that is not as it was to be written is found', async () => {
  const doc: PieceDoc = { ...structuredClone(PIECE_DEFAULTS), name: 'Card', sources: [], run: [], sides: SIDES[3][1] };
  const [file] = await packHandOff(doc, state, tools);
  const failed = async (
    change: (back: NonNullable<Awaited<ReturnType<typeof glbTools.read>>['back']>) => object | null,
  ) => {
    const read = async (bytes: Uint8Array) => {
      const glb = await glbTools.read(bytes);
      return { ...glb, back: change(glb.back!) as typeof glb.back };
    };
    const checks = await readBack([file], doc, { ...tools, glb: { ...glbTools, read } });
    return checks.filter((c) => !c.ok).map((c) => c.what);
  };
  expect(await failed((back) => back)).toEqual([]);
  expect(await failed(() => null)).toEqual(['back']);
  expect(await failed((back) => ({ ...back, tint: [1, 1, 1] }))).toEqual(['back: tint']);
  expect(await failed((back) => ({ ...back, tangents: back.tangents!.map((v) => -v) }))).toEqual(['back: tangents']);
});
