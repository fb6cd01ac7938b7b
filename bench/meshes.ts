// A card of 200,000 triangles: read from a file, built, picked, a place of its picture found, a picture placed on it; and the
// outlines of the twenty parts of an atlas of 4096².
import {
  cutOfCard,
  makeMask,
  meshFacts,
  meshSurface,
  placedUvs,
  readObj,
  UV_PLACEMENT,
  type CardRegion,
  type SurfaceMesh,
  type Vec3,
} from '@lithe-sieve/core';

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

/** The same as an OBJ. */
function written({ positions, uvs, indices }: SurfaceMesh): Uint8Array {
  const lines: string[] = [];
  for (let i = 0; i < positions.length; i += 3)
    lines.push(`v ${[0, 1, 2].map((k) => positions[i + k].toFixed(6)).join(' ')}`);
  for (let i = 0; i < uvs.length; i += 2) lines.push(`vt ${uvs[i].toFixed(6)} ${(1 - uvs[i + 1]).toFixed(6)}`);
  for (let t = 0; t < indices.length; t += 3) {
    lines.push(`f ${[0, 1, 2].map((k) => `${indices[t + k] + 1}/${indices[t + k] + 1}`).join(' ')}`);
  }
  return new TextEncoder().encode(lines.join('\n'));
}

const middle = (work: () => unknown): number => {
  const all = Array.from({ length: 5 }, () => {
    const started = performance.now();
    work();
    return performance.now() - started;
  });
  return all.sort((a, b) => a - b)[2];
};
const file = written(mesh);
const read = readObj(file);
const turned = { ...UV_PLACEMENT, turn: 20 };
console.log(
  `OBJ of ${(file.length / 1e6).toFixed(1)} MB: read in ${middle(() => readObj(file)).toFixed(0)} ms, facts in ${middle(() => meshFacts(read, 'obj')).toFixed(0)} ms, a picture placed in ${middle(() => card.withUvs(placedUvs(mesh.uvs, turned))).toFixed(1)} ms`,
);

const ATLAS = 4096;
const regions: CardRegion[] = Array.from({ length: 20 }, (_, k) => ({
  key: `part ${k}`,
  x: ((k % 5) + 0.5) / 5,
  y: (Math.floor(k / 5) + 0.5) / 4,
  turn: 17 * k,
  wide: 0.13,
  tall: 0.18,
}));
const leaves = new Uint8Array(ATLAS * ATLAS);
for (const { x, y, turn } of regions) {
  const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  for (let v = Math.floor((y - 0.12) * ATLAS); v < (y + 0.12) * ATLAS; v++) {
    for (let u = Math.floor((x - 0.12) * ATLAS); u < (x + 0.12) * ATLAS; u++) {
      const [dx, dy] = [u / ATLAS - x, v / ATLAS - y];
      const [a, b] = [(dx * c + dy * s) / 0.06, (dy * c - dx * s) / 0.085];
      if (a * a + b * b * (1 + 0.3 * Math.sin(9 * a)) < 1 && leaves[v * ATLAS + u] === 0) leaves[v * ATLAS + u] = 255;
    }
  }
}
const atlas = makeMask(ATLAS, ATLAS, leaves);
const material = { mode: 'mask', cutoff: 0.5, opacity: 1, doubleSided: true } as const;
const cut = () => cutOfCard(atlas, { corners: 8, holes: false, downTo: 3 }, material, regions);
console.log(`outlines of ${regions.length} parts of ${ATLAS}², 8 corners each: ${middle(cut).toFixed(0)} ms`);
