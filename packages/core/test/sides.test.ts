import { describe, expect, test } from '@jest/globals';
import { CARD_SIDES, cardSurface, FLAT, FORM_KINDS, ONE_CARD, type CardForm } from '../src/testing.ts';
import type { SurfaceMesh } from '../src/card/surface-mesh.ts';

type Sides = typeof CARD_SIDES;
const made = (form: Partial<CardForm>, sides?: Partial<Sides>, set = ONE_CARD) =>
  cardSurface(
    { cardWidth: 0.5, form: { ...FLAT, ...form }, set, sides: sides && { ...CARD_SIDES, ...sides } },
    { width: 100, height: 200 },
  );
const at = ({ positions }: SurfaceMesh, i: number) => [...positions.subarray(3 * i, 3 * i + 3)];
const far = (p: number[], q: number[]) => Math.hypot(...p.map((v, k) => v - q[k]));

/** Sides of triangles that are not met once in each direction, by their places. */
function openSides(mesh: SurfaceMesh): number {
  const name = (i: number) => at(mesh, i).map((v) => Math.round(v * 1e6)).join(); // prettier-ignore
  const sides = new Map<string, number>();
  for (let t = 0; t < mesh.indices.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [name(mesh.indices[t + k]), name(mesh.indices[t + ((k + 1) % 3)])];
      sides.set(`${a} ${b}`, (sides.get(`${a} ${b}`) ?? 0) + 1);
      sides.set(`${b} ${a}`, (sides.get(`${b} ${a}`) ?? 0) - 1);
    }
  }
  return [...sides.values()].filter((n) => n !== 0).length / 2;
}

/** Six times what a closed mesh holds (the divergence theorem). */
function volume({ positions: p, indices }: SurfaceMesh): number {
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]];
    sum += p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]);
    sum += p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]);
    sum += p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return sum / 6;
}

describe('a back of triangles of its own', () => {
  test.each(FORM_KINDS)('%s: half of the distance behind the card, its triangles the other way round', (kind) => {
    const bare = made({ kind }).mesh;
    const { mesh } = made({ kind }, { apart: 4 });
    const count = bare.positions.length / 3;
    expect(mesh.backFrom).toBe(bare.indices.length);
    expect(mesh.indices.length).toBe(2 * bare.indices.length);
    for (let i = 0; i < count; i++) {
      const [own, front, back] = [at(bare, i), at(mesh, i), at(mesh, count + i)];
      expect(far(front, back)).toBeCloseTo(0.004, 6);
      expect(far(own, front)).toBeCloseTo(0.002, 6);
      expect(mesh.normals.subarray(3 * (count + i), 3 * (count + i) + 3)).toEqual(
        bare.normals.subarray(3 * i, 3 * i + 3).map((n) => -n),
      );
    }
    for (let t = 0; t < bare.indices.length; t += 3) {
      const [a, b, c] = bare.indices.subarray(t, t + 3);
      const back = [...mesh.indices.subarray(bare.indices.length + t, bare.indices.length + t + 3)];
      expect(back).toEqual([a, c, b].map((i) => count + i));
    }
  });

  test.each(FORM_KINDS)('%s: a rim closes it, and it holds the card’s area times its thickness', (kind) => {
    const { mesh } = made({ kind, along: 30, across: 0 }, { apart: 2, rim: true });
    expect(openSides(mesh)).toBe(0);
    // a sheet of 0.5 × 1 m, 2 mm thick, but for where flat pieces meet
    expect(volume(mesh)).toBeCloseTo(0.001, 4);
    expect(volume(mesh)).toBeGreaterThan(0);
  });

  test('of a set, each card has its own; a seam of the mesh stays closed where its normals differ', () => {
    const { mesh } = made({}, { apart: 1, rim: true }, { ...ONE_CARD, kind: 'layered', cards: 3 });
    expect(mesh.indices.length / 3).toBe(3 * (2 + 8 + 2));
    expect(openSides(mesh)).toBe(0);
    const folded = made({ kind: 'folded', fold: 60, round: 0 }, { apart: 3, rim: true }).mesh;
    expect(openSides(folded)).toBe(0);
  });

  test('is met from behind, at the place that the front shows there', () => {
    const surface = made({}, { apart: 10 });
    const [front, back] = [1, -1].map((z) => surface.hit({ from: [0.1, 0.3, z], way: [0, 0, -z] })!);
    expect([front.side, back.side]).toEqual(['front', 'front']); // of triangles of their own
    expect([front.u, front.v]).toEqual([expect.closeTo(back.u, 6), expect.closeTo(back.v, 6)]);
    expect(front.distance).toBeCloseTo(0.995, 6);
    expect(surface.placesAt(0.3, 0.3)).toHaveLength(2);
  });
});
