import { describe, expect, test } from '@jest/globals';
import { validateBytes } from 'gltf-validator';
import {
  cardSize,
  cardSurface,
  PIECE_DEFAULTS,
  readCardGlb,
  writePng,
  type CardSurface,
  type Vec3,
} from '../src/index.ts';
import { writeCardGlb } from '../src/glb/write.ts';
import { bentStrip } from './helpers/bent.ts';
import { deflate } from './helpers/node-codecs.ts';
import { noisePicture, random } from './helpers/pictures.ts';

const SURFACES: [string, CardSurface][] = [
  ['flat', cardSurface({ cardWidth: 0.5 }, { width: 20, height: 30 })],
  ['bent', bentStrip(0.5, 0.75)],
];
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
    const bytes = writeCardGlb({ name: 'Card', surface, material: PIECE_DEFAULTS.material, base: png });
    const { issues, info } = await validateBytes(bytes);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    expect(info).toMatchObject({
      totalVertexCount: surface.mesh.positions.length / 3,
      totalTriangleCount: surface.mesh.indices.length / 3,
    });
    expect(Buffer.compare(readCardGlb(bytes).image, png)).toBe(0);
  });
});
