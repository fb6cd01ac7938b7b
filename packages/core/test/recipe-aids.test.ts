import { expect, test } from '@jest/globals';
import {
  BRUSH_DEFAULTS,
  grownPiece,
  idleStrokes,
  mainColours,
  makeMask,
  makePicture,
  makeRecipe,
  recipeKey,
  sceneOf,
  type PieceDoc,
  type Recipe,
  type SnagContext,
  type Stroke,
} from '@lithe-sieve/core/testing';
import { bladesCutOff, partsNotSharp } from '../src/snags/recipes.ts';

test('a pinned blade comes to the front or the back; blades that are cut off and parts that are enlarged are snags', () => {
  const params = { blades: 30, bladeWidth: 0.1, fromX: 0.3, toX: 0.7 };
  const pin = { blade: 4, seed: 1, x: 0.5, y: 1, turn: 0, stretch: 1 };
  const seen = (order?: 'front' | 'back') => {
    const scene = sceneOf(makeRecipe('tuft', { ...params, pinned: [{ ...pin, ...(order && { order }) }] }));
    return scene.owners.map((o) => o.z);
  };
  expect(seen('front')[4]).toBe(Math.max(...seen('front')));
  expect(seen('back')[4]).toBeLessThan(Math.min(...seen().filter((_, i) => i !== 4)));
  const docOf = (recipe: Recipe) => grownPiece({ name: 'Grown', recipe, cardWidth: 1 }, () => 'an-id');
  const context = (doc: PieceDoc) => ({ doc }) as SnagContext;
  const tall = docOf(makeRecipe('tuft', { envelope: [1.4] }));
  const cutOff = bladesCutOff(context(tall))!;
  expect(cutOff.text).toContain('blades reach over');
  expect(bladesCutOff(context(cutOff.remedy!.apply(tall, () => '')))).toBeNull();
  const part = { sha256: 'a', name: 'a', width: 10, height: 100, piece: 'x', revision: 0 };
  const large = docOf({ ...makeRecipe('tuft', { envelope: [0.5], width: 400, height: 400 }), parts: [part] });
  const smaller = partsNotSharp(context(large))!.remedy!.apply(large, () => '').sources[0];
  expect(smaller.recipe).toMatchObject({ width: 200, height: 200 });
  expect(smaller.sha256).toBe(recipeKey(smaller.recipe!));
});

test('the main colours of a picture are two of its own, the more frequent first', () => {
  const colours = [[40, 90, 30], [200, 180, 90], [250, 0, 250]]; // prettier-ignore
  const of = (i: number) => (i % 10 < 6 ? 0 : i % 10 < 9 ? 1 : 2);
  const data = Uint8Array.from({ length: 4 * 64 * 64 }, (_, k) => {
    const i = k >> 2;
    return k % 4 === 3 ? (of(i) === 2 ? 0 : 255) : colours[of(i)][k % 4]; // the last one is not there
  });
  expect(mainColours(makePicture(64, 64, data))).toEqual([colours[0], colours[1]]);
  expect(mainColours(makePicture(8, 8, new Uint8Array(256)))).toBeNull();
});

test('strokes that repair nothing are found: they cut where nothing is kept, or restore what is whole', () => {
  // the left half is kept
  const mask = makeMask(
    64,
    64,
    Uint8Array.from({ length: 4096 }, (_, i) => (i % 64 < 32 ? 255 : 0)),
  );
  const stroke = (effect: 'cut' | 'restore', ...points: [number, number][]): Stroke => ({
    id: `${effect} ${points.join(' ')}`,
    kind: 'brush',
    effect,
    brush: { ...BRUSH_DEFAULTS, diameter: 6 },
    seed: 1,
    path: points.flatMap(([x, y]) => [x * 64, y * 64, 1023]),
  });
  const [leftIn, rightIn, across] = [[8, 30], [56, 30], [60, 60]] as [number, number][]; // prettier-ignore
  const idle = idleStrokes(
    [
      stroke('cut', rightIn),
      stroke('cut', leftIn),
      stroke('cut', rightIn, across),
      stroke('cut', rightIn, leftIn),
      stroke('restore', leftIn),
      stroke('restore', leftIn, rightIn),
      stroke('cut', [34, 30]), // its rim reaches what is kept
    ],
    mask,
  );
  expect(idle.map((s) => s.id)).toEqual(['cut 56,30', 'cut 56,30 60,60', 'restore 8,30']);
});
