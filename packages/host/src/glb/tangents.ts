import { generateTangents } from 'mikktspace';
import { SieveError, type SurfaceMesh } from '@lithe-sieve/core';

/** A mesh with tangents, x y z w a vertex (glTF 2.0 §3.7.2.1). */
export interface TangentMesh {
  mesh: SurfaceMesh;
  tangents: Float32Array;
}

/**
 * Tangents as MikkTSpace makes them (M. Mikkelsen, "Simulation of Wrinkled Surfaces Revisited", 2008), which glTF asks
 * for. It works on corners of triangles; those of a vertex that come to the same stay one vertex, in the order they were
 * in, and where they differ the vertex is there once for each.
 *
 * @throws SieveError `unsupported` for a mesh that it refuses: no triangle, or places that are no numbers.
 */
export function withTangents({ positions, normals, uvs, indices, rootTip }: SurfaceMesh): TangentMesh {
  const corners = spread({ positions, normals, uvs, indices });
  let made: Float32Array;
  try {
    made = generateTangents(corners.positions, corners.normals, corners.uvs);
  } catch {
    throw new SieveError('unsupported', 'No tangents can be computed for this mesh.', 'Check it for broken triangles.');
  }
  straightened(made, corners.normals);
  const count = positions.length / 3;
  /** Where each further tangent of a vertex went. */
  const copies: { vertex: number; corner: number }[] = [];
  const first = new Int32Array(count).fill(-1);
  /** Found by the vertex and its tangent: many triangles may meet in a point. */
  const further = new Map<string, number>();
  const same = (a: number, b: number) => [0, 1, 2, 3].every((k) => made[4 * a + k] === made[4 * b + k]);
  const placed = Array.from(indices, (vertex, corner) => {
    if (first[vertex] < 0) first[vertex] = corner;
    if (same(first[vertex], corner)) return vertex;
    const key = `${vertex} ${made.subarray(4 * corner, 4 * corner + 4).join()}`;
    let copy = further.get(key);
    if (copy === undefined) further.set(key, (copy = copies.push({ vertex, corner }) - 1));
    return count + copy;
  });
  const tangents = new Float32Array(4 * (count + copies.length));
  // w is the other way round where v goes down
  const put = (vertex: number, corner: number) => {
    tangents.set(made.subarray(4 * corner, 4 * corner + 3), 4 * vertex);
    tangents[4 * vertex + 3] = -made[4 * corner + 3];
  };
  for (let vertex = 0; vertex < count; vertex++) {
    if (first[vertex] >= 0) put(vertex, first[vertex]);
    else tangents.set([1, 0, 0, 1], 4 * vertex); // of no triangle
  }
  copies.forEach(({ corner }, i) => put(count + i, corner));
  const more = (data: Float32Array, size: number) => {
    const out = new Float32Array(data.length + size * copies.length);
    out.set(data);
    copies.forEach(({ vertex }, i) =>
      out.set(data.subarray(size * vertex, size * vertex + size), data.length + size * i),
    );
    return out;
  };
  const all = count + copies.length;
  return {
    mesh: {
      positions: more(positions, 3),
      normals: more(normals, 3),
      uvs: more(uvs, 2),
      ...(rootTip && { rootTip: more(rootTip, 1) }),
      indices: all > 0xffff ? Uint32Array.from(placed) : Uint16Array.from(placed),
    },
    tangents,
  };
}

/** Off a right angle to the normal, or off length 1, a tangent is none; glTF's validator allows 0.0005. */
const SLACK = 4e-4;

/** Where a triangle has no area in its UVs no way is along u: any at a right angle to the normal is valid, x or z where it can be. */
function straightened(tangents: Float32Array, normals: Float32Array): void {
  for (let corner = 0; corner < normals.length / 3; corner++) {
    const own = tangents.subarray(4 * corner, 4 * corner + 3);
    const [x, y, z] = normals.subarray(3 * corner, 3 * corner + 3);
    const lean = own[0] * x + own[1] * y + own[2] * z;
    if (Math.abs(lean) < SLACK && Math.abs(Math.hypot(...own) - 1) < SLACK) continue;
    const way = Math.abs(x) < 0.9 ? [1 - x * x, -x * y, -x * z] : [-z * x, -z * y, 1 - z * z];
    const length = Math.hypot(...way);
    own.set(way.map((v) => v / length));
  }
}

/** A vertex for each corner of each triangle. */
function spread({ positions, normals, uvs, indices }: SurfaceMesh): Omit<SurfaceMesh, 'indices'> {
  const of = (data: Float32Array, size: number) => {
    const out = new Float32Array(size * indices.length);
    for (let i = 0; i < indices.length; i++) {
      for (let k = 0; k < size; k++) out[size * i + k] = data[size * indices[i] + k];
    }
    return out;
  };
  return { positions: of(positions, 3), normals: of(normals, 3), uvs: of(uvs, 2) };
}
