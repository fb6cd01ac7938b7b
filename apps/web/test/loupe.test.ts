import { expect, test } from '@jest/globals';
import { makeMask } from '@lithe-sieve/core';
import { AROUND, CELL, drawLoupe, SIDE } from '../src/features/hand/loupe';
import { hiddenShare, leastHiding } from '../src/features/hand/loupe-place';

test('the loupe shows texels one by one: kept plain, dropped under threads, partly covered with a bar', () => {
  const mask = { width: 2, height: 1, channels: 1 as const, data: Uint8Array.of(255, 100) };
  const picture = { width: 2, height: 1, channels: 4 as const, data: Uint8Array.of(10, 20, 30, 0, 40, 50, 60, 0) };
  const out = new Uint8ClampedArray(4 * SIDE * SIDE);
  const shown = (cell: number, x: number, y: number) => {
    const o = 4 * ((AROUND * CELL + y) * SIDE + cell * CELL + x);
    return [...out.slice(o, o + 4)];
  };
  drawLoupe(mask, picture, { x: 0.9, y: 0.2 }, 128, out);
  expect(shown(AROUND, 4, 4)).toEqual([10, 20, 30, 255]);
  expect(shown(AROUND, 0, 0)).toEqual([255, 255, 255, 255]); // the texel under the pointer has a rim
  expect(shown(AROUND + 1, 1, 3)).toEqual([99, 103, 105, 255]); // 0.66 · 40 + 0.34 · 214, …
  expect(shown(AROUND + 1, 4, 4)[0]).toBeGreaterThan(150); // a thread
  expect([shown(AROUND + 1, 2, 0), shown(AROUND + 1, 4, 1)[0]]).toEqual([[216, 150, 46, 255], 99]); // 100/255 of 9 pixels
  expect(shown(AROUND + 2, 4, 4)).toEqual([119, 121, 122, 255]); // beyond the picture
});

test('the loupe goes where it hides least of the subject, and does not jump for little', () => {
  const mask = makeMask(
    10,
    10,
    Uint8Array.from({ length: 100 }, (_, i) => (i % 10 < 5 ? 255 : 0)),
  ); // kept at the left
  const share = (x: number) => hiddenShare({ x, y: 0 }, 40, mask, (px, py) => ({ x: px / 100, y: py / 100 }), 128);
  expect([share(0), share(30), share(60)]).toEqual([1, 0.5, 0]);
  expect(share(-40)).toBe(0); // beyond the picture
  expect(leastHiding([1, 0.5, 0], 0)).toBe(2);
  expect(leastHiding([0.1, 0.5, 0], 0)).toBe(0);
  expect(leastHiding([Infinity, 0.9], 0)).toBe(1);
});
