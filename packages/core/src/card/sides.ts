import { cross, minus, type Vec3 } from '../math/vector.ts';
import { placesOf } from './places.ts';
import { indicesOf, type SurfaceMesh } from './surface-mesh.ts';

/** A back of triangles of its own, for renderers that show one side only, or that light both alike. */
export interface CardSides {
  /** Between front and back, millimetres: what lies on one another fights for each pixel. */
  apart: number;
  /** Whether a band closes the sides that are open between them. */
  rim: boolean;
  /** What the back's colour is multiplied by, sRGB, 0–255; white leaves it as the front's. */
  tint: [r: number, g: number, b: number];
}

export const CARD_SIDES: CardSides = { apart: 1, rim: false, tint: [255, 255, 255] };
export const SIDES_APART = { min: 0, max: 100, digits: 2 } as const;

/**
 * The mesh with a back: front and back lie half of `apart` off it, along its normals; the back's triangles go the other way
 * round and come last, from `backFrom` on. The rim shows what the picture has at its sides.
 *
 * @param apart - In the unit of the mesh.
 */
export function withSides(mesh: SurfaceMesh, { rim }: Pick<CardSides, 'rim'>, apart: number): SurfaceMesh {
  const { normals, uvs, indices, rootTip } = mesh;
  const { place, ways } = offsets(mesh);
  const count = uvs.length / 2;
  const moved = (by: number) => mesh.positions.map((v, i) => v + by * ways[3 * place[Math.floor(i / 3)] + (i % 3)]);
  const [front, back] = [moved(apart / 2), moved(-apart / 2)];
  const around = rim && apart > 0 ? rimOf({ front, back, uvs, indices, place, from: count }) : null;
  const first = count + (around ? around.uvs.length / 2 : 0);
  const reversed = Array.from(indices, (_, k) => first + indices[k % 3 === 0 ? k : k % 3 === 1 ? k + 1 : k - 1]);
  const shown = [...(around ? [around] : [])];
  return {
    positions: together([front, ...shown.map((r) => r.positions), back]),
    normals: together([normals, ...shown.map((r) => r.normals), normals.map((n) => -n)]),
    uvs: together([uvs, ...shown.map((r) => r.uvs), uvs]),
    indices: indicesOf(first + count, [...indices, ...shown.flatMap((r) => r.indices), ...reversed]),
    backFrom: indices.length + (around?.indices.length ?? 0),
    ...(rootTip && { rootTip: together([rootTip, ...shown.map((r) => r.corners.map((i) => rootTip[i])), rootTip]) }),
  };
}

function together(parts: readonly Float32Array[]): Float32Array {
  const out = new Float32Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** Vertices at one place move one way, so that seams stay closed: the number of each one's place, and the ways, of length 1. */
function offsets({ positions, normals }: SurfaceMesh): { place: Uint32Array; ways: Float64Array } {
  const { of: place, count } = placesOf(positions);
  const ways = new Float64Array(3 * count);
  for (let i = 0; i < positions.length; i++) ways[3 * place[Math.floor(i / 3)] + (i % 3)] += normals[i];
  for (let i = 0; i < place.length; i++) {
    const own = ways.subarray(3 * place[i], 3 * place[i] + 3);
    const length = Math.hypot(...own);
    if (length > 1e-3) own.forEach((v, k) => (own[k] = v / length));
    else own.set(normals.subarray(3 * i, 3 * i + 3)); // two that face away from each other: the first one's
  }
  return { place, ways };
}

interface Rim {
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  indices: number[];
  /** The vertex of the card that each was. */
  corners: Float32Array;
}

/** A band of two triangles for each open side. @param from - Number of its first vertex. */
function rimOf({
  front,
  back,
  uvs,
  indices,
  place,
  from,
}: {
  front: Float32Array;
  back: Float32Array;
  uvs: Float32Array;
  indices: SurfaceMesh['indices'];
  place: Uint32Array;
  from: number;
}): Rim {
  const open = openSides(indices, place);
  const at = (of: Float32Array, i: number): Vec3 => [of[3 * i], of[3 * i + 1], of[3 * i + 2]];
  const rim: Rim = {
    positions: new Float32Array(12 * open.length),
    normals: new Float32Array(12 * open.length),
    uvs: new Float32Array(8 * open.length),
    indices: [],
    corners: new Float32Array(4 * open.length),
  };
  open.forEach(([a, b], n) => {
    const corners = [at(back, a), at(back, b), at(front, b), at(front, a)];
    const out = cross(minus(corners[1], corners[0]), minus(corners[3], corners[0]));
    const length = Math.hypot(...out) || 1;
    corners.forEach((corner, k) => {
      rim.positions.set(corner, 12 * n + 3 * k);
      rim.normals.set(out.map((v) => v / length), 12 * n + 3 * k); // prettier-ignore
      const i = k === 1 || k === 2 ? b : a;
      rim.uvs.set(uvs.subarray(2 * i, 2 * i + 2), 8 * n + 2 * k);
      rim.corners[4 * n + k] = i;
    });
    rim.indices.push(...[0, 1, 2, 0, 2, 3].map((k) => from + 4 * n + k));
  });
  return rim;
}

/** Sides of triangles that no other shares, by their places, each the way round that its triangle has it. */
function openSides(indices: SurfaceMesh['indices'], place: Uint32Array): [number, number][] {
  const sides = new Map<number, [number, number] | null>();
  const most = place.reduce((a, b) => Math.max(a, b), 0) + 1;
  for (let t = 0; t < indices.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [indices[t + k], indices[t + ((k + 1) % 3)]];
      const [p, q] = [place[a], place[b]];
      if (p === q) continue;
      const key = Math.min(p, q) * most + Math.max(p, q);
      sides.set(key, sides.has(key) ? null : [a, b]);
    }
  }
  return [...sides.values()].filter((side) => side !== null);
}
