import { describe, expect, test } from '@jest/globals';
import { validateBytes } from 'gltf-validator';
import { glbTools } from '@lithe-sieve/host/glb';
import {
  cardSize,
  cardSurface,
  makeRecipe,
  ONE_CARD,
  PIECE_DEFAULTS,
  SET_KINDS,
  writePng,
  type CardSet,
  type CardSurface,
  type Vec3,
} from '../src/testing.ts';
import type { CardOf } from '../src/card/kinds.ts';
import { meshSurface } from '../src/card/surface.ts';
import { indicesOf, type SurfaceMesh } from '../src/card/surface-mesh.ts';
import type { CardGlb } from '../src/handoff/glb-tools.ts';
import { bentStrip } from './helpers/bent.ts';
import { deflate } from './helpers/node-codecs.ts';
import { noisePicture, random } from './helpers/pictures.ts';

const SURFACES: [string, CardSurface][] = [
  ['flat', cardSurface({ cardWidth: 0.5 }, { width: 20, height: 30 })],
  ['bent', bentStrip(0.5, 0.75)],
];
const written = (name: string, surface: CardSurface, base: Uint8Array): Promise<Uint8Array> => {
  const { material } = PIECE_DEFAULTS;
  const card: CardGlb = {
    names: { material: name, mesh: name },
    name,
    surface,
    material,
    base,
    back: null,
    sway: false,
    textures: [],
    wrap: { across: 'clamp', down: 'clamp' },
  };
  return glbTools.write(card);
};
const along = (from: Vec3, way: Vec3, t: number) => from.map((c, i) => c + t * way[i]) as unknown as Vec3;

test('a card is as wide as it is set to, and as tall as its picture asks', () => {
  expect(cardSize(0.5, { width: 20, height: 30 })).toEqual({ width: 0.5, height: 0.75 });
  const { min, max } = SURFACES[0][1].bounds;
  expect([min, max]).toEqual([
    [-0.25, 0, 0],
    [0.25, 0.75, 0],
  ]);
});

describe.each(SURFACES)('a %s card', (_, surface) => {
  test('is met by a ray where the picture’s place is, from the front and from the back', () => {
    const next = random(3);
    for (let i = 0; i < 200; i++) {
      const [u, v] = [next(), next()];
      const { position, normal } = surface.pointAt(u, v)!;
      expect(Math.hypot(...normal)).toBeCloseTo(1, 6);
      for (const [sign, side] of [
        [1, 'front'],
        [-1, 'back'],
      ] as const) {
        const way = normal.map((n) => -sign * n) as unknown as Vec3;
        const hit = surface.hit({ from: along(position, normal, sign * 0.05), way })!;
        expect([hit.side, hit.u, hit.v]).toEqual([side, expect.closeTo(u, 5), expect.closeTo(v, 5)]);
        expect(hit.distance).toBeCloseTo(0.05, 5);
      }
    }
    expect(surface.hit({ from: [0, 2, 1], way: [0, 0, -1] })).toBeNull();
    expect(surface.hit({ from: [0, 0.3, -1], way: [0, 0, -1] })).toBeNull(); // it is behind
  });

  test('goes on beyond the picture as it ends at the rim', () => {
    const at = (u: number) => surface.pointAt(u, 0.5)!.position;
    const [a, b, c] = [at(0.98), at(1), at(1.02)];
    for (const i of [0, 1, 2]) expect(c[i] - b[i]).toBeCloseTo(b[i] - a[i], 6);
  });

  test('has every place of a rectangle between its corners', () => {
    const corners = surface.cornersOf(0.2, 0.1, 0.7, 0.4);
    const next = random(5);
    for (let i = 0; i < 100; i++) {
      const { position } = surface.pointAt(0.2 + 0.5 * next(), 0.1 + 0.3 * next())!;
      for (const axis of [0, 1, 2]) {
        const values = corners.map((p) => p[axis]);
        expect(position[axis]).toBeGreaterThanOrEqual(Math.min(...values) - 1e-6);
        expect(position[axis]).toBeLessThanOrEqual(Math.max(...values) + 1e-6);
      }
    }
    expect(surface.cornersOf(2, 2, 3, 3)).toEqual([]);
  });

  // Khronos glTF-Validator: no error, no warning
  test('is written as a GLB that satisfies the glTF validator', async () => {
    const png = await writePng(noisePicture(1, 8, 8), deflate);
    const bytes = await written('Card', surface, png);
    const { issues, info } = await validateBytes(bytes);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    expect(info).toMatchObject({
      totalVertexCount: surface.mesh.positions.length / 3,
      totalTriangleCount: surface.mesh.indices.length / 3,
    });
    const read = await glbTools.read(bytes);
    expect(Buffer.compare(read.image, png)).toBe(0);
    expect(surface.mesh).toMatchObject(read.mesh); // root to tip goes along where it is asked for
  });
});

