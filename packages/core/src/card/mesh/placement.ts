import { SieveError } from '../../errors.ts';
import { cross, dot, minus, type Vec3 } from '../../math/vector.ts';
import type { SurfaceMesh } from '../surface-mesh.ts';

/** How a picture lies on the UVs of a mesh. Lengths are those of a plane: of the UVs, or of a face that it was fitted to. */
export interface MeshPlacement {
  /** The place of the mesh's UVs that shows the middle of the picture. */
  middle: [u: number, v: number];
  /** Its sides on the plane; a negative one mirrors it. */
  size: [across: number, down: number];
  /** Degrees, counter-clockwise as it is seen on the plane. */
  turn: number;
  /** From UVs to the plane: to the right `[0] u + [1] v`, down `[2] u + [3] v`. */
  plane: [number, number, number, number];
}

/** As the UVs of the mesh say. */
export const UV_PLACEMENT: MeshPlacement = { middle: [0.5, 0.5], size: [1, 1], turn: 0, plane: [1, 0, 0, 1] };

/** Of the numbers of a placement, either sign. */
export const PLACEMENT_RANGES = {
  middle: 1000,
  size: { min: 1e-5, max: 1e5 },
  turn: 180,
  plane: 1e6,
} as const;

/** The nearest placement within {@link PLACEMENT_RANGES}: drags know no end. */
export function placementWithin({ middle, size, turn, plane }: MeshPlacement): MeshPlacement {
  const near = (v: number, most: number) => Math.min(most, Math.max(-most, v));
  const { min, max } = PLACEMENT_RANGES.size;
  const side = (v: number) => (v < 0 ? -1 : 1) * Math.min(max, Math.max(min, Math.abs(v)));
  return {
    middle: [near(middle[0], PLACEMENT_RANGES.middle), near(middle[1], PLACEMENT_RANGES.middle)],
    size: [side(size[0]), side(size[1])],
    turn: near(turn, PLACEMENT_RANGES.turn),
    plane,
  };
}

/** Where UVs lie in the picture: `u' = [0] u + [1] v + [2]`, `v' = [3] u + [4] v + [5]`. */
export type UvMatrix = readonly [number, number, number, number, number, number];

/**
 * Scales after it turns, as a picture that is laid on a plane does; KHR_texture_transform, which scales before, comes to the
 * same where both sides are scaled alike, its rotation being that of the UVs, the other way round.
 */
export function uvMatrixOf({ middle, size, turn, plane }: MeshPlacement): UvMatrix {
  const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  const [a, b] = [(c * plane[0] - s * plane[2]) / size[0], (c * plane[1] - s * plane[3]) / size[0]];
  const [d, e] = [(s * plane[0] + c * plane[2]) / size[1], (s * plane[1] + c * plane[3]) / size[1]];
  const [u, v] = middle;
  return [a, b, 0.5 - a * u - b * v, d, e, 0.5 - d * u - e * v];
}

export function placedUvs(uvs: Float32Array, placement: MeshPlacement): Float32Array {
  const [a, b, c, d, e, f] = uvMatrixOf(placement);
  const out = new Float32Array(uvs.length);
  for (let i = 0; i < uvs.length; i += 2) {
    out[i] = a * uvs[i] + b * uvs[i + 1] + c;
    out[i + 1] = d * uvs[i] + e * uvs[i + 1] + f;
  }
  return out;
}

/** The step on the plane from one place of the UVs to another, to the right and down. */
export function onPlane(
  { plane }: MeshPlacement,
  from: readonly [number, number],
  to: readonly [number, number],
): [right: number, down: number] {
  const [u, v] = [to[0] - from[0], to[1] - from[1]];
  return [plane[0] * u + plane[1] * v, plane[2] * u + plane[3] * v];
}

/**
 * The placement that lays a picture once on a face, in proportion, upright, as large as it lies within: the face is the flat
 * triangles that are connected with one.
 *
 * @param mesh - As it stands, y up, with the UVs of its file. @param aspect - Of the picture, width by height.
 * @param side - That the picture is to be read from.
 * @throws SieveError `unsupported` where the triangle has no area, in space or in UVs.
 */
