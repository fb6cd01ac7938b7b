import { describe, expect, test } from '@jest/globals';
import { CatmullRomCurve3, Vector3 } from 'three';
import { cardLine, cardSurface, curveThrough, type GroundPlace, lineLength, ONE_CARD } from '@lithe-sieve/core/testing';

const SWING: GroundPlace[] = [[-1, 0], [-0.2, 0.5], [0.1, -0.4], [0.9, 0.2], [1.1, 0.2]]; // prettier-ignore
const far = (p: GroundPlace, q: GroundPlace) => Math.hypot(p[0] - q[0], p[1] - q[1]);

describe('cards along a line', () => {
  // three's own curve of the same kind; beyond its ends it is extended likewise
  test('the curve goes through its places, as another library has it', () => {
    const other = new CatmullRomCurve3(SWING.map(([x, z]) => new Vector3(x, 0, z)), false, 'centripetal'); // prettier-ignore
    const curve = curveThrough(SWING);
    for (const [i, [x, z]] of curve.entries()) {
      const there = other.getPoint(i / (curve.length - 1));
      expect([there.x, there.z]).toEqual([expect.closeTo(x, 9), expect.closeTo(z, 9)]);
    }
    other.arcLengthDivisions = 4000;
    expect(lineLength(SWING) / other.getLength()).toBeCloseTo(1, 3);
  });

  const standing = (line: GroundPlace[], cards: number, metre = 1) => {
    const set = { ...ONE_CARD, kind: 'along a line' as const, line, cards };
    const { mesh } = cardSurface({ cardWidth: 0.2 * metre, metre, set }, { width: 10, height: 30 });
    return Array.from({ length: cards }, (_, k) => {
      const corner = (i: number): [number, number, number] => [0, 1, 2].map((c) => mesh.positions[3 * (4 * k + i) + c]) as never; // prettier-ignore
      return { left: corner(0), right: corner(1), normal: [0, 1, 2].map((c) => mesh.normals[12 * k + c]) };
    });
  };

  test('on a straight line they stand evenly, each as the line goes; the way back shows their backs', () => {
    for (const [way, line] of [[1, [[-1, 2], [3, 2]]], [-1, [[3, 2], [-1, 2]]]] as [number, GroundPlace[]][]) {
      for (const [k, { left, right, normal }] of standing(line, 5).entries()) {
        const x = way === 1 ? -1 + 0.8 * (k + 0.5) : 3 - 0.8 * (k + 0.5);
        expect(left).toEqual([expect.closeTo(x - 0.1 * way, 6), 0, 2]);
        expect(right).toEqual([expect.closeTo(x + 0.1 * way, 6), 0, 2]);
        expect(normal).toEqual([expect.closeTo(0), 0, way]);
      }
    }
  }); // prettier-ignore

  test('round a circle each stands on it and along it, and all are as far from one another', () => {
    const ring = Array.from({ length: 25 }, (_, i): GroundPlace => [Math.sin(i * Math.PI / 12), -Math.cos(i * Math.PI / 12)]); // prettier-ignore
    const cards = standing(ring, 12, 3); // a card of 0.2 m, its unit a third of a metre
    const middles = cards.map(({ left, right }): GroundPlace => [(left[0] + right[0]) / 2, (left[2] + right[2]) / 2]);
    for (const [k, { left, right }] of cards.entries()) {
      const [x, z] = middles[k];
      expect(Math.hypot(x, z) / 3).toBeCloseTo(1, 2);
      expect(Math.abs((right[0] - left[0]) * x + (right[2] - left[2]) * z)).toBeLessThan(0.03); // square to the radius
      expect(far(middles[k], middles[(k + 1) % 12]) / far(middles[0], middles[1])).toBeCloseTo(1, 1);
    }
  });

  test('without a line they have one as long as they are wide; in one place all stand there', () => {
    const of = { cardWidth: 0.2, set: { ...ONE_CARD, kind: 'along a line' as const, cards: 6 } };
    const line = cardLine(of, { width: 10, height: 30 })!;
    expect([line[0], line.at(-1)]).toEqual([[expect.closeTo(-0.6), 0], [expect.closeTo(0.6), 0]]); // prettier-ignore
    expect(cardLine({ ...of, set: ONE_CARD }, { width: 10, height: 30 })).toBeNull();
    for (const { left, right } of standing([[1, 1], [1, 1]], 3)) expect([left[0], right[0], left[2]]).toEqual([expect.closeTo(0.9), expect.closeTo(1.1), 1]); // prettier-ignore
    expect(curveThrough(SWING.flatMap((p) => [p, p]))).toEqual(curveThrough(SWING)); // a place twice is one
  });
});
