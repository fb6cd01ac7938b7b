import type { SurfaceMesh } from './surface.ts';

/**
 * Tangents of a mesh, x y z w a vertex, as glTF 2.0 §3.7.2.1 has them: along u of the texture, square to the normal, and
 * w so that w · (normal × tangent) goes up in the picture, against v.
 */
export function tangentsOf({ positions, normals, uvs, indices }: SurfaceMesh): Float32Array {
  const count = positions.length / 3;
  const along = new Float64Array(3 * count); // ∂position/∂u
  const down = new Float64Array(3 * count); // ∂position/∂v
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = indices.subarray(t, t + 3);
    const [u1, v1] = [uvs[2 * b] - uvs[2 * a], uvs[2 * b + 1] - uvs[2 * a + 1]];
    const [u2, v2] = [uvs[2 * c] - uvs[2 * a], uvs[2 * c + 1] - uvs[2 * a + 1]];
    const area = u1 * v2 - u2 * v1;
    if (area === 0) continue;
    for (let k = 0; k < 3; k++) {
      const p = positions[3 * b + k] - positions[3 * a + k];
      const q = positions[3 * c + k] - positions[3 * a + k];
      for (const i of [a, b, c]) {
        along[3 * i + k] += (p * v2 - q * v1) / area;
        down[3 * i + k] += (q * u1 - p * u2) / area;
      }
    }
  }
  const out = new Float32Array(4 * count);
  for (let i = 0; i < count; i++) {
    const n = normals.subarray(3 * i, 3 * i + 3);
    const t = along.subarray(3 * i, 3 * i + 3);
    const lean = n[0] * t[0] + n[1] * t[1] + n[2] * t[2];
    const flat = [0, 1, 2].map((k) => t[k] - lean * n[k]);
    const length = Math.sqrt(flat[0] * flat[0] + flat[1] * flat[1] + flat[2] * flat[2]) || 1;
    const [x, y, z] = flat.map((v) => v / length);
    const across = [n[1] * z - n[2] * y, n[2] * x - n[0] * z, n[0] * y - n[1] * x];
    const up = across[0] * down[3 * i] + across[1] * down[3 * i + 1] + across[2] * down[3 * i + 2];
    out.set([x, y, z, up > 0 ? -1 : 1], 4 * i);
  }
  return out;
}
