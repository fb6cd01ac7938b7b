import { SieveError } from '../../errors.ts';
import { LIMITS } from '../../limits.ts';
import { cross, minus, type Vec3 } from '../../math/vector.ts';
import { indicesOf, type SurfaceMesh } from '../surface-mesh.ts';

export const MESH_LIMITS = { triangles: 1_000_000, vertices: 1_500_000, slots: 256 } as const;

/** Triangles of a mesh that have one material of the file, as many as follow those before. */
export interface MeshSlot {
  name: string;
  triangles: number;
}

/** A mesh whose triangles have materials of their file, in this order; without them one material has all. */
export interface SlottedMesh extends SurfaceMesh {
  slots?: readonly MeshSlot[];
}

/** A mesh that somebody made, as its file has it: in its own unit, its own axis up. */
export interface UserMesh extends SlottedMesh {
  slots: MeshSlot[];
  /** What was mended, in sentences. */
  notes: string[];
}

/** What a reader found; what a file leaves out is null. */
export interface FoundMesh {
  positions: Float32Array;
  normals: Float32Array | null;
  /** Origin at the top left. */
  uvs: Float32Array | null;
  indices: Uint32Array;
  slots: MeshSlot[];
  notes: string[];
}

/**
 * A found mesh as it can be drawn: without normals it is smooth where vertices are shared, without UVs it is laid flat.
 *
 * @throws SieveError `corrupt` for numbers that are none and indices that nothing stands for, `too-large` beyond
 * {@link MESH_LIMITS}, `unsupported` where there is no triangle.
 */
export function userMesh(found: FoundMesh): UserMesh {
  const { positions, indices, slots } = found;
  const vertices = positions.length / 3;
  assertMeshSize(indices.length / 3, vertices);
  if (indices.length === 0) {
    throw new SieveError('unsupported', 'The file holds no triangles.', 'Save the mesh with its faces.');
  }
  for (const [what, values] of [
    ['position', positions],
    ['normal', found.normals],
    ['UV', found.uvs],
  ] as const) {
    const bad = values?.findIndex((v) => !Number.isFinite(v)) ?? -1;
    if (bad >= 0)
      throw new SieveError('corrupt', `A ${what} of the mesh is ${String(values![bad])}.`, 'Save it again.');
  }
  const beyond = indices.findIndex((i) => i >= vertices);
  if (beyond >= 0) {
    throw new SieveError('corrupt', `A face names vertex ${indices[beyond]} of ${vertices}.`, 'Save the mesh again.');
  }
  const notes = [...found.notes];
  let { normals, uvs } = found;
  if (!normals) notes.push('The file has no normals: they were computed, smooth where faces share vertices.');
  normals = unitNormals(normals ?? smoothNormals(positions, indices), positions, indices);
  if (!uvs) {
    notes.push('The file has no UVs: the mesh was laid flat, as it is seen along its shortest side.');
    uvs = flatUvs(positions);
  }
  return {
    positions,
    normals,
    uvs,
    indices: indicesOf(vertices, indices),
    slots: slots
      .slice(0, MESH_LIMITS.slots)
      .map(({ name, triangles }) => ({ name: name.slice(0, LIMITS.meshSlot), triangles })),
    notes,
  };
}

/** @throws SieveError `too-large`. */
export function assertMeshSize(triangles: number, vertices: number): void {
  if (triangles <= MESH_LIMITS.triangles && vertices <= MESH_LIMITS.vertices) return;
  const [found, most] = triangles > MESH_LIMITS.triangles ? [`${triangles} triangles`, MESH_LIMITS.triangles] : [`${vertices} vertices`, MESH_LIMITS.vertices]; // prettier-ignore
  throw new SieveError('too-large', `The mesh has ${found}; at most ${most} are taken.`, 'Save one of fewer faces.');
}

const at = (of: Float32Array, i: number): Vec3 => [of[3 * i], of[3 * i + 1], of[3 * i + 2]];

/** The normals of the faces around each vertex, larger faces counting more. */
function smoothNormals(positions: Float32Array, indices: Uint32Array): Float32Array {
  const sums = new Float32Array(positions.length);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]];
    const normal = cross(minus(at(positions, b), at(positions, a)), minus(at(positions, c), at(positions, a)));
    for (const i of [a, b, c]) for (let k = 0; k < 3; k++) sums[3 * i + k] += normal[k];
  }
  return sums;
}

/** Of length 1; one without a direction points as its face does, or up. */
function unitNormals(given: Float32Array, positions: Float32Array, indices: Uint32Array): Float32Array {
  const out = new Float32Array(given.length);
  let faces: Float32Array | null = null;
  for (let i = 0; i < given.length / 3; i++) {
    let from = given;
    let length = Math.hypot(given[3 * i], given[3 * i + 1], given[3 * i + 2]);
    if (length < 1e-20) {
      from = faces ??= smoothNormals(positions, indices);
      length = Math.hypot(from[3 * i], from[3 * i + 1], from[3 * i + 2]);
    }
    for (let k = 0; k < 3; k++) out[3 * i + k] = length < 1e-20 ? Number(k === 1) : from[3 * i + k] / length;
  }
  return out;
}

function flatUvs(positions: Float32Array): Float32Array {
  const least = [Infinity, Infinity, Infinity];
  const most = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    least[i % 3] = Math.min(least[i % 3], positions[i]);
    most[i % 3] = Math.max(most[i % 3], positions[i]);
  }
  const sides = most.map((v, i) => v - least[i]);
  const along = sides.indexOf(Math.min(...sides));
  const [across, up] = along === 2 ? [0, 1] : along === 1 ? [0, 2] : [2, 1];
  const side = Math.max(sides[across], sides[up]) || 1;
  const out = new Float32Array((positions.length / 3) * 2);
  for (let i = 0; i < out.length / 2; i++) {
    out[2 * i] = (positions[3 * i + across] - least[across]) / side;
    out[2 * i + 1] = 1 - (positions[3 * i + up] - least[up]) / side;
  }
  return out;
}
