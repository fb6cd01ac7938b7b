import { meshSurface, type CardSurface, type SurfaceMesh, type Wraps } from '../surface.ts';

/** Endings of the files that meshes are read from. */
export const MESH_EXTENSIONS = ['.obj', '.glb'] as const;
export const MESH_AXES = ['y', 'z'] as const;

/** A mesh that somebody made, which a piece lies on instead of a card. Its file is kept as it is. */
export interface CardMesh {
  sha256: string;
  fileName: string;
  /** Metres in a unit of the file. */
  metres: number;
  /** The axis of the file that points up. */
  up: (typeof MESH_AXES)[number];
}

export const MESH_METRES = { min: 0.0001, max: 1000 } as const;

/** Units that files are made in, by the metres in one; common practice. */
export const MESH_UNITS: readonly { name: string; metres: number }[] = [
  { name: 'metres', metres: 1 },
  { name: 'centimetres', metres: 0.01 },
  { name: 'millimetres', metres: 0.001 },
  { name: 'inches', metres: 0.0254 },
  { name: 'feet', metres: 0.3048 },
];

/**
 * A mesh of somebody as it stands: y up, in the unit of a card.
 *
 * @param wraps - How its picture goes on where UVs lie beyond it.
 * @param metre - Units of the card in a metre.
 * @param lifted - Its lowest place comes to the ground; else it is where the file has it.
 */
export function standingMesh(
  mesh: SurfaceMesh,
  how: Pick<CardMesh, 'metres' | 'up'>,
  { wraps, metre = 1, lifted = false }: { wraps?: Wraps; metre?: number; lifted?: boolean } = {},
): CardSurface {
  const positions = turned(mesh.positions, how.up, how.metres * metre);
  if (lifted) {
    let lowest = Infinity;
    for (let i = 1; i < positions.length; i += 3) lowest = Math.min(lowest, positions[i]);
    for (let i = 1; i < positions.length; i += 3) positions[i] -= lowest;
  }
  const { uvs, indices } = mesh;
  return meshSurface({ positions, normals: turned(mesh.normals, how.up, 1), uvs, indices }, wraps);
}

/** From z up to y up by a quarter turn about x, as exporters do it: what pointed to -y comes to the front. */
function turned(values: Float32Array, up: CardMesh['up'], scale: number): Float32Array {
  const out = new Float32Array(values.length);
  const isUp = up === 'y';
  for (let i = 0; i < values.length; i += 3) {
    out[i] = values[i] * scale;
    out[i + 1] = (isUp ? values[i + 1] : values[i + 2]) * scale;
    out[i + 2] = (isUp ? values[i + 2] : -values[i + 1]) * scale;
  }
  return out;
}
