import { boundsOf, meshSurface, type CardSurface, type PlainPart } from '../surface.ts';
import { subMesh, type SurfaceMesh } from '../surface-mesh.ts';
import type { Wraps } from '../wraps.ts';
import { withNormals, type CardNormals } from '../card-normals.ts';
import { withSides, type CardSides } from '../sides.ts';
import { placedUvs, type MeshPlacement } from './placement.ts';
import type { MeshSlot, SlottedMesh } from './user-mesh.ts';

/** Endings of the files that meshes are read from. */
export const MESH_EXTENSIONS = ['.obj', '.glb', '.gltf'] as const;
export const MESH_AXES = ['y', 'z'] as const;

/** A mesh that somebody made, which a piece lies on instead of a card. Its file is kept as it is. */
export interface CardMesh {
  sha256: string;
  fileName: string;
  /** Metres in a unit of the file. */
  metres: number;
  /** The axis of the file that points up. */
  up: (typeof MESH_AXES)[number];
  /** How the picture lies on its UVs; as these say where there is none. */
  placement?: MeshPlacement | undefined;
  /** Metres that the card was wide before it; that it is again without. */
  cardWidth?: number | undefined;
  /** The material of the file that shows the piece, by its name; the others stay plain. Without one all show it. */
  slot?: string | undefined;
  /** The file on disk whose saves it takes. */
  follows?: string | undefined;
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

/** How a mesh stands. */
export interface Standing {
  /** Units of the card in a metre. */
  metre?: number;
  /** A back of triangles of its own. */
  sides?: CardSides | undefined;
  /** How its normals are bent. */
  normals?: CardNormals | undefined;
  /** Its lowest place comes to the ground; else it is where the file has it. */
  lifted?: boolean;
}

/** A mesh of somebody as it stands: y up, in the unit of a card, the picture placed on what shows it. */
export function standingMesh(
  mesh: SlottedMesh,
  how: Pick<CardMesh, 'metres' | 'up' | 'placement' | 'slot'>,
  { wraps, ...standing }: Standing & { wraps?: Wraps } = {},
): CardSurface {
  const bare = bareMesh(mesh, how, standing);
  return bare.withUvs(how.placement ? placedUvs(bare.mesh.uvs, how.placement) : bare.mesh.uvs, wraps);
}

/** The same with the UVs of its file: {@link CardSurface.withUvs} places a picture on it. */
export function bareMesh(
  mesh: SlottedMesh,
  how: Pick<CardMesh, 'metres' | 'up' | 'slot'>,
  { metre = 1, lifted = false, sides, normals: bent }: Standing = {},
): CardSurface {
  const positions = turned(mesh.positions, how.up, how.metres * metre);
  if (lifted) {
    let lowest = Infinity;
    for (let i = 1; i < positions.length; i += 3) lowest = Math.min(lowest, positions[i]);
    for (let i = 1; i < positions.length; i += 3) positions[i] -= lowest;
  }
  const normals = turned(mesh.normals, how.up, 1);
  const whole = { positions, normals, uvs: mesh.uvs, indices: mesh.indices, rootTip: heightsOf(positions) };
  const { shows, plain } = apart(whole, how.slot, mesh.slots ?? []);
  const sided = sides ? withSides(shows, sides, (sides.apart * metre) / 1000) : shows;
  return meshSurface(bent ? withNormals(sided, bent) : sided, { plain });
}

/** A mesh has no root but the ground: how high each vertex is, of the highest. */
function heightsOf(positions: Float32Array): Float32Array {
  const {
    min: [, lowest],
    max: [, highest],
  } = boundsOf(positions);
  const tall = highest - lowest || 1;
  return Float32Array.from({ length: positions.length / 3 }, (_, i) => (positions[3 * i + 1] - lowest) / tall);
}

/** What of a mesh shows the piece, and what stays plain: all shows it where nothing has that name. */
function apart(
  mesh: SurfaceMesh,
  slot: string | undefined,
  slots: readonly MeshSlot[],
): { shows: SurfaceMesh; plain: PlainPart[] } {
  if (slot === undefined || !slots.some(({ name }) => name === slot)) return { shows: mesh, plain: [] };
  let from = 0;
  const parts = slots.map(({ name, triangles }) => ({ name, from, to: (from += 3 * triangles) }));
  if (from < mesh.indices.length) parts.push({ name: 'other materials', from, to: mesh.indices.length });
  const own = parts.filter(({ name }) => name === slot);
  return {
    shows: subMesh(mesh, own),
    plain: parts.filter((p) => p.name !== slot).map((p) => ({ name: p.name, mesh: subMesh(mesh, [p]) })),
  };
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
