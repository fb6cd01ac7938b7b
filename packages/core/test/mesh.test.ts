import { describe, expect, test } from '@jest/globals';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { Mesh } from 'three';
import { meshFacts, readObj, standingMesh, type Wrap } from '@lithe-sieve/core';

const bytesOf = (text: string) => new TextEncoder().encode(text);

/** A square of four corners, a second one above it that is mirrored in the picture, and a roof of five corners. */
const HOUSE = `# a comment
mtllib none.mtl
o House
v 0 0 0
v 1 0 0
v 1 1 0
v 0 1 0
v 2 0 0 # and another
v 2 1 0
v 0.5 1.5 0
vt 0 0
vt 0.5 0
vt 0.5 0.5
vt 0 0.5
vt 0.25 0.75
vn 0 0 1
usemtl wall
f 1/1/1 2/2/1 3/3/1 4/4/1
f 2/2/1 5/1/1 6/4/1 \\
  3/3/1
usemtl roof
f -4/-2/-1 -5/-3/-1 -1/-1/-1
`;

const triangles = (positions: ArrayLike<number>, indices?: ArrayLike<number>) => {
  const order = indices ?? Array.from({ length: positions.length / 3 }, (_, i) => i);
  return Array.from({ length: order.length / 3 }, (_, t) =>
    [0, 1, 2].map((k) => [0, 1, 2].map((c) => positions[3 * order[3 * t + k] + c])),
  );
};

describe('an OBJ', () => {
  test('holds the triangles that three finds, in its order, with UVs the other way up', () => {
    const mesh = readObj(bytesOf(HOUSE));
    const meshes = new OBJLoader().parse(HOUSE).children as Mesh[];
    const theirs = meshes.flatMap(({ geometry }) => triangles(geometry.getAttribute('position').array));
    expect(triangles(mesh.positions, mesh.indices)).toEqual(theirs);
    const theirUvs = meshes.flatMap(({ geometry }) => [...geometry.getAttribute('uv').array]);
    expect([...mesh.indices].flatMap((i) => [mesh.uvs[2 * i], 1 - mesh.uvs[2 * i + 1]])).toEqual(theirUvs);
    expect(mesh.slots).toEqual([
      { name: 'wall', triangles: 4 },
      { name: 'roof', triangles: 1 },
    ]);
    expect(mesh.notes).toEqual([]);
  });

  test('numbers are those of the language, however they are written; a corner is one vertex, from either end', () => {
    const words = ['1', '-0.1', '.5', '5.', '+3', '1e-3', '0.3333333333333333', '123456789012345', '1234567890123456.7', '-2E2', '0.1e1']; // prettier-ignore
    const lines = words.map((word) => `v ${word} 0 1`).join('\n');
    const faces = words.map((_, i) => `f ${i + 1} 1 2`).join('\n');
    const { positions, indices } = readObj(bytesOf(`${lines}\n${faces}\nf -1 -2 -3\n`));
    expect(positions.filter((_, i) => i % 3 === 0)).toEqual(Float32Array.from(words, Number));
    expect(indices.subarray(-3)).toEqual(Uint16Array.of(10, 9, 8));
    for (const wrong of ['1/0/1', '0', '12', '1x']) {
      expect(() => readObj(bytesOf(`${lines}\nf ${wrong} 2 3\n`))).toThrow(/Line 12/);
    }
  });

  test('its facts: size, area of UVs used and shared, what is mirrored, open sides', () => {
    const facts = meshFacts(readObj(bytesOf(HOUSE)), 'obj');
    expect(facts).toMatchObject({
      triangles: 5,
      size: [2, 1.5, 0],
      mirrored: 2,
      withoutArea: 0,
      openSides: 7,
      uvBeyond: false,
    });
    expect(facts.uvUsed).toBeCloseTo(0.25 + (0.5 * 0.25) / 2, 2); // the square, and the roof above it
    expect(facts.uvShared).toBeCloseTo(0.25, 2);
  });

  test('faces without normals and UVs: smooth, and laid flat, and said', () => {
    const mesh = readObj(bytesOf('v 0 0 0\nv 2 0 0\nv 2 0 4\nv 0 0 4\nf 1 4 3 2\n'));
    expect([...mesh.normals.subarray(0, 3)]).toEqual([0, 1, 0]);
    expect([...mesh.uvs]).toEqual([0, 1, 0, 0, 0.5, 0, 0.5, 1]);
    expect(mesh.notes.join()).toMatch(/no normals.*no UVs/);
    const five = readObj(bytesOf('v 0 0 0\nv 1 0 0\nv 1 1 0\nv .5 2 0\nv 0 1 0\nf 1 2 3 4 5\n'));
    expect([five.indices.length, five.notes[0]]).toEqual([9, expect.stringContaining('first corner: 1.')]);
  });

  test.each([
    ['v 0 0\nf 1 1 1\n', 'Line 1 of the OBJ has too few numbers'],
    ['v 0 0 nan\n', 'Line 1 of the OBJ has nan for a number'],
    ['v 0 0 1e999\n', 'has 1e999 for a number'],
    ['v 0 0 0\n\nf 1 2 3\n', 'Line 3 of the OBJ names 2 of 1'],
    ['v 0 0 0\nf 1 -2 1\n', 'names -2 of 1'],
    ['v 0 0 0\nf 1 1\n', 'fewer than three corners'],
    ['v 0 0 0\nf 1/1 1 1\n', 'names 1 of 0'],
    ['v 0 0 0\nf /1 1 1\n', 'a face without a vertex'],
    ['v 0 0 0\nf 1.5 1 1\n', 'names 1.5 of 1'],
    ['# nothing\n', 'holds no triangles'],
  ])('%j is refused: %s', (text, why) => {
    expect(() => readObj(bytesOf(text))).toThrow(why);
  });

  test('more than is taken is refused before all of it is read, and what is given up ends', () => {
    const fan = `v 0 0 0\nv 1 0 0\nv 1 1 0\nf ${'1 2 3 '.repeat(400_000)}\n`;
    expect(() => readObj(bytesOf(fan))).toThrow('at most 1000000 are taken');
    const long = bytesOf('v 0 0 0\n'.repeat(10_000));
    expect(() => readObj(long, () => { throw new Error('given up'); })).toThrow('given up'); // prettier-ignore
  });
});