// more vertices than 16 bits count, in views of a larger buffer; the validator and a reader of the file say what it holds
test('a mesh of 90,000 vertices is written exactly, with indices of 32 bits', async () => {
  const side = 300;
  const count = side * side;
  const buffer = new Float32Array(8 * count + 7).fill(9); // what lies around the views is not theirs
  const views = [3, 3, 2].map((n, k) => buffer.subarray([1, 3 * count + 2, 6 * count + 3][k], [1, 3 * count + 2, 6 * count + 3][k] + n * count)); // prettier-ignore
  const [positions, normals, uvs] = views;
  for (let i = 0; i < count; i++) {
    const [u, v] = [(i % side) / (side - 1), Math.floor(i / side) / (side - 1)];
    positions.set([u - 0.5, 1 - v, 0], 3 * i);
    normals.set([0, 0, 1], 3 * i);
    uvs.set([u, v], 2 * i);
  }
  const triangles: number[] = [];
  for (let y = 0; y + 1 < side; y++) {
    for (let x = 0, i = y * side; x + 1 < side; x++, i++) {
      triangles.push(i, i + side, i + 1, i + 1, i + side, i + side + 1);
    }
  }
  const surface = meshSurface({ positions, normals, uvs, indices: indicesOf(count, triangles) });
  const png = await writePng(noisePicture(1, 8, 8), deflate);
  const bytes = await written('Fine', surface, png);
  const { issues, info } = await validateBytes(bytes);
  expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
  expect(info).toMatchObject({ totalVertexCount: count, totalTriangleCount: triangles.length / 3 });
  const { mesh } = await glbTools.read(bytes);
  for (const part of ['positions', 'normals', 'uvs', 'indices'] as const)
    expect([part, Buffer.compare(Buffer.from(mesh[part].buffer), Buffer.from(surface.mesh[part].slice().buffer))]).toEqual([part, 0]); // prettier-ignore
});

describe('a set of cards', () => {
  const size = { width: 20, height: 40 };
  const meshOf = (set: Partial<CardSet>, atlas?: CardOf['atlas']) =>
    cardSurface({ cardWidth: 0.5, set: { ...ONE_CARD, ...set }, atlas }, size);

  test.each(SET_KINDS)('%s: faces as its normals say, is met from both sides, is valid glTF', async (kind) => {
    const surface = meshOf({ kind, cards: 3, apart: 0.1 });
    const { mesh, bounds } = surface;
    const corner = (i: number) => [0, 1, 2].map((c) => mesh.positions[3 * mesh.indices[i] + c]);
    for (let t = 0; t < mesh.indices.length; t += 3) {
      const [a, b, c] = [corner(t), corner(t + 1), corner(t + 2)];
      const [p, q] = [b.map((v, i) => v - a[i]), c.map((v, i) => v - a[i])];
      const way = [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];
      const normal = mesh.normals.subarray(3 * mesh.indices[t]);
      expect(way.reduce((sum, v, i) => sum + v * normal[i], 0)).toBeGreaterThan(0);
    }
    expect(surface.hit({ from: [0.01, 0.5, 9], way: [0, 0, -1] })!.side).toBe('front');
    const behind = surface.hit({ from: [0.01, 0.5, -9], way: [0, 0, 1] })!.side;
    expect(behind).toBe(['front and back', 'three crossed', 'star'].includes(kind) ? 'front' : 'back');
    expect(bounds.max[1]).toBeCloseTo(1, 6);
    const png = await writePng(noisePicture(4, 8, 1), deflate);
    const glb = await written('Set', meshOf({ kind }), png);
    expect((await validateBytes(glb)).issues.numErrors).toBe(0);
  });

  test('copies in layers are mirrored in turn; of an atlas each card shows its own part, upright and at its size', () => {
    const layers = meshOf({ kind: 'layered', cards: 3 });
    const places = [0.04, 0.015, -0.01].map((z) => layers.hit({ from: [0.1, 0.5, z], way: [0, 0, -1] })!.u);
    expect(places).toEqual([0.7, 0.3, 0.7].map((u) => expect.closeTo(u, 5)));
    const part = { sha256: 'a', name: 'a', width: 10, height: 40, piece: 'x', revision: 0 };
    const placed = [0, 90].map((turn, copy) => ({ part: 'a', copy, x: 0.25 + copy / 2, y: 1, turn, tall: 0.4 }));
    const atlas = { ...makeRecipe('atlas', { ...size, placed }), parts: [part] } as CardOf['atlas'];
    const { mesh } = meshOf({ kind: 'in a row', cards: 2, apart: 0 }, atlas);
    expect([...mesh.positions.subarray(0, 9)]).toEqual(
      [-0.05, 0, 0, 0, 0, 0, 0, 0.2, 0].map((v) => expect.closeTo(v, 6)),
    );
    // turned clockwise by a quarter: its root is to the left, its right side below
    const uvs = [
      [0.55, 0.475],
      [0.55, 0.525],
      [0.95, 0.525],
      [0.95, 0.475],
    ];
    expect([...mesh.uvs.subarray(8)]).toEqual(uvs.flat().map((v) => expect.closeTo(v, 6)));
  });
});

