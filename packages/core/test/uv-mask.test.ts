import { describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import { indicesOf } from '../src/card/surface-mesh.ts';
import { uvMask } from '../src/card/mesh/uv-mask.ts';
import { random } from './helpers/pictures.ts';

const CLAMP = { across: 'clamp', down: 'clamp' } as const;
const meshOf = (places: number[][], triangles: number[]) => ({
  uvs: Float32Array.from(places.flat()),
  indices: indicesOf(places.length, triangles),
});
const near = (a: Uint8Array, b: Uint8Array) => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);

describe('the outline of UVs as a mask', () => {
  test('covers of each texel what 32 × 32 samples find, whichever way round a triangle goes', () => {
    const next = random(3);
    for (let k = 0; k < 12; k++) {
      const corners = [0, 1, 2].map(() => [next() * 1.6 - 0.3, next() * 1.6 - 0.3]);
      const { data } = uvMask(meshOf(corners, [0, 1, 2]), { width: 13, height: 9 }, CLAMP);
      const [a, b, c] = corners.map(([u, v]) => [u * 13, v * 9]);
      const side = (p: number[], q: number[], x: number, y: number) =>
        (q[0] - p[0]) * (y - p[1]) - (q[1] - p[1]) * (x - p[0]);
      const samples = Uint8Array.from(data, (_, i) => {
        let inside = 0;
        for (let s = 0; s < 1024; s++) {
          const [x, y] = [(i % 13) + ((s % 32) + 0.5) / 32, Math.floor(i / 13) + (Math.floor(s / 32) + 0.5) / 32];
          const [p, q, r] = [side(a, b, x, y), side(b, c, x, y), side(c, a, x, y)];
          if ((p >= 0 && q >= 0 && r >= 0) || (p <= 0 && q <= 0 && r <= 0)) inside++;
        }
        return Math.round((255 * inside) / 1024);
      });
      expect(near(data, samples)).toBeLessThanOrEqual(4);
    }
  });

  test('is what another library draws of the same polygon, and whole where triangles share a side', async () => {
    const places = Array.from({ length: 7 }, (_, i) => [
      0.5 + 0.43 * Math.cos(i * 0.9),
      0.5 + 0.37 * Math.sin(i * 0.9),
    ]);
    const fan = places.slice(2).flatMap((_, i) => [0, i + 1, i + 2]);
    const { data } = uvMask(meshOf(places, fan), { width: 64, height: 48 }, CLAMP);
    const points = places.map(([u, v]) => `${u * 64},${v * 48}`).join(' ');
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="64" height="48"><polygon points="${points}" fill="#fff"/></svg>`;
    const theirs = await sharp(Buffer.from(svg)).extractChannel('alpha').raw().toBuffer();
    const off = data.map((v, i) => Math.abs(v - theirs[i]));
    expect(off.filter((v) => v > 24)).toHaveLength(0); // its samples are 4 × 4 to 16 × 16
    expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.5);
    expect([...data.subarray(24 * 64 + 20, 24 * 64 + 44)]).toEqual(Array.from({ length: 24 }, () => 255));
  });

  test('bands of rows join; what repeats beyond the picture counts within it, what is clamped does not', () => {
    const strip = meshOf([[0.25, 0], [0.75, 0], [0.75, 1], [0.25, 1]], [0, 1, 2, 0, 2, 3]); // prettier-ignore
    const { data } = uvMask(strip, { width: 4, height: 2050 }, CLAMP);
    expect([...new Set(Array.from({ length: 2050 }, (_, y) => data.subarray(4 * y, 4 * y + 4).join()))]).toEqual([
      '0,255,255,0',
    ]);
    const beyond = meshOf([[1, 0], [1.5, 0], [1.5, 1], [1, 1]], [0, 1, 2, 0, 2, 3]); // prettier-ignore
    const row = (across: 'clamp' | 'repeat' | 'mirror') => [
      ...uvMask(beyond, { width: 4, height: 1 }, { across, down: 'clamp' }).data,
    ];
    expect([row('clamp'), row('repeat'), row('mirror')]).toEqual([
      [0, 0, 0, 0],
      [255, 255, 0, 0],
      [0, 0, 255, 255],
    ]);
  });

  test('copies that lie on one another count once; what repeats beyond all measure is refused in words', () => {
    const corners = [[0.1, 0.1], [0.9, 0.2], [0.3, 0.8]]; // prettier-ignore
    const size = { width: 16, height: 16 };
    const once = uvMask(meshOf(corners, [0, 1, 2]), size, CLAMP).data;
    expect(uvMask(meshOf([...corners, ...corners], [0, 1, 2, 5, 4, 3]), size, CLAMP).data).toEqual(once);
    const wide = Array.from({ length: 60_000 }, (_, i) => [-8 + (i % 3) * 8, -8 + ((i * 7) % 11) + i * 1e-4]);
    const all = meshOf(
      wide,
      Array.from({ length: 60_000 }, (_, i) => i),
    );
    expect(() => uvMask(all, size, { across: 'repeat', down: 'repeat' })).toThrow(/repeats too often/);
  });
});
