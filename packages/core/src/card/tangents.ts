import type { SurfaceMesh } from './surface-mesh.ts';

/**
 * Which way the picture's right points at each vertex, x y z w as glTF 2.0 §3.7.2.1 has them, weighted as in MikkTSpace
 * (M. Mikkelsen, "Simulation of Wrinkled Surfaces Revisited", 2008). Vertices stay as they are: where it would part one,
 * since its triangles have the picture mirrored, or none of them has an area in it, all four numbers are 0.
 */
export function vertexTangents({ positions, normals, uvs, indices }: SurfaceMesh): Float32Array {
  const count = positions.length / 3;
  const out = new Float32Array(4 * count);
  const isParted = new Uint8Array(count);
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i], indices[i + 1], indices[i + 2]];
    const u1 = uvs[2 * b] - uvs[2 * a];
    const v1 = uvs[2 * b + 1] - uvs[2 * a + 1];
    const u2 = uvs[2 * c] - uvs[2 * a];
    const v2 = uvs[2 * c + 1] - uvs[2 * a + 1];
    const area = u1 * v2 - v1 * u2;
    if (area === 0) continue;
    const sign = area < 0 ? -1 : 1;
    const along = (k: number) => {
      const from = positions[3 * a + k];
      return sign * (v2 * (positions[3 * b + k] - from) - v1 * (positions[3 * c + k] - from));
    };
    const x = along(0);
    const y = along(1);
    const z = along(2);
    addTo(a, b, c, x, y, z, -sign); // v goes down
    addTo(b, c, a, x, y, z, -sign);
    addTo(c, a, b, x, y, z, -sign);
  }
  for (let at = 0; at < count; at++) {
    const length = Math.sqrt(out[4 * at] ** 2 + out[4 * at + 1] ** 2 + out[4 * at + 2] ** 2);
    if (isParted[at] || length < 1e-12) out.fill(0, 4 * at, 4 * at + 4);
    else for (let k = 0; k < 3; k++) out[4 * at + k] /= length;
  }
  return out;

  /** The way, laid into the plane of the vertex's normal, times the angle that the triangle has there. */
  function addTo(at: number, next: number, before: number, x: number, y: number, z: number, w: number): void {
    if (out[4 * at + 3] === -w) isParted[at] = 1;
    out[4 * at + 3] = w;
    const nx = normals[3 * at];
    const ny = normals[3 * at + 1];
    const nz = normals[3 * at + 2];
    const lean = x * nx + y * ny + z * nz;
    const length = Math.sqrt((x - lean * nx) ** 2 + (y - lean * ny) ** 2 + (z - lean * nz) ** 2);
    if (length < 1e-30) return;
    const weight = angleAt(at, next, before, nx, ny, nz) / length;
    out[4 * at] += weight * (x - lean * nx);
    out[4 * at + 1] += weight * (y - lean * ny);
    out[4 * at + 2] += weight * (z - lean * nz);
  }

  /** Between two sides of a triangle, seen along a normal. */
  function angleAt(at: number, next: number, before: number, nx: number, ny: number, nz: number): number {
    const ax = positions[3 * next] - positions[3 * at];
    const ay = positions[3 * next + 1] - positions[3 * at + 1];
    const az = positions[3 * next + 2] - positions[3 * at + 2];
    const bx = positions[3 * before] - positions[3 * at];
    const by = positions[3 * before + 1] - positions[3 * at + 1];
    const bz = positions[3 * before + 2] - positions[3 * at + 2];
    const a = ax * nx + ay * ny + az * nz;
    const b = bx * nx + by * ny + bz * nz;
    const lengths = (ax * ax + ay * ay + az * az - a * a) * (bx * bx + by * by + bz * bz - b * b);
    if (lengths <= 0) return 0;
    const cosine = (ax * bx + ay * by + az * bz - a * b) / Math.sqrt(lengths);
    return Math.acos(Math.min(1, Math.max(-1, cosine)));
  }
}