export function placementOnFace(
  mesh: SurfaceMesh,
  triangle: number,
  aspect: number,
  side: 'front' | 'back' = 'front',
): MeshPlacement {
  const { right, up } = axesOf(normalOf(mesh, triangle), side);
  const place = (i: number): [number, number] => [dot(right, at(mesh, i)), -dot(up, at(mesh, i))];
  const [a, b, c] = cornersOf(mesh, triangle);
  const { uvs } = mesh;
  const [u1, v1, u2, v2] = [uvs[2 * b] - uvs[2 * a], uvs[2 * b + 1] - uvs[2 * a + 1], uvs[2 * c] - uvs[2 * a], uvs[2 * c + 1] - uvs[2 * a + 1]]; // prettier-ignore
  const area = u1 * v2 - u2 * v1;
  if (Math.abs(area) < 1e-14) throw noArea('in its UVs');
  const [p, q, r] = [place(a), place(b), place(c)];
  const plane = [0, 1].flatMap((k) => {
    const [x1, x2] = [q[k] - p[k], r[k] - p[k]];
    return [(x1 * v2 - x2 * v1) / area, (x2 * u1 - x1 * u2) / area];
  }) as [number, number, number, number];
  const [least, most] = [
    [Infinity, Infinity],
    [-Infinity, -Infinity],
  ];
  for (const t of faceAround(mesh, triangle)) {
    for (const i of cornersOf(mesh, t)) {
      const seen = place(i);
      for (const k of [0, 1]) {
        least[k] = Math.min(least[k], seen[k]);
        most[k] = Math.max(most[k], seen[k]);
      }
    }
  }
  const across = Math.min(most[0] - least[0], (most[1] - least[1]) * aspect);
  const [x, y] = [0, 1].map((k) => (least[k] + most[k]) / 2 - p[k]);
  const whole = plane[0] * plane[3] - plane[1] * plane[2];
  const middle = [
    uvs[2 * a] + (plane[3] * x - plane[1] * y) / whole,
    uvs[2 * a + 1] + (plane[0] * y - plane[2] * x) / whole,
  ] as [number, number];
  if (plane.some((v) => Math.abs(v) > PLACEMENT_RANGES.plane)) throw noArea('in its UVs');
  return placementWithin({ middle, size: [across, across / aspect], turn: 0, plane });
}

const noArea = (where: string) =>
  new SieveError('unsupported', `The triangle has no area ${where}.`, 'Point at another place of the mesh.');

function at({ positions }: SurfaceMesh, i: number): Vec3 {
  return [positions[3 * i], positions[3 * i + 1], positions[3 * i + 2]];
}

function cornersOf({ indices }: SurfaceMesh, t: number): [number, number, number] {
  return [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]];
}

/** Of length 1; null without an area. */
function directionOf(mesh: SurfaceMesh, t: number): Vec3 | null {
  const [a, b, c] = cornersOf(mesh, t).map((i) => at(mesh, i));
  const normal = cross(minus(b, a), minus(c, a));
  const length = Math.hypot(...normal);
  return length > 0 ? (normal.map((n) => n / length) as unknown as Vec3) : null;
}

function normalOf(mesh: SurfaceMesh, t: number): Vec3 {
  const normal = directionOf(mesh, t);
  if (!normal) throw noArea('in space');
  return normal;
}

/** What points up and to the right on a face, seen from a side; on one that lies flat, up is away from the front. */
function axesOf(front: Vec3, side: 'front' | 'back'): { right: Vec3; up: Vec3 } {
  const normal = (side === 'front' ? front : front.map((n) => -n)) as unknown as Vec3;
  const upright: Vec3 = Math.abs(normal[1]) < LIES_FLAT ? [0, 1, 0] : [0, 0, normal[1] > 0 ? -1 : 1];
  const along = dot(upright, normal);
  const flat = upright.map((v, k) => v - along * normal[k]) as unknown as Vec3;
  const length = Math.hypot(...flat);
  const up = flat.map((v) => v / length) as unknown as Vec3;
  return { right: cross(up, normal), up };
}

/** From here on a face lies: the sine of 75 degrees. */
const LIES_FLAT = 0.966;
/** Cosine of the angle up to which triangles are of one face: 3 degrees. */
const ONE_FACE = 0.9986;

/** Triangles that are connected with one by shared sides, and point where it does. */
function faceAround(mesh: SurfaceMesh, triangle: number): number[] {
  const { indices } = mesh;
  const front = normalOf(mesh, triangle);
  // the triangles of each vertex, one after the other
  const starts = new Uint32Array(mesh.positions.length / 3 + 1);
  for (const i of indices) starts[i + 1]++;
  for (let i = 1; i < starts.length; i++) starts[i] += starts[i - 1];
  const filled = starts.slice();
  const around = new Uint32Array(indices.length);
  for (let k = 0; k < indices.length; k++) around[filled[indices[k]]++] = Math.floor(k / 3);
  const seen = new Uint8Array(indices.length / 3);
  seen[triangle] = 1;
  const found = [triangle];
  for (let next = 0; next < found.length; next++) {
    const own = cornersOf(mesh, found[next]);
    for (const i of own) {
      for (let k = starts[i]; k < starts[i + 1]; k++) {
        const t = around[k];
        if (seen[t] === 1 || cornersOf(mesh, t).filter((j) => own.includes(j)).length < 2) continue;
        seen[t] = 1;
        const way = directionOf(mesh, t);
        if (way && dot(way, front) > ONE_FACE) found.push(t);
      }
    }
  }
  return found;
}
