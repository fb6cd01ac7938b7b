import { expect, test } from '@jest/globals';
import { seenCoverage, type Mask } from '@lithe-sieve/core';

const mask = (width: number, rows: number[]): Mask => ({
  width,
  height: rows.length / width,
  channels: 1,
  data: Uint8Array.from(rows),
});

test('a ramp is cut along a straight line, where its texels say, and clamped beyond their middles', () => {
  const ramp = mask(4, [0, 100, 200, 255, 0, 100, 200, 255]);
  // 150 lies half way between the middles of the second and the third texel: at 2
  const [whole] = seenCoverage(ramp, 150, { width: 1, height: 1, left: 0, top: 0, pixel: 4 });
  expect(whole).toBeCloseTo(((4 - 2) * 2) / 16, 6); // below the mask nothing is kept
  const halves = seenCoverage(ramp, 150, { width: 4, height: 2, left: 0.25, top: 0, pixel: 1 });
  expect([...halves].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0, 0.25, 1, 0.75, 0, 0.25, 1, 0.75]);
});

test('the corner of a saddle has the area below a hyperbola', () => {
  // alpha = 200·u·v between four middles; kept where u·v ≥ 1/4: ∫ (1 − 1/(4u)) du from 1/4 to 1 = 3/4 − ln(4)/4
  const corner = mask(2, [0, 0, 0, 200]);
  const [kept] = seenCoverage(corner, 50, { width: 1, height: 1, left: 0.5, top: 0.5, pixel: 1 });
  expect(kept).toBeCloseTo(0.75 - Math.log(4) / 4, 4);
});

test('any mask: as many points as counted one by one', () => {
  const noisy = mask(
    8,
    Array.from({ length: 64 }, (_, i) => (i * i * 37 + i * 11) % 256),
  );
  const grid = { width: 3, height: 3, left: -0.7, top: 0.4, pixel: 2.9 };
  const exact = seenCoverage(noisy, 128, grid);
  const at = (x: number, y: number) => {
    const [i, j] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    const texel = (a: number, b: number) => noisy.data[8 * Math.min(7, Math.max(0, b)) + Math.min(7, Math.max(0, a))];
    const [u, v] = [x - 0.5 - i, y - 0.5 - j];
    return (texel(i, j) * (1 - u) + texel(i + 1, j) * u) * (1 - v) + (texel(i, j + 1) * (1 - u) + texel(i + 1, j + 1) * u) * v; // prettier-ignore
  };
  const n = 200;
  for (const [k, share] of exact.entries()) {
    let count = 0;
    for (let p = 0; p < n * n; p++) {
      const x = grid.left + ((k % 3) + ((p % n) + 0.5) / n) * grid.pixel;
      const y = grid.top + (Math.floor(k / 3) + (Math.floor(p / n) + 0.5) / n) * grid.pixel;
      if (x >= 0 && y >= 0 && x <= 8 && y <= 8 && at(x, y) >= 128) count++;
    }
    expect(Math.abs(share - count / n ** 2)).toBeLessThan(0.004);
  }
});
