// A card of 200,000 triangles: built, picked, and a place of its picture found.
import { meshSurface, type SurfaceMesh, type Vec3 } from '@lithe-sieve/core';

const SIDE = 317;

/** A leaf that waves: SIDE² quads. */
function wavy(): SurfaceMesh {
  const row = SIDE + 1;
  const positions = new Float32Array(3 * row * row);
  const normals = new Float32Array(3 * row * row);
  const uvs = new Float32Array(2 * row * row);
  for (let y = 0, i = 0; y <= SIDE; y++) {
    for (let x = 0; x <= SIDE; x++, i++) {
      const [u, v] = [x / SIDE, y / SIDE];
      positions.set([u - 0.5, 1 - v, 0.05 * Math.sin(9 * u) * Math.cos(7 * v)], 3 * i);
      normals.set([0, 0, 1], 3 * i);
      uvs.set([u, v], 2 * i);
    }
  }
  const indices = new Uint32Array(6 * SIDE * SIDE);
  for (let y = 0, i = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++, i += 6) {
      const a = y * row + x;
      indices.set([a, a + row, a + 1, a + 1, a + row, a + row + 1], i);
    }
  }
  return { positions, normals, uvs, indices };
}

const mesh = wavy();
const times = Array.from({ length: 5 }, () => {
  const started = performance.now();
  const made = meshSurface(mesh);
  made.hit({ from: [0, 0.5, 2], way: [0, 0, -1] });
  made.pointAt(0.5, 0.5);
  return performance.now() - started;
}).sort((a, b) => a - b);
const card = meshSurface(mesh);

function each(count: number, what: (x: number, y: number) => unknown): number {
  const started = performance.now();
  let found = 0;
  for (let i = 0; i < count; i++) if (what(((i * 0.618) % 1) * 0.98 + 0.01, ((i * 0.755) % 1) * 0.98 + 0.01)) found++;
  if (found !== count) throw new Error(`${count - found} of ${count} were not found`);
  return (performance.now() - started) / count;
}
const pick = each(5000, (x, y) => card.hit({ from: [x - 0.5, y, 2], way: [0.05, 0.02, -2] as Vec3 }) ?? true);
const place = each(5000, (u, v) => card.pointAt(u, v));
console.log(
  `mesh of ${mesh.indices.length / 3} triangles: built for picks and places in ${times[2].toFixed(0)} ms, a pick ${pick.toFixed(3)} ms, a place ${place.toFixed(3)} ms`,
);
