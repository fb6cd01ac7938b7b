import { expect, test } from '@jest/globals';
import { boxesOfTiles, joinBoxes, TILE } from '../src/index.ts';
import { random } from './helpers/pictures.ts';

test.each([
  [64, 64],
  [500, 330],
  [1024, 70],
])('tiles of %d × %d are covered by their boxes once each, and nothing else is', (width, height) => {
  const [across, down] = [Math.ceil(width / TILE), Math.ceil(height / TILE)];
  const next = random(width);
  for (const share of [0, 0.1, 0.5, 0.9, 1]) {
    const tiles = Array.from({ length: across * down }, (_, i) => i).filter(() => next() < share);
    const seen = new Uint8Array(width * height);
    for (const { x0, y0, x1, y1 } of boxesOfTiles(new Set(tiles.reverse()), width, height)) {
      for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) seen[y * width + x]++;
    }
    const wanted = Uint8Array.from(seen, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      return tiles.includes(Math.floor(y / TILE) * across + Math.floor(x / TILE)) ? 1 : 0;
    });
    expect(Buffer.compare(seen, wanted)).toBe(0);
  }
});

test('a slanting stroke stays a stair of small boxes; in the smaller levels one box is less work', () => {
  const side = 4096;
  const tiles = Array.from({ length: 64 }, (_, i) => i * 64 + i);
  const stair = boxesOfTiles(tiles, side, side);
  expect([stair.length, joinBoxes(stair)]).toEqual([64, stair]);
  const quarter = stair.map(({ x0, y0, x1, y1 }) => ({ x0: x0 / 16, y0: y0 / 16, x1: x1 / 16, y1: y1 / 16 }));
  expect(joinBoxes(quarter)).toEqual([{ x0: 0, y0: 0, x1: 256, y1: 256 }]);
  expect(boxesOfTiles([0, 1, 64, 65], side, side)).toEqual([{ x0: 0, y0: 0, x1: 128, y1: 128 }]);
});
