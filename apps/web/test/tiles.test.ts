import 'fake-indexeddb/auto';
import { expect, jest, test } from '@jest/globals';
import { FULL_COVERAGE, TILE } from '@lithe-sieve/core';
import { IDBOpenDBRequest } from 'fake-indexeddb';
import { Steady } from '../src/features/hand/steady';
import { packTile, TileStore, unpackTile } from '../src/workers/tile-store';

const plane = (of: (i: number) => number) => Uint16Array.from({ length: TILE * TILE }, (_, i) => of(i));

test.each([
  ['cut whole', plane(() => 0), plane(() => 0), 1],
  ['restored whole', plane(() => 0), plane(() => FULL_COVERAGE), 1],
  ['of every value', plane((i) => (i * 16) % 65536), plane((i) => 65535 - i), undefined],
])('a tile %s is packed and unpacked the same', (_, keep, add, bytes) => {
  const packed = packTile({ keep, add });
  if (bytes) expect(packed).toHaveLength(bytes);
  const { keep: k, add: a } = unpackTile(packed);
  expect([Array.from(k), Array.from(a)]).toEqual([Array.from(keep), Array.from(add)]);
});

test('a steadied tip follows on its string: a tremor moves nothing, and events in between change little', () => {
  const way = (step: number) => {
    const steady = new Steady(5, { x: 0, y: 0, pressure: 1 });
    const out = [];
    for (let x = step; x <= 60; x += step) out.push(...steady.pull({ x, y: 2 * Math.sin(x / 3), pressure: 1 }));
    return out;
  };
  expect(new Steady(5, { x: 0, y: 0, pressure: 1 }).pull({ x: 3, y: 3, pressure: 1 })).toEqual([]);
  const [few, many] = [way(1), way(0.25)];
  expect(Math.abs(few.at(-1)!.x - 55)).toBeLessThan(0.4);
  expect(Math.hypot(few.at(-1)!.x - many.at(-1)!.x, few.at(-1)!.y - many.at(-1)!.y)).toBeLessThan(0.1);
  expect(Math.max(...few.map((p) => Math.abs(p.y)))).toBeLessThan(1.6); // calmer than the hand
});

test('storage that never answers is a cache that is empty, and holds nothing up', async () => {
  jest.useFakeTimers();
  indexedDB.open = () => new IDBOpenDBRequest();
  const store = new TileStore();
  const first = store.load('step');
  await jest.advanceTimersByTimeAsync(4000);
  expect([await first, await store.load('step')]).toEqual([null, null]); // at once the second time
  jest.useRealTimers();
});
