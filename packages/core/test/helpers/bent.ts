import { meshSurface, type CardSurface } from '../../src/index.ts';

/**
 * A strip bent about the vertical into an arc, `pieces` flat pieces wide: what a second kind of card might be.
 *
 * @param degrees - Of the arc; its chord faces +Z, its middle comes forward.
 */
export function bentStrip(width: number, height: number, degrees = 100, pieces = 6): CardSurface {
  const arc = (degrees * Math.PI) / 180;
  const radius = width / arc;
  const positions: number[] = [];
  const normals: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i <= pieces; i++) {
    const angle = (i / pieces - 0.5) * arc;
    const [x, z] = [Math.sin(angle), Math.cos(angle)];
    for (const up of [0, 1]) {
      positions.push(radius * x, up * height, radius * (z - 1));
      normals.push(x, 0, z);
      uvs.push(i / pieces, 1 - up);
    }
    if (i < pieces) indices.push(2 * i, 2 * i + 2, 2 * i + 3, 2 * i, 2 * i + 3, 2 * i + 1);
  }
  return meshSurface({
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvs: Float32Array.from(uvs),
    indices: Uint16Array.from(indices),
  });
}
