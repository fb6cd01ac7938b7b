import { expect, test } from '@jest/globals';
import { strewn } from '@lithe-sieve/core';

test('copies are the same for a seed, the first is the card, and no two stand in one place', () => {
  const { places, sizes, tints } = strewn(2000, 7);
  expect([places[0], places[1], sizes[0], tints[0]]).toEqual([0, 0, 1, 1]);
  expect(strewn(2000, 7).places).toEqual(places);
  expect(strewn(2000, 8).places).not.toEqual(places);
  let nearest = Infinity;
  for (let i = 1; i < 2000; i++)
    for (let j = i + 1; j < Math.min(2000, i + 200); j++)
      nearest = Math.min(nearest, Math.hypot(places[2 * i] - places[2 * j], places[2 * i + 1] - places[2 * j + 1]));
  expect(nearest).toBeGreaterThan(0.1);
  for (let i = 1; i < 2000; i++) expect(places[2 * i + 1]).toBeLessThan(0); // behind the card, seen from its front
});
