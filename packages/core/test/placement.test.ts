import { describe, expect, test } from '@jest/globals';
import { Texture, Vector2 } from 'three';
import {
  isSieveError,
  placedUvs,
  placementOnFace,
  placementWithin,
  readObj,
  standingMesh,
  UV_PLACEMENT,
  type MeshPlacement,
} from '@lithe-sieve/core';

const obj = (text: string) => readObj(new TextEncoder().encode(text));
const METRES = { metres: 1, up: 'y' } as const;

/** Two triangles of a wall of 2 × 1 m that leans back and is turned, its UVs turned and sheared; a strip that goes on round the corner. */
const WALL = `v 1 0 0
v 2.2 0 1.6
v 1.48 0.8 -0.36
v 2.68 0.8 1.24
v 3 0 1
vt 0.2 0.1
vt 0.6 0.3
vt 0.1 0.5
vt 0.5 0.7
vt 0.9 0.4
usemtl wall
f 1/1 2/2 4/4
f 1/1 4/4 3/3
usemtl side
f 2/2 5/5 4/4
`;

describe('a picture placed on a mesh', () => {
  const placement: MeshPlacement = { middle: [0.3, 0.8], size: [0.5, 0.25], turn: 40, plane: [1, 0, 0, 1] };
  const uvs = Float32Array.from([0, 0, 1, 0, 0.3, 0.8, -2, 5.5]);

  test('lies where three’s own transform of textures has it, sides scaled unlike', () => {
    const { middle, size, turn } = placement;
    const texture = new Texture();
    texture.center.set(...middle);
    texture.offset.set(0.5 - middle[0], 0.5 - middle[1]);
    texture.repeat.set(1 / size[0], 1 / size[1]);
    texture.rotation = (-turn * Math.PI) / 180;
    texture.updateMatrix();
    const found = placedUvs(uvs, placement);
    for (let i = 0; i < uvs.length; i += 2) {
      const { x, y } = new Vector2(uvs[i], uvs[i + 1]).applyMatrix3(texture.matrix);
      expect([found[i], found[i + 1]]).toEqual([expect.closeTo(x, 4), expect.closeTo(y, 4)]);
    }
  });

  // KHR_texture_transform, "Overview": translation · rotation · scale; its formula from memory
  test('is one of KHR_texture_transform where both sides are scaled alike', () => {
    const { middle, turn } = placement;
    const found = placedUvs(uvs, { ...placement, size: [0.5, 0.5] });
    const [scale, rotation] = [2, (-turn * Math.PI) / 180];
    const [c, s] = [Math.cos(rotation), Math.sin(rotation)];
    const turned = (u: number, v: number) => [c * scale * u + s * scale * v, -s * scale * u + c * scale * v];
    const offset = turned(...middle).map((at) => 0.5 - at);
    for (let i = 0; i < uvs.length; i += 2) {
      const wanted = turned(uvs[i], uvs[i + 1]).map((at, k) => expect.closeTo(at + offset[k], 4));
      expect([found[i], found[i + 1]]).toEqual(wanted);
    }
  });

  test('by its UVs alone changes nothing', () => {
    expect(placedUvs(uvs, UV_PLACEMENT)).toEqual(uvs);
  });

  test.each([
    ['front', 1.5, 1.5, 1],
    ['back', 1.5, 1.5, 1],
    ['front', 4, 2, 0.5],
  ] as const)('to the %s of a face, of %d to 1: once, in proportion, upright', (side, aspect, width, height) => {
    const mesh = obj(WALL);
    const own = placementOnFace(mesh, 1, aspect, side);
    const surface = standingMesh(mesh, { ...METRES, placement: own });
    const at = (u: number, v: number) => surface.pointAt(u, v)!.position;
    const far = (p: readonly number[], q: readonly number[]) => Math.hypot(...p.map((x, k) => x - q[k]));
    // a hair inside: what ends on the side of a triangle may lie beyond it by rounding
    const [lt, rt, lb] = [at(0.001, 0.001), at(0.999, 0.001), at(0.001, 0.999)];
    expect(far(lt, rt)).toBeCloseTo(0.998 * width, 4);
    expect(far(lt, lb)).toBeCloseTo(0.998 * height, 4);
    expect(lt[1]).toBeCloseTo(rt[1], 4); // its upper side is level, and above
    expect(lt[1]).toBeGreaterThan(lb[1]);
    const middle = [1.84, 0.4, 0.62]; // of the wall's four corners
    expect(far(at(0.5, 0.5), middle)).toBeLessThan(1e-4);
    // seen from that side, left is left: the wall's front looks to -x and +z
    expect((side === 'front' ? 1 : -1) * (rt[2] - lt[2])).toBeGreaterThan(0);
  });

  test('stays within what a document takes, however far it is dragged', () => {
    const far = { middle: [1e9, -1e9], size: [1e-9, -1e9], turn: 400, plane: [1, 0, 0, 1] } satisfies MeshPlacement;
    expect(placementWithin(far)).toEqual({ middle: [1000, -1000], size: [1e-5, -1e5], turn: 180, plane: [1, 0, 0, 1] });
    expect(placementWithin(placement)).toEqual(placement);
  });

  test('to a face without an area in its UVs is refused', () => {
    const mesh = obj('v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 1\nf 1/1 2/2 3/1\n');
    let caught: unknown;
    try {
      placementOnFace(mesh, 0, 1);
    } catch (error) {
      caught = error;
    }
    expect(isSieveError(caught, 'unsupported')).toBe(true);
  });
});

