/** @jest-environment node */
import { expect, test } from '@jest/globals';
import { makeRecipe, makeStep, recipeKey, type StepEntry } from '@lithe-sieve/core';
import { FirstAnswer } from '../src/workers/first-answer';

const RUN: StepEntry[] = [
  makeStep('m', 'levels'),
  makeStep('c', 'bleed'),
  makeStep('h', 'height-from-picture'),
  makeStep('n', 'normal-from-height'),
  makeStep('o', 'occlusion'),
];
const ends = (...runs: StepEntry[][]) => {
  const first = new FirstAnswer();
  return runs.map((run) => {
    const { end, draft } = first.endOf({ turn: 1, run, sources: [] });
    return draft ? 'draft' : end;
  });
};
const off = (id: string, run = RUN) => run.map((s) => (s.id === id ? { ...s, on: false } : s));

test('a changed recipe is answered by a draft, where no step needs its maps', () => {
  const drafts = (run: StepEntry[]) => {
    const first = new FirstAnswer();
    return [1, 1, 2].map((seed) => {
      const recipe = makeRecipe('tuft', { seed });
      return first.endOf({ turn: 1, run, sources: [{ id: 's', sha256: recipeKey(recipe), recipe }] }).grownDraft;
    });
  };
  expect(drafts(RUN.slice(0, 2))).toEqual([false, false, true]);
  expect(drafts(RUN)).toEqual([false, false, false]);
});

test('a changed map is answered first, a change before the maps without them, all else as a whole', () => {
  expect(ends(RUN, off('h'), off('h'))).toEqual([5, 3, 5]);
  expect(ends(RUN, off('m'))).toEqual([5, 2]);
  expect(ends(RUN, off('o'))).toEqual([5, 5]);
  expect(ends(RUN, RUN.toSpliced(3, 1))).toEqual([5, 4]);
  expect(ends(RUN.slice(0, 2), off('m', RUN.slice(0, 2)))).toEqual([2, 2]);
  const fitted = [...RUN, makeStep('f', 'trim')];
  expect(ends(fitted, off('h', fitted), off('f', off('h', fitted)))).toEqual([6, 6, 6]);
  const turned = [...fitted, makeStep('g', 'resize')];
  expect(ends(turned, off('f', turned))).toEqual([7, 'draft']);
});
