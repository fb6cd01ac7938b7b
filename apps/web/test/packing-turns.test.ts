import { expect, test } from '@jest/globals';
import { makeRecipe, type AtlasPacking, type RecipePart } from '@lithe-sieve/core';
import { packingTurns, type Atlas } from '../src/features/recipe/packing-turns';

const part = (name: string): RecipePart => ({ sha256: name, name, width: 8, height: 8, piece: 'a-piece', revision: 0 });

/** An atlas whose packing ends when the test says so. */
function studio() {
  let atlas: Atlas | undefined = { ...(makeRecipe('atlas') as Atlas), parts: [] };
  const ends: ((error?: Error) => void)[] = [];
  const turns = packingTurns();
  const host = {
    current: () => atlas,
    pack: (wanted: Atlas) =>
      new Promise<AtlasPacking>((resolve, reject) => {
        const placed = wanted.parts!.map((p, k) => ({ part: p.sha256, copy: 0, x: k, y: 0, turn: 0, tall: 1 }));
        ends.push((e) => (e ? reject(e) : resolve({ placed, used: 1, byBoxes: 0 } satisfies AtlasPacking)));
      }),
    apply: (parts: Atlas['parts'], placed: Atlas['params']['placed']) =>
      void (atlas = { ...atlas!, parts, params: { ...atlas!.params, placed } }),
  };
  const add = (name: string) =>
    turns(host, (now) => ({ parts: [...now.parts!, part(name)], placed: now.params.placed, keep: false }), name);
  const next = async (error?: Error) => {
    for (let k = 0; k < 8; k++) await Promise.resolve();
    ends.shift()!(error);
    for (let k = 0; k < 8; k++) await Promise.resolve();
  };
  const names = () => atlas!.parts!.map((p) => p.name);
  return { add, next, names, get: () => atlas, set: (to: Atlas | undefined) => (atlas = to) };
}

test('parts that are added while others are packed are all there', async () => {
  const { add, next, names, get } = studio();
  const both = [add('one'), add('two')];
  await next();
  await next();
  await Promise.all(both);
  expect(names()).toEqual(['one', 'two']);
  expect(get()!.params.placed.map((p) => p.part)).toEqual(['one', 'two']);
});

test('what is changed by hand meanwhile stays: it is packed again from there', async () => {
  const { add, next, names, get, set } = studio();
  const adding = add('one');
  await Promise.resolve();
  set({ ...get()!, params: { ...get()!.params, gutter: 40 } });
  await next();
  await next();
  await adding;
  expect(names()).toEqual(['one']);
  expect(get()!.params.gutter).toBe(40);
});

test('without room the part is there with no place, and the next one has its turn; a piece that was left is left alone', async () => {
  const { add, next, names, get, set } = studio();
  const failing = add('large');
  await next(new Error('no room'));
  expect(await failing).toMatchObject({ message: 'no room' });
  expect([names(), get()!.params.placed]).toEqual([['large'], []]);
  set(undefined);
  expect(await add('late')).toBeNull();
});
