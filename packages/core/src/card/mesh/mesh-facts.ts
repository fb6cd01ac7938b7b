import { mix32 } from '../../math/mix.ts';
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
  const times = timesOf(mesh);
  for (let t = 0; t < indices.length; t += 3) {
    const inSpace = areaInSpace(positions, indices, t);
    if (inSpace === 0) withoutArea++;
    const area = uvArea(uvs, indices, t);
    allArea += inSpace;
    allUvArea += Math.abs(area);
    if (area === 0) withoutUvArea++;
    // v runs down: triangles that are not mirrored go the other way round
    if (area > 0) mirrored++;
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
export function uvPicture(mesh: UserMesh): Picture {
  const times = timesOf(mesh);
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

/** How many triangles lie on each cell of the picture: facts and picture of one mesh ask for it one after the other. */
function timesOf({ uvs, indices }: UserMesh): Uint8Array {
  let times = counted.get(uvs);
  if (!times) {
    counted.set(uvs, (times = new Uint8Array(CELLS * CELLS)));
    for (let t = 0; t < indices.length; t += 3) count(times, uvs, indices, t);
  }
  return times;
}
const counted = new WeakMap<Float32Array, Uint8Array>();

/** Counts the cells whose middles a triangle of the picture covers; what lies beyond it is left out. */
function count(times: Uint8Array, uvs: Float32Array, indices: UserMesh['indices'], t: number): void {
  for (let i = 0; i < 3; i++) {
    xs[i] = uvs[2 * indices[t + i]] * CELLS;
    ys[i] = uvs[2 * indices[t + i] + 1] * CELLS;
  }
  const top = Math.max(0, Math.ceil(Math.min(ys[0], ys[1], ys[2]) - 0.5));
  const bottom = Math.min(CELLS - 1, Math.floor(Math.max(ys[0], ys[1], ys[2]) - 0.5));
  for (let y = top; y <= bottom; y++) {
    let left = Infinity;
    let right = -Infinity;
    for (let i = 0, j = 2; i < 3; j = i++) {
      if (ys[i] > y + 0.5 === ys[j] > y + 0.5) continue;
      const x = xs[i] + ((y + 0.5 - ys[i]) * (xs[j] - xs[i])) / (ys[j] - ys[i]);
      if (x < left) left = x;
      if (x > right) right = x;
    }
    const last = Math.min(CELLS - 1, Math.ceil(right - 0.5) - 1);
    for (let x = Math.max(0, Math.ceil(left - 0.5)); x <= last; x++)
      if (times[y * CELLS + x] < 255) times[y * CELLS + x]++;
  }
}

/** Of one triangle, in cells. */
const [xs, ys] = [new Float64Array(3), new Float64Array(3)];

function share(times: Uint8Array, from: number): number {
  let cells = 0;
  for (const n of times) if (n >= from) cells++;
  return cells / times.length;
}

/** Vertices at the same place are one: seams of UVs and of normals are no borders. */
function openSides({ positions, indices }: UserMesh): number {
  const { of: place } = placesOf(positions);
  // open addressing: a set of numbers beyond 32 bits takes ten times as long
  const size = 2 ** Math.ceil(Math.log2(1.35 * indices.length + 2));
  const ends = new Int32Array(2 * size).fill(-1);
  const isOpen = new Uint8Array(size);
  let open = 0;
  for (let t = 0; t < indices.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [place[indices[t + k]], place[indices[t + ((k + 1) % 3)]]];
      if (a === b) continue;
      const [low, high] = a < b ? [a, b] : [b, a];
      let slot = mix32(low ^ mix32(high)) & (size - 1);
      while (ends[2 * slot] >= 0 && (ends[2 * slot] !== low || ends[2 * slot + 1] !== high))
        slot = (slot + 1) & (size - 1);
      ends[2 * slot] = low;
      ends[2 * slot + 1] = high;
      isOpen[slot] ^= 1; // the next triangle closes it, a third opens it again
      open += isOpen[slot] ? 1 : -1;
    }
  }
  return open;
}