describe('a mesh of several materials', () => {
  const mesh = obj(WALL);

  test('shows the piece on one of them, the others stay plain', () => {
    const surface = standingMesh(mesh, { ...METRES, slot: 'wall' });
    expect(surface.mesh.indices.length).toBe(6);
    expect(surface.mesh.positions.length).toBe(12);
    expect(surface.plain.map(({ name, mesh: { indices } }) => [name, indices.length])).toEqual([['side', 3]]);
    expect(surface.bounds).toEqual(standingMesh(mesh, METRES).bounds);
    expect(standingMesh(mesh, { ...METRES, slot: 'gone' }).mesh.indices.length).toBe(9); // a file that was replaced
  });

  test('plain triangles hide what is behind, and are not hit themselves', () => {
    const behind = obj('v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nv 1 0 1\nv 0 1 1\nusemtl a\nf 1 2 3\nusemtl b\nf 4 5 6\n');
    const ray = { from: [0.2, 0.2, 5], way: [0, 0, -1] } as const;
    const hitOf = (slot: string) =>
      standingMesh(behind, { ...METRES, slot }).hit({ from: [...ray.from], way: [...ray.way] });
    expect(hitOf('b')).toMatchObject({ distance: 4, triangle: 0 });
    expect(hitOf('a')).toBeNull();
  });

  test('a place of its own UVs stays the same, however the picture is placed', () => {
    const bare = standingMesh(mesh, METRES);
    const placement: MeshPlacement = { middle: [0.3, 0.3], size: [0.1, 0.2], turn: 20, plane: [1, 0, 0, 1] };
    const placed = standingMesh(mesh, { ...METRES, placement }, { wraps: { across: 'repeat', down: 'mirror' } });
    const [a, b] = [bare, placed].map((s) => s.hit({ from: [5, 0.4, -2], way: [-3.16, 0, 2.62] })!);
    expect([b.own, b.triangle, b.distance]).toEqual([a.own, a.triangle, a.distance]);
    expect(a.own).toEqual([expect.closeTo(a.u, 6), expect.closeTo(a.v, 6)]);
    const [u, v] = placedUvs(Float32Array.from(a.own), placement);
    const folded = ((v % 2) + 2) % 2; // mirrored every other time
    expect([b.u, b.v]).toEqual([
      expect.closeTo(u - Math.floor(u), 4),
      expect.closeTo(folded > 1 ? 2 - folded : folded, 4),
    ]);
  });
});
