import { describe, expect, test } from '@jest/globals';
import { validateBytes } from 'gltf-validator';
import { glbTools } from '@lithe-sieve/host/glb';
import {
  cardSurface,
  FLAT,
  FORM_KINDS,
  FORM_RANGES,
  FORM_USES,
  formStretch,
  ONE_CARD,
  PIECE_DEFAULTS,
  SET_KINDS,
  writePng,
  type CardForm,
} from '../src/testing.ts';
import type { CardOf } from '../src/card/kinds.ts';
import { catenary, polyline } from '../src/card/curves.ts';
import type { SurfaceMesh } from '../src/card/surface-mesh.ts';
import { deflate } from './helpers/node-codecs.ts';
import { noisePicture } from './helpers/pictures.ts';

const PICTURE = { width: 100, height: 200 };
/** Half a metre wide, a metre tall. */
const formed = (form: Partial<CardForm>, more: Partial<CardOf> = {}) =>
  cardSurface({ cardWidth: 0.5, form: { ...FLAT, ...form }, ...more }, PICTURE);

const at = (mesh: SurfaceMesh, of: 'positions' | 'normals', i: number) => [0, 1, 2].map((c) => mesh[of][3 * i + c]);
const uvAt = (mesh: SurfaceMesh, i: number) => [mesh.uvs[2 * i] * 0.5, mesh.uvs[2 * i + 1]];
const apart = (a: number[], b: number[]) => Math.hypot(...a.map((v, i) => v - b[i]));

/** How much longer than on the flat card each side of each triangle is, at most, as a share. */
function stretched(mesh: SurfaceMesh): number {
  let most = 0;
  for (let t = 0; t < mesh.indices.length; t += 3) {
    const corners = [...mesh.indices.subarray(t, t + 3)];
    for (const [k, i] of corners.entries()) {
      const j = corners[(k + 1) % 3];
      const flat = apart(uvAt(mesh, i), uvAt(mesh, j));
      most = Math.max(most, Math.abs(apart(at(mesh, 'positions', i), at(mesh, 'positions', j)) / flat - 1));
    }
  }
  return most;
}

/** Whether triangles go counterclockwise as their normals see them. */
function facesItsNormals(mesh: SurfaceMesh): boolean {
  for (let t = 0; t < mesh.indices.length; t += 3) {
    const corners = [...mesh.indices.subarray(t, t + 3)];
    const [a, b, c] = corners.map((i) => at(mesh, 'positions', i));
    const [p, q] = [b, c].map((v) => v.map((x, i) => x - a[i]));
    const way = [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]];
    if (corners.some((i) => at(mesh, 'normals', i).reduce((sum, n, k) => sum + n * way[k], 0) <= 0)) return false;
  }
  return true;
}

/** A leaf of five corners with a hole of three. */
const CUT_OUT: CardOf['cutOut'] = {
  polygons: [[[0.1, 1], [0.1, 0.3], [0.5, 0], [0.9, 0.3], [0.9, 1]]],
  holes: [[[0.4, 0.5], [0.5, 0.8], [0.6, 0.5]]],
}; // prettier-ignore