describe('a mesh whose UVs reach beyond the picture', () => {
  // two squares beside each other, the picture twice across
  const twice = readObj(
    bytesOf('v 0 0 0\nv 2 0 0\nv 2 1 0\nv 0 1 0\nvt 0 0\nvt 2 0\nvt 2 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n'),
  );
  const how = { metres: 1, up: 'y' as const };
  const seen = (across: Wrap) => {
    const surface = standingMesh(twice, how, { wraps: { across, down: 'clamp' } });
    const { u, v } = surface.hit({ from: [1.25, 0.5, 9], way: [0, 0, -1] })!;
    const places = surface.placesAt(0.25, 0.5).map(({ position }) => position[0]);
    const halves = new Set(surface.cornersOf(0.2, 0.4, 0.3, 0.6).map(([x]) => Math.floor(2 * x)));
    return { u, v, places, halves: [...halves].sort() };
  };

  test.each([
    ['repeat', { u: 0.25, v: 0.5, places: [0.25, 1.25], halves: [0, 2] }],
    ['mirror', { u: 0.75, v: 0.5, places: [0.25, 1.75], halves: [0, 3] }],
    ['clamp', { u: 1, v: 0.5, places: [0.25], halves: [0] }],
  ] as const)('%s: a place is on each copy, and what is pointed at is a place of the picture', (across, expected) => {
    expect(seen(across)).toEqual(expected);
  });

  test('stands with its axis up, in metres, on the ground if asked', () => {
    const { bounds } = standingMesh(twice, { metres: 0.01, up: 'z' }, { lifted: true });
    expect([bounds.max[0], bounds.min[2], bounds.max[2]]).toEqual([0.02, -0.01, 0].map((v) => expect.closeTo(v, 6)));
  });
});
