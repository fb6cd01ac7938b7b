/**
 * The triangles of a card: they go counter-clockwise seen from the front. UV origin is the top left (glTF 2.0 §3.8.3).
 * Plain arrays, so that it crosses to a worker.
 */
export interface SurfaceMesh {
  /** x, y, z of every vertex. A card stands on y = 0, its front faces +Z. */
  positions: Float32Array;
  /** Directions of length 1. */
  normals: Float32Array;
  uvs: Float32Array;
  /** Three a triangle; of 32 bits where there are more vertices than 16 count. */
  indices: Uint16Array | Uint32Array;
  /** The index from which on triangles are of a back that has a look of its own; without it there is none. */
  backFrom?: number;
  /** How far up each vertex is from the root of its card to its tip, 0–1; left out where nobody asks. */
  rootTip?: Float32Array | undefined;
}

/** As narrow as so many vertices allow. */
export function indicesOf(vertices: number, indices: ArrayLike<number>): SurfaceMesh['indices'] {
  return vertices > 0xffff ? new Uint32Array(indices) : new Uint16Array(indices);
}

/** Some of the triangles, with their vertices alone. @param spans - Of indices. */
export function subMesh(mesh: SurfaceMesh, spans: readonly { from: number; to: number }[]): SurfaceMesh {
  const { positions, normals, uvs, indices, rootTip } = mesh;
  const place = new Int32Array(positions.length / 3).fill(-1);
  const taken: number[] = [];
  const placed: number[] = [];
  for (const { from, to } of spans) {
    for (let k = from; k < to; k++) {
      const i = indices[k];
      if (place[i] < 0) place[i] = taken.push(i) - 1;
      placed.push(place[i]);
    }
  }
  const of = (values: Float32Array, size: number) => {
    const out = new Float32Array(size * taken.length);
    taken.forEach((i, n) => out.set(values.subarray(size * i, size * i + size), size * n));
    return out;
  };
  return {
    positions: of(positions, 3),
    normals: of(normals, 3),
    uvs: of(uvs, 2),
    indices: indicesOf(taken.length, placed),
    ...(rootTip && { rootTip: of(rootTip, 1) }),
  };
}