describe('a card that is bent', () => {
  test.each(FORM_KINDS)(
    '%s, whole and cut out: lengths stay, it faces its normals, shows every place of it once',
    (kind) => {
      for (const cutOut of [undefined, CUT_OUT]) {
        const surface = formed({ kind }, { cutOut });
        const { mesh } = surface;
        expect(facesItsNormals(mesh)).toBe(true);
        if (kind !== 'folded') expect(stretched(mesh)).toBeLessThan(1e-5);
        for (const [u, v] of [
          [0.3, 0.45],
          [0.71, 0.83],
          [0.52, 0.2137],
        ]) {
          expect(surface.placesAt(u, v)).toHaveLength(1);
          const { position, normal } = surface.pointAt(u, v)!;
          const from = position.map((p, i) => p + 0.001 * normal[i]) as [number, number, number];
          const hit = surface.hit({ from, way: normal.map((n) => -n) as [number, number, number] })!;
          expect([hit.side, hit.u, hit.v]).toEqual(['front', expect.closeTo(u, 2), expect.closeTo(v, 2)]);
        }
        if (cutOut) expect(surface.placesAt(0.5, 0.6)).toEqual([]);
      }
    },
  );

  // an arc of length L that turns by α ends at R · (sin α, 1 - cos α), R = L / α
  test.each([30, 90, 180])(
    'along by %d°, its tip is where the arc of the circle ends, within the tolerance',
    (along) => {
      for (const tolerance of [0.1, 5]) {
        const surface = formed({ kind: 'bent', along, curl: 0, across: 0, tolerance });
        const turn = (along * Math.PI) / 180;
        const tip = [0, Math.sin(turn) / turn, (1 - Math.cos(turn)) / turn];
        expect(apart([...surface.pointAt(0.5, 0)!.position], tip)).toBeLessThan((2 * tolerance) / 1000);
        expect([...surface.pointAt(0.5, 0)!.normal]).toEqual(
          [0, -Math.sin(turn), Math.cos(turn)].map((n) => expect.closeTo(n, 4)),
        );
        expect([...surface.pointAt(0.5, 1)!.position]).toEqual([0, 0, 0].map((n) => expect.closeTo(n, 6)));
      }
    },
  );

  test('the tip of one that leans points where both angles say, wherever it turns', () => {
    for (const curl of [-1, 0, 0.5, 1]) {
      const { normal } = formed({ kind: 'bent', along: 50, curl, across: 0, lean: 20 }).pointAt(0.5, 0)!;
      expect([...normal]).toEqual(
        [0, -Math.sin((70 * Math.PI) / 180), Math.cos((70 * Math.PI) / 180)].map((n) => expect.closeTo(n, 4)),
      );
    }
  });

  test('a fold without rounding is an edge of two flat sides; turned towards each other by its angle', () => {
    const surface = formed({ kind: 'folded', fold: 60, round: 0, along: 0 });
    const [left, right] = [surface.pointAt(0.2, 0.5)!.normal, surface.pointAt(0.8, 0.5)!.normal];
    expect((Math.acos(left[0] * right[0] + left[2] * right[2]) * 180) / Math.PI).toBeCloseTo(60, 3);
    expect(surface.mesh.indices).toHaveLength(12);
    expect(surface.pointAt(0.1, 0.5)!.position[2]).toBeCloseTo(0.4 * 0.5 * Math.sin(Math.PI / 6), 5); // sides to the front
  });

  test('over an edge it hangs down as far as it does not lie on top; round a post it lies on its radius', () => {
    const lip = formed({ kind: 'over an edge', over: 0.4, radius: 50, tolerance: 0.1 });
    const [arc, hang] = [(0.05 * Math.PI) / 2, 0.6 - (0.05 * Math.PI) / 2];
    expect(lip.bounds.max[1]).toBeCloseTo(hang + 0.05, 3);
    expect(-lip.bounds.min[2]).toBeCloseTo(0.05 + 1 - hang - arc, 3);
    const post = formed({ kind: 'round a post', radius: 60, wrap: 360, tolerance: 0.05 });
    const axis = post.pointAt(0.5, 0.5)!.position[2] - 0.06;
    for (const u of [0.2, 0.3, 0.8]) {
      const [x, , z] = post.pointAt(u, 0.5)!.position;
      expect(Math.hypot(x, z - axis)).toBeCloseTo(0.06, 3);
    }
  });

  // y = a · cosh(x / a), J. Bernoulli 1691; by the closed form at 21 places
  test('slung, it is the chain between two supports', () => {
    const { stops, points } = polyline(catenary(1, 0.2), { segments: 0, tolerance: 0.05 });
    const a = (0.25 - 0.04) / 0.4;
    const middle = points[Math.floor(points.length / 2)];
    for (const [i, s] of stops.entries()) {
      const x = a * Math.asinh((s - 0.5) / a);
      expect(points[i][0] - middle[0]).toBeCloseTo(
        x - a * Math.asinh((stops[Math.floor(points.length / 2)] - 0.5) / a),
        3,
      );
      const rise = a * Math.cosh(x / a) - a * Math.cosh(0);
      expect(points[i][1] - Math.min(...points.map((p) => p[1]))).toBeCloseTo(rise, 3);
    }
    expect(formed({ kind: 'slung', sag: 0.2 }).bounds.max[1]).toBeCloseTo(0.2, 2);
  });

  test('bent both ways it cannot keep every length, and says by how much', () => {
    const form: CardForm = { ...FLAT, kind: 'bent', along: 90, curl: 0, across: 60, tolerance: 0.1 };
    const said = formStretch(form, { width: 0.5, height: 1 });
    expect(stretched(formed(form).mesh)).toBeLessThan(1.02 * said);
    expect(stretched(formed(form).mesh)).toBeGreaterThan(0.9 * said);
    expect(formStretch({ ...form, across: 0 }, { width: 0.5, height: 1 })).toBeLessThan(1e-9);
  });

  test('pieces: as many as are chosen, else the fewest of the tolerance; every end of every range is a card', () => {
    expect(formed({ kind: 'bent', across: 0, segments: 5 }).mesh.indices).toHaveLength(5 * 6);
    const pieces = (tolerance: number) =>
      formed({ kind: 'bent', across: 0, curl: 0, along: 60, tolerance }).mesh.indices.length / 6;
    // an arc of 60° on 1 m: h = √(8 r t), r = 0.955 m
    expect([0.1, 1, 10].map(pieces)).toEqual(
      [0.1, 1, 10].map((t) => Math.ceil(1 / Math.sqrt((8 * t) / 1000 / (Math.PI / 3)))),
    );
    for (const kind of FORM_KINDS) {
      for (const of of FORM_USES[kind]) {
        for (const end of ['min', 'max'] as const) {
          const { mesh } = formed({ kind, [of]: FORM_RANGES[of][end], tolerance: 0.05 });
          expect([kind, of, mesh.positions.every(Number.isFinite), mesh.indices.length / 3 < 10_000]).toEqual([
            kind,
            of,
            true,
            true,
          ]);
        }
      }
    }
  });

  test.each(SET_KINDS)('in a set, %s: faces its normals and is valid glTF', async (kind) => {
    const surface = formed(
      { kind: 'folded', lean: 15 },
      { set: { ...ONE_CARD, kind, cards: 4, apart: 0.02 }, cutOut: CUT_OUT },
    );
    expect(facesItsNormals(surface.mesh)).toBe(true);
    const base = await writePng(noisePicture(4, 8, 1), deflate);
    const card = {
      name: 'Set',
      names: { material: 'Set', mesh: 'Set' },
      surface,
      material: PIECE_DEFAULTS.material,
      base,
      back: null,
      sway: false,
      textures: [],
    };
    const glb = await glbTools.write({ ...card, wrap: { across: 'clamp', down: 'clamp' } });
    expect((await validateBytes(glb)).issues.numErrors).toBe(0);
  });
});