test('a row that bows stands on an arc as long as it, square to it', () => {
  const set: CardSet = { ...ONE_CARD, kind: 'in a row', cards: 9, apart: 0, bow: 180 };
  const { mesh } = cardSurface({ cardWidth: 0.5, set }, { width: 20, height: 40 });
  const radius = 4.5 / Math.PI;
  for (let k = 0; k < 9; k++) {
    const middle = [0, 2].map((axis) => (mesh.positions[12 * k + axis] + mesh.positions[12 * k + 3 + axis]) / 2);
    const inwards = [0 - middle[0], radius - middle[1]].map((v) => v / radius);
    expect(Math.hypot(...inwards)).toBeCloseTo(1, 6);
    expect([mesh.normals[12 * k], mesh.normals[12 * k + 2]]).toEqual(inwards.map((v) => expect.closeTo(v, 6)));
  }
});

describe('a mesh of many triangles', () => {
  /** Overlapping in space and in the picture, some without area, some square to the axes. */
  function heap(count: number): SurfaceMesh {
    const next = random(11);
    const positions = Float32Array.from({ length: 9 * count }, (_, i) => (i % 9 < 3 ? 4 * next() : 0));
    const uvs = Float32Array.from({ length: 6 * count }, (_, i) => (i % 6 < 2 ? next() : 0));
    for (let t = 0; t < count; t++) {
      const flat = t % 5 === 0;
      for (let k = 3; k < 9; k++)
        positions[9 * t + k] = positions[9 * t + (k % 3)] + (flat && k % 3 === 2 ? 0 : 0.8 * (next() - 0.5));
      for (let k = 2; k < 6; k++)
        uvs[6 * t + k] = t % 17 === 0 ? uvs[6 * t + (k % 2)] : uvs[6 * t + (k % 2)] + 0.2 * next();
    }
    const normals = Float32Array.from({ length: 9 * count }, (_, i) => (i % 3 === 2 ? 1 : 0));
    return {
      positions,
      normals,
      uvs,
      indices: indicesOf(
        3 * count,
        Array.from({ length: 3 * count }, (_, i) => i),
      ),
    };
  }
  const one = ({ positions, normals, uvs }: SurfaceMesh, t: number): CardSurface =>
    meshSurface({
      positions: positions.slice(9 * t, 9 * t + 9),
      normals: normals.slice(9 * t, 9 * t + 9),
      uvs: uvs.slice(6 * t, 6 * t + 6),
      indices: Uint16Array.of(0, 1, 2),
    });

  test('is met, and shows places, as its triangles are one by one', () => {
    const mesh = heap(250);
    const all = meshSurface(mesh);
    const each = Array.from({ length: 250 }, (_, t) => one(mesh, t));
    const next = random(2);
    let [met, most] = [0, 0];
    for (let i = 0; i < 150; i++) {
      const from: Vec3 = [4 * next(), 4 * next(), -1 + 6 * next()];
      const way: Vec3 = i % 4 === 0 ? [0, 0, 1] : [next() - 0.5, next() - 0.5, next() - 0.5];
      const hits = each.flatMap((surface, triangle) => {
        const hit = surface.hit({ from, way });
        return hit ? { ...hit, triangle } : [];
      });
      const nearest = hits.reduce((a, b) => (b.distance < a.distance ? b : a), hits[0]);
      expect(all.hit({ from, way })).toEqual(nearest ?? null);
      if (nearest) met++;
      const [u, v] = [next(), next()];
      const places = all.placesAt(u, v);
      expect(places).toEqual(each.flatMap((surface) => surface.placesAt(u, v)));
      most = Math.max(most, places.length);
      const rectangle = [u, v, u + 0.1 * next(), v + 0.1 * next()] as const;
      expect(all.cornersOf(...rectangle)).toEqual(each.flatMap((surface) => surface.cornersOf(...rectangle)));
    }
    expect(met).toBeGreaterThan(20);
    expect(most).toBeGreaterThan(2); // several triangles show one place
  });

  test('all in one place, none, or without size: no search goes on for ever', () => {
    const { normals, uvs, positions } = heap(1);
    const stacked = {
      normals,
      uvs,
      positions,
      indices: Uint16Array.from({ length: 3 * 5000 }, (_, i) => i % 3),
    };
    const middle = [0, 1, 2].map((k) => (positions[k] + positions[3 + k] + positions[6 + k]) / 3) as unknown as Vec3;
    expect(meshSurface(stacked).hit({ from: along(middle, [0, 0, 1], -1), way: [0, 0, 1] })?.distance).toBeCloseTo(
      1,
      5,
    );
    const none = meshSurface({ normals, uvs, positions, indices: new Uint16Array(0) });
    expect([none.hit({ from: middle, way: [0, 0, 1] }), none.pointAt(0.5, 0.5)]).toEqual([null, null]);
  });
});
