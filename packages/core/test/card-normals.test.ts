import { expect, test } from '@jest/globals';
import { CARD_SIDES, cardSurface, NORMAL_KINDS, type CardNormals } from '@lithe-sieve/core';

const SQUARE = { width: 64, height: 64 };
const normalsOf = (normals: CardNormals | undefined, more: object = {}) => {
  const { mesh } = cardSurface({ cardWidth: 2, normals, ...more }, SQUARE);
  return Array.from({ length: mesh.normals.length / 3 }, (_, i) => ({
    at: [...mesh.positions.subarray(3 * i, 3 * i + 3)],
    normal: [...mesh.normals.subarray(3 * i, 3 * i + 3)],
  }));
};

test('away from the middle: a flat card two wide is lit as the cap of a ball whose middle lies one behind it', () => {
  for (const { at, normal } of normalsOf({ kind: 'sphere', share: 1 })) {
    const out = [at[0], at[1] - 1, 1]; // it stands on the ground, its middle one up
    expect(normal).toEqual(out.map((v) => expect.closeTo(v / Math.hypot(...out), 5)));
  }
});

test('upwards: half way is half way between the surface and the ground', () => {
  for (const { normal } of normalsOf({ kind: 'upwards', share: 0.5 }))
    expect(normal).toEqual([0, Math.SQRT1_2, Math.SQRT1_2].map((v) => expect.closeTo(v, 5)));
});

test('every kind: of length 1, nothing else moves, at 0 it is the surface, and a back is bent outwards too', () => {
  const plain = normalsOf(undefined, { sides: CARD_SIDES });
  expect(normalsOf({ kind: 'hull', share: 0 }, { sides: CARD_SIDES })).toEqual(plain);
  for (const kind of NORMAL_KINDS) {
    const bent = normalsOf({ kind, share: 0.8 }, { sides: CARD_SIDES });
    expect(bent.map(({ at }) => at)).toEqual(plain.map(({ at }) => at));
    for (const [i, { normal }] of bent.entries()) {
      expect(Math.hypot(...normal)).toBeCloseTo(1, 5);
      const own = plain[i].normal;
      expect(normal[0] * own[0] + normal[1] * own[1] + normal[2] * own[2]).toBeGreaterThan(0); // never turned over
      if (kind !== 'upwards') expect(Math.sign(normal[0])).toBe(Math.sign(plain[i].at[0])); // to its own side
    }
  }
});
