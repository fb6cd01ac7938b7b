import { expect, test } from '@jest/globals';
import { cardSurface, shadedPixels, type Mask, type ShadedScene } from '@lithe-sieve/core';

/** Straight from the front: x from 0 to 1 and y from 0 to 1 fill the view; what has more z is nearer. */
const STRAIGHT = [2, 0, 0, 0, 0, 2, 0, 0, 0, 0, -0.1, 0, -1, -1, 0, 1];
const mask: Mask = {
  width: 4,
  height: 4,
  channels: 1,
  data: Uint8Array.from({ length: 16 }, (_, i) => (i % 4 < 2 ? 255 : 0)), // the left half is kept
};
const [width, height] = [40, 30];
/** Cards one behind the other, at these depths in their order. */
function sceneOf(depths: readonly number[], more: Partial<ShadedScene> = {}): ShadedScene {
  const { mesh } = cardSurface({ cardWidth: 1 }, mask);
  const copies = <T extends number>(values: ArrayLike<T>, of: (v: T, i: number, k: number) => number) =>
    depths.flatMap((_, k) => Array.from(values, (v, i) => of(v, i, k)));
  const cards = {
    positions: Float32Array.from(copies(mesh.positions, (v, i, k) => [v + 0.5, v, depths[k]][i % 3])),
    normals: Float32Array.from(copies(mesh.normals, (v) => v)),
    uvs: Float32Array.from(copies(mesh.uvs, (v) => v)),
    indices: Uint16Array.from(copies(mesh.indices, (v, _, k) => v + (k * mesh.positions.length) / 3)),
  };
  return { mesh: cards, levels: [mask], threshold: 128, camera: STRAIGHT, width, height, doubleSided: false, ...more };
}
const all = width * height;

test('one card that fills the view: each pixel once in every mode, and mask shows the half that it keeps', () => {
  for (const mode of ['opaque', 'mask', 'blend'] as const) {
    const { counts, shaded, shown } = shadedPixels(sceneOf([0]), mode);
    expect([mode, shaded, new Set(counts)]).toEqual([mode, all, new Set([1])]); // a shared side counts once
    expect(shown).toBe(mode === 'opaque' ? all : all / 2);
  }
});

test('three cards: farthest first, each is shaded; nearest first, opaque once, mask where it is open, blend always', () => {
  const shaded = (depths: number[], mode: 'opaque' | 'mask' | 'blend') =>
    shadedPixels(sceneOf(depths), mode).shaded / all;
  for (const mode of ['opaque', 'mask', 'blend'] as const) expect(shaded([0, 1, 2], mode)).toBe(3);
  expect(shaded([2, 1, 0], 'opaque')).toBe(1);
  expect(shaded([2, 1, 0], 'mask')).toBe(2); // the kept half once, the other half three times
  expect(shaded([2, 1, 0], 'blend')).toBe(3);
});

test('a back is not shaded unless both sides are, and nothing behind the camera is', () => {
  const mirrored = STRAIGHT.map((v, i) => (i === 0 || i === 12 ? -v : v)); // seen from behind
  expect(shadedPixels(sceneOf([0], { camera: mirrored }), 'opaque').shaded).toBe(0);
  expect(shadedPixels(sceneOf([0], { camera: mirrored, doubleSided: true }), 'opaque').shaded).toBe(all);
  const behind = STRAIGHT.map((v, i) => (i === 15 ? -1 : v));
  expect(shadedPixels(sceneOf([0], { camera: behind, doubleSided: true }), 'opaque').shaded).toBe(0);
});
