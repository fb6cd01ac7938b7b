import type { PlainPart } from '../card/surface.ts';
import type { SurfaceMesh } from '../card/surface-mesh.ts';
import type { Add } from './file-format.ts';
import type { ReadGlb } from './glb-tools.ts';

/** How far a tangent may be from length 1 and from a right angle to its normal, as the validator allows. */
const SLACK = 5e-4;

/**
 * Compares a mesh corner by corner: where tangents differ on the two sides of an edge, a vertex is written twice.
 *
 * @param normals - Whether the material has normals, and so the mesh tangents.
 * @param slack - How far a number may be off.
 */
export function checkMesh(
  { mesh, tangents }: Pick<ReadGlb, 'mesh' | 'tangents'>,
  wanted: SurfaceMesh,
  normals: boolean,
  add: Add,
  slack = 0,
): void {
  const triangles = `${wanted.indices.length / 3} triangles`;
  for (const [what, name, size] of [
    ['geometry', 'positions', 3],
    ['normals of the mesh', 'normals', 3],
    ['UVs', 'uvs', 2],
  ] as const) {
    const ok = equalCorners(mesh[name], mesh.indices, wanted[name], wanted.indices, size, slack);
    add(what, ok, ok ? `equal${slack > 0 ? ` to ${slack}` : ''}, ${triangles}` : 'differs');
  }
  if (!normals) return;
  const wrong = tangents ? wrongTangents(mesh, tangents) : Infinity;
  add('tangents', wrong === 0, tangents ? (wrong ? `${wrong} wrong` : 'along u, upright, of length 1') : 'missing');
}

/** Compares what shows no picture, part by part. */
export function checkPlain(found: readonly PlainPart[], wanted: readonly PlainPart[], add: Add): void {
  if (found.length === 0 && wanted.length === 0) return;
  const isEqual = ({ name, mesh }: PlainPart, i: number) =>
    name === wanted[i].name &&
    equalCorners(mesh.positions, mesh.indices, wanted[i].mesh.positions, wanted[i].mesh.indices, 3);
  const ok = found.length === wanted.length && found.every(isEqual);
  add('plain materials', ok, ok ? `equal: ${wanted.map(({ name }) => name).join(', ')}` : 'differ');
}

function equalCorners(
  found: Float32Array,
  at: SurfaceMesh['indices'],
  wanted: Float32Array,
  wantedAt: SurfaceMesh['indices'],
  size: number,
  slack = 0,
): boolean {
  if (at.length !== wantedAt.length) return false;
  for (let i = 0; i < at.length; i++) {
    for (let k = 0; k < size; k++) {
      if (!(Math.abs(found[size * at[i] + k] - wanted[size * wantedAt[i] + k]) <= slack)) return false;
    }
  }
  return true;
}

/** How many corners of triangles have a tangent that does not go along u, or is on the wrong side of its normal. */
function wrongTangents({ positions, normals, uvs, indices }: SurfaceMesh, tangents: Float32Array): number {
  let wrong = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = indices.subarray(t, t + 3);
    const [u1, v1] = [uvs[2 * b] - uvs[2 * a], uvs[2 * b + 1] - uvs[2 * a + 1]];
    const [u2, v2] = [uvs[2 * c] - uvs[2 * a], uvs[2 * c + 1] - uvs[2 * a + 1]];
    const area = u1 * v2 - u2 * v1;
    for (const i of [a, b, c]) {
      let [along, down, length, lean] = [0, 0, 0, 0];
      const [x, y, z, w] = tangents.subarray(4 * i, 4 * i + 4);
      const [p, q, r] = normals.subarray(3 * i, 3 * i + 3);
      const bitangent = [w * (q * z - r * y), w * (r * x - p * z), w * (p * y - q * x)];
      for (let k = 0; k < 3; k++) {
        const e1 = positions[3 * b + k] - positions[3 * a + k];
        const e2 = positions[3 * c + k] - positions[3 * a + k];
        along += (tangents[4 * i + k] * (e1 * v2 - e2 * v1)) / (area || 1);
        down += (bitangent[k] * (e2 * u1 - e1 * u2)) / (area || 1);
        length += tangents[4 * i + k] ** 2;
        lean += tangents[4 * i + k] * normals[3 * i + k];
      }
      const shaped = Math.abs(Math.sqrt(length) - 1) < SLACK && Math.abs(lean) < SLACK && Math.abs(w) === 1;
      // w · (normal × tangent) goes up in the picture, against v
      if (!shaped || (area !== 0 && (along <= 0 || down >= 0))) wrong++;
    }
  }
  return wrong;
}
