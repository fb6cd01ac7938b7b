import { expect, test } from '@jest/globals';
import { STEP_KINDS } from '@lithe-sieve/core';
import { offersOf } from '../src/features/run/insert-groups';

const plenty = { sources: 2, maskSteps: 3 };
const names = (...args: Parameters<typeof offersOf>) => offersOf(...args).flatMap((g) => g.offers.map((o) => o.name));

test('every kind of a stretch is offered once, under what it is for', () => {
  for (const stretch of ['mask', 'colour'] as const) {
    const kinds = Object.entries(STEP_KINDS).filter(([, kind]) => kind.stretch === stretch);
    expect(names(stretch, '', plenty).sort()).toEqual(kinds.map(([name]) => name).sort());
  }
  const [first] = offersOf('mask', '', plenty);
  expect([first.title, first.offers[0].name]).toEqual(['Make a mask', 'from-channel']);
});

test('typing leaves the kinds whose label or hint holds every word, and no empty group', () => {
  expect(names('mask', 'scribbles', plenty)).toEqual(['from-strokes']);
  expect(names('mask', '  HOLES  below', plenty)).toEqual(['close-pinholes']);
  expect(offersOf('mask', 'holes below', plenty).map((g) => g.title)).toEqual(['Clean up']);
  expect(offersOf('mask', 'nothing like it', plenty)).toEqual([]);
});

test('a kind that cannot work here says what it needs; the others need nothing', () => {
  const missing = (here: typeof plenty) =>
    Object.fromEntries(offersOf('mask', '', here).flatMap((g) => g.offers.map((o) => [o.name, o.missing])));
  const bare = missing({ sources: 1, maskSteps: 0 });
  expect(bare['from-two-backdrops']).toMatch(/second source/);
  expect(bare['combine']).toMatch(/another step/);
  expect(bare['from-colour']).toBe('');
  expect(Object.values(missing(plenty)).filter(Boolean)).toEqual([]);
});
