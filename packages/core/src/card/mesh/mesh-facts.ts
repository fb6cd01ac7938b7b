import { makePicture, type Picture } from '../../raster/raster.ts';
import { placesOf } from '../places.ts';
import { boundsOf } from '../surface.ts';
import type { MeshSlot, UserMesh } from './user-mesh.ts';

/** What a file with a mesh holds. */
export interface MeshFacts {
  kind: 'mesh';
  format: 'obj' | 'glb' | 'gltf';
  vertices: number;
  triangles: number;
  slots: MeshSlot[];
  /** Box around it, in its own unit, x y z. */
  size: [number, number, number];
  /** Area of all triangles, in squares of its unit, and in squares of the picture. */
  area: number;
  uvArea: number;
  /** Share of the picture that its UVs lie on, and that more than one face lies on, 0–1. */
  uvUsed: number;
  uvShared: number;
  /** Whether UVs lie beyond the picture. */
  uvBeyond: boolean;
  /** Triangles whose UVs are mirrored, and that have no area, in space and in UVs. */
  mirrored: number;
  withoutArea: number;
  withoutUvArea: number;
  /** Sides of triangles that no other triangle shares: borders and holes. */
  openSides: number;
  /** What was mended, in sentences. */
  notes: string[];
}

/** Cells along a side of the picture that shares of UVs are counted in. */
const CELLS = 512;

export function meshFacts(mesh: UserMesh, format: MeshFacts['format']): MeshFacts {
  const { positions, uvs, indices, slots, notes } = mesh;
  const { min, max } = boundsOf(positions);
  let [mirrored, withoutArea, withoutUvArea, allArea, allUvArea] = [0, 0, 0, 0, 0];
  const times = new Uint8Array(CELLS * CELLS);
  for (let t = 0; t < indices.length; t += 3) {
    const inSpace = areaInSpace(positions, indices, t);
    if (inSpace === 0) withoutArea++;
    const area = uvArea(uvs, indices, t);
    allArea += inSpace;
    allUvArea += Math.abs(area);
    if (area === 0) withoutUvArea++;
    // v runs down: triangles that are not mirrored go the other way round
    if (area > 0) mirrored++;
    count(times, uvs, indices, t);
  }
  return {
    kind: 'mesh',
    format,
    vertices: positions.length / 3,
    triangles: indices.length / 3,
    slots,
    size: [0, 1, 2].map((k) => max[k] - min[k]) as MeshFacts['size'],
    area: allArea,
    uvArea: allUvArea,
    uvUsed: share(times, 1),
    uvShared: share(times, 2),
    uvBeyond: uvs.some((v) => v < -1e-4 || v > 1 + 1e-4),
    mirrored,
    withoutArea,
    withoutUvArea,
    openSides: openSides(mesh),
    notes,
  };
}

/** A picture of where its UVs lie: white on black, grey where more than one face does. */
export function uvPicture({ uvs, indices }: UserMesh): Picture {
  const times = new Uint8Array(CELLS * CELLS);
  for (let t = 0; t < indices.length; t += 3) count(times, uvs, indices, t);
  const data = new Uint8Array(4 * times.length).fill(255);
  for (let i = 0; i < times.length; i++) if (times[i] !== 1) data.fill(times[i] === 0 ? 0 : 150, 4 * i, 4 * i + 3);
  return makePicture(CELLS, CELLS, data);
}

function areaInSpace(p: Float32Array, indices: UserMesh['indices'], t: number): number {
  const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
}

/** Positive where it goes clockwise as v runs down. */
function uvArea(uvs: Float32Array, indices: UserMesh['indices'], t: number): number {
  const [a, b, c] = [2 * indices[t], 2 * indices[t + 1], 2 * indices[t + 2]];
  return ((uvs[b] - uvs[a]) * (uvs[c + 1] - uvs[a + 1]) - (uvs[c] - uvs[a]) * (uvs[b + 1] - uvs[a + 1])) / 2;
}

/** Counts the cells whose middles a triangle of the picture covers; what lies beyond it is left out. */
function count(times: Uint8Array, uvs: Float32Array, indices: UserMesh['indices'], t: number): void {
  const [xs, ys] = [0, 1].map((k) => [0, 1, 2].map((i) => uvs[2 * indices[t + i] + k] * CELLS));
  const top = Math.max(0, Math.ceil(Math.min(...ys) - 0.5));
  const bottom = Math.min(CELLS - 1, Math.floor(Math.max(...ys) - 0.5));
  for (let y = top; y <= bottom; y++) {
    let [left, right] = [Infinity, -Infinity];
    for (let i = 0, j = 2; i < 3; j = i++) {
      if (ys[i] > y + 0.5 === ys[j] > y + 0.5) continue;
      const x = xs[i] + ((y + 0.5 - ys[i]) * (xs[j] - xs[i])) / (ys[j] - ys[i]);
      left = Math.min(left, x);
      right = Math.max(right, x);
    }
    const last = Math.min(CELLS - 1, Math.ceil(right - 0.5) - 1);
    for (let x = Math.max(0, Math.ceil(left - 0.5)); x <= last; x++)
      if (times[y * CELLS + x] < 255) times[y * CELLS + x]++;
  }
}

function share(times: Uint8Array, from: number): number {
  let cells = 0;
  for (const n of times) if (n >= from) cells++;
  return cells / times.length;
}

/** Vertices at the same place are one: seams of UVs and of normals are no borders. */
function openSides({ positions, indices }: UserMesh): number {
  const { of: place, count } = placesOf(positions);
  const sides = new Set<number>();
  for (let t = 0; t < indices.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [place[indices[t + k]], place[indices[t + ((k + 1) % 3)]]];
      if (a === b) continue;
      const key = Math.min(a, b) * count + Math.max(a, b);
      if (!sides.delete(key)) sides.add(key);
    }
  }
  return sides.size;
}
