import type { SurfaceMesh } from '../surface-mesh.ts';

/**
 * The borders of the islands that a mesh has in its picture: sides of triangles that no other triangle shares by its vertices.
 *
 * @returns u, v of both ends of each, from the top left.
 */
export function uvBorders({ uvs, indices }: Pick<SurfaceMesh, 'uvs' | 'indices'>): Float32Array {
  const vertices = uvs.length / 2;
  const open = new Map<number, [number, number]>();
  for (let t = 0; t < indices.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [indices[t + k], indices[t + ((k + 1) % 3)]];
      const key = Math.min(a, b) * vertices + Math.max(a, b);
      if (!open.delete(key)) open.set(key, [a, b]);
    }
  }
  const out = new Float32Array(4 * open.size);
  let at = 0;
  for (const [a, b] of open.values()) {
    out.set([uvs[2 * a], uvs[2 * a + 1], uvs[2 * b], uvs[2 * b + 1]], at);
    at += 4;
  }
  return out;
}
