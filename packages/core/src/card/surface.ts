import type { Wrap } from '../sieve/mip-filters.ts';
import { BoxTree } from './box-tree.ts';
import { cross, dot, minus, weighted, type Vec3 } from '../math/vector.ts';

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
}

/** As narrow as so many vertices allow. */
export function indicesOf(vertices: number, indices: ArrayLike<number>): SurfaceMesh['indices'] {
  return vertices > 0xffff ? Uint32Array.from(indices) : Uint16Array.from(indices);
}

export interface Ray {
  from: Vec3;
  /** A direction of any length. */
  way: Vec3;
}

/** What a ray meets first. */
export interface SurfaceHit {
  /** 0–1 from the top left of the picture. */
  u: number;
  v: number;
  /** In lengths of the ray's way. */
  distance: number;
  side: 'front' | 'back';
}

/** A place in space, and the normal on the front. */
export interface SurfacePlace {
  position: Vec3;
  normal: Vec3;
}

/**
 * The surface that a picture lies on. The GLB writer, the Stand with its shadow and its partial drawing, picking and
 * marks know nothing else of a card.
 */
export interface CardSurface {
  readonly mesh: SurfaceMesh;
  /** The corners of the box around it. */
  readonly bounds: { readonly min: Vec3; readonly max: Vec3 };
  /**
   * Where a place of the picture is in space: as often as triangles show it, in their order; one on a side that two share
   * is there twice. Beyond the picture the surface goes on as it ends at the rim.
   */
  placesAt(u: number, v: number): SurfacePlace[];
  /** The first of them; null where the surface shows no such place. */
  pointAt(u: number, v: number): SurfacePlace | null;
  /** From either side; null beside it. */
  hit(ray: Ray): SurfaceHit | null;
  /** Corners of the flat pieces that a rectangle of the picture is cut into: everything of it lies between them. */
  cornersOf(left: number, top: number, right: number, bottom: number): Vec3[];
}

interface Triangle {
  at: [Vec3, Vec3, Vec3];
  normals: [Vec3, Vec3, Vec3];
  uv: [UV, UV, UV];
}
type UV = readonly [u: number, v: number];

/** How a picture goes on beyond its sides (glTF 2.0 §5.26). */
export interface Wraps {
  across: Wrap;
  down: Wrap;
}

/** A card of any shape, of as many triangles as there are; several may show one place of the picture. */
export function meshSurface(mesh: SurfaceMesh, wraps: Wraps = { across: 'clamp', down: 'clamp' }): CardSurface {
  // a writer asks for neither
  const inSpace = once(() => new BoxTree(3, boxesOf(mesh.positions, 3, mesh.indices)));
  const inPicture = once(() => new BoxTree(2, boxesOf(mesh.uvs, 2, mesh.indices)));
  /** Those that may meet a rectangle of the picture, in the order of the mesh. */
  const trianglesIn = (left: number, top: number, right: number, bottom: number): Triangle[] => {
    const found: number[] = [];
    inPicture().visit(
      (box, at) => box[at] <= right && box[at + 1] >= left && box[at + 2] <= bottom && box[at + 3] >= top,
      (triangle) => found.push(triangle),
    );
    return found.sort((x, y) => x - y).map((triangle) => triangleOf(mesh, triangle));
  };
  const copies = once(() => copiesOf(mesh.uvs, wraps));
  const placesAt = (u: number, v: number): SurfacePlace[] =>
    copies().flatMap(([across, down]) => {
      const place: UV = [across(clampShare(u)), down(clampShare(v))];
      return trianglesIn(...place, ...place)
        .filter(({ uv }) => isIn(uv, place))
        .map((triangle) => placeOn(triangle, [across(u), down(v)]));
    });
  return {
    mesh,
    bounds: boundsOf(mesh.positions),
    placesAt,
    pointAt: (u, v) => placesAt(u, v)[0] ?? null,
    hit(ray) {
      let nearest: SurfaceHit | null = null;
      let of = -1;
      inSpace().visit(
        (box, at) => meetsBox(ray, box, at, nearest?.distance ?? Infinity),
        (triangle) => {
          const hit = meet(triangleOf(mesh, triangle), ray);
          const nearer = hit && (!nearest || hit.distance < nearest.distance);
          // on a side that two share, the first of them
          if (!nearer && !(hit && hit.distance === nearest!.distance && triangle < of)) return;
          nearest = hit;
          of = triangle;
        },
      );
      return nearest && withinPicture(nearest, wraps);
    },
    cornersOf(left, top, right, bottom) {
      return copies().flatMap(([across, down]) => {
        const [x, y] = [[across(left), across(right)], [down(top), down(bottom)]]; // prettier-ignore
        const box = [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)] as const;
        return trianglesIn(...box).flatMap(({ at, uv }) =>
          cutTo([...uv], ...box).map((place) => weighted(...at, weightsIn(uv, place))),
        );
      });
    },
  };
}

/** Copies of a picture that are looked at, to each side. */
const MOST_COPIES = 8;

type Copy = (share: number) => number;

/** Where else places of the picture are shown: in each copy of it that UVs reach. */
function copiesOf(uvs: Float32Array, { across, down }: Wraps): [across: Copy, down: Copy][] {
  const along = (axis: 0 | 1, wrap: Wrap): Copy[] => {
    if (wrap === 'clamp') return [(share) => share];
    let [least, most] = [0, 0];
    for (let i = axis; i < uvs.length; i += 2) {
      if (uvs[i] < least) least = uvs[i];
      if (uvs[i] > most) most = uvs[i];
    }
    const [from, to] = [Math.max(-MOST_COPIES, Math.floor(least)), Math.min(MOST_COPIES, Math.ceil(most) - 1)];
    return Array.from({ length: Math.max(1, to - from + 1) }, (_, i) => {
      const k = from + i;
      return wrap === 'mirror' && k % 2 !== 0 ? (share) => k + 1 - share : (share) => k + share;
    });
  };
  const rows = along(1, down);
  return along(0, across).flatMap((x) => rows.map((y): [Copy, Copy] => [x, y]));
}

/** The place of the picture that is seen where a mesh shows one beyond it. */
function withinPicture(hit: SurfaceHit, { across, down }: Wraps): SurfaceHit {
  const within = (share: number, wrap: Wrap) => {
    if (share >= 0 && share <= 1) return share;
    if (wrap === 'clamp') return clampShare(share);
    const turns = Math.floor(share);
    return wrap === 'mirror' && turns % 2 !== 0 ? turns + 1 - share : share - turns;
  };
  return { ...hit, u: within(hit.u, across), v: within(hit.v, down) };
}

function once<T>(make: () => T): () => T {
  let made: T | undefined;
  return () => (made ??= make());
}

function triangleOf({ positions, normals, uvs, indices }: SurfaceMesh, triangle: number): Triangle {
  const three = (from: Float32Array, i: number): Vec3 => [from[3 * i], from[3 * i + 1], from[3 * i + 2]];
  const two = (i: number): UV => [uvs[2 * i], uvs[2 * i + 1]];
  const [a, b, c] = [indices[3 * triangle], indices[3 * triangle + 1], indices[3 * triangle + 2]];
  return {
    at: [three(positions, a), three(positions, b), three(positions, c)],
    normals: [three(normals, a), three(normals, b), three(normals, c)],
    uv: [two(a), two(b), two(c)],
  };
}

function placeOn({ at, normals, uv }: Triangle, place: UV): SurfacePlace {
  const weights = weightsIn(uv, place);
  const normal = weighted(...normals, weights);
  const length = Math.hypot(...normal) || 1;
  return { position: weighted(...at, weights), normal: weighted(normal, normal, normal, [1 / length, 0, 0]) };
}

/** Around each triangle, and what rounding may take it for. */
function boxesOf(values: Float32Array, dimensions: number, indices: SurfaceMesh['indices']): Float64Array {
  const out = new Float64Array((2 * dimensions * indices.length) / 3);
  let most = 0;
  for (const value of values) if (Math.abs(value) > most) most = Math.abs(value);
  const around = ROUNDING * most;
  for (let t = 0, at = 0; t < indices.length; t += 3) {
    const [i, j, k] = [dimensions * indices[t], dimensions * indices[t + 1], dimensions * indices[t + 2]];
    for (let axis = 0; axis < dimensions; axis++, at += 2) {
      const [a, b, c] = [values[i + axis], values[j + axis], values[k + axis]];
      out[at] = (a < b ? (a < c ? a : c) : b < c ? b : c) - around;
      out[at + 1] = (a > b ? (a > c ? a : c) : b > c ? b : c) + around;
    }
  }
  return out;
}

/** Share of the largest coordinate: beyond what {@link ON_THE_SIDE} lets in. */
const ROUNDING = 4e-6;

/** T. Kay, J. Kajiya, "Ray Tracing Complex Scenes", 1986: the part of the ray between each pair of planes. */
function meetsBox({ from, way }: Ray, box: Float64Array, at: number, before: number): boolean {
  let [enters, leaves] = [0, before];
  for (let axis = 0; axis < 3; axis++) {
    const [least, most] = [box[at + 2 * axis] - from[axis], box[at + 2 * axis + 1] - from[axis]];
    if (way[axis] === 0) {
      if (least > 0 || most < 0) return false;
      continue;
    }
    const [p, q] = [least / way[axis], most / way[axis]];
    enters = Math.max(enters, Math.min(p, q));
    leaves = Math.min(leaves, Math.max(p, q));
  }
  return enters <= leaves;
}

export function boundsOf(positions: Float32Array): CardSurface['bounds'] {
  const bounds = [0, 1, 2].map((axis) => {
    let [least, most] = [Infinity, -Infinity];
    for (let i = axis; i < positions.length; i += 3) {
      const at = positions[i];
      if (at < least) least = at;
      if (at > most) most = at;
    }
    return [least, most];
  });
  const ends = (end: 0 | 1) => bounds.map((b) => b[end]) as unknown as Vec3;
  return { min: ends(0), max: ends(1) };
}

/** T. Möller, B. Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997; both sides. */
function meet({ at: [a, b, c], uv }: Triangle, { from, way }: Ray): SurfaceHit | null {
  const [ab, ac] = [minus(b, a), minus(c, a)];
  const p = cross(way, ac);
  const determinant = dot(ab, p);
  if (determinant === 0) return null;
  const t = minus(from, a);
  const wb = dot(t, p) / determinant;
  const q = cross(t, ab);
  const wc = dot(way, q) / determinant;
  const distance = dot(ac, q) / determinant;
  if (wb < 0 || wc < 0 || wb + wc > 1 || distance <= 0) return null;
  const wa = 1 - wb - wc;
  const [u, v] = [0, 1].map((i) => wa * uv[0][i] + wb * uv[1][i] + wc * uv[2][i]);
  return { u, v, distance, side: determinant > 0 ? 'front' : 'back' };
}

/** Barycentric: the areas that a place spans with the sides of a triangle of the picture, over all of it. */
function weightsIn([a, b, c]: Triangle['uv'], [u, v]: UV): Vec3 {
  const area = (p: UV, q: UV) => (p[0] - u) * (q[1] - v) - (q[0] - u) * (p[1] - v);
  const [wa, wb, wc] = [area(b, c), area(c, a), area(a, b)];
  const whole = wa + wb + wc;
  return [wa / whole, wb / whole, wc / whole];
}

/** Slack for places on a side that two triangles share, in single precision. */
const ON_THE_SIDE = 1e-6;

function isIn(uv: Triangle['uv'], place: UV): boolean {
  return weightsIn(uv, place).every((w) => w >= -ON_THE_SIDE);
}

const clampShare = (share: number) => Math.min(1, Math.max(0, share));

/** What of a polygon lies in a rectangle (I. Sutherland, G. Hodgman, "Reentrant Polygon Clipping", 1974). */
function cutTo(polygon: UV[], left: number, top: number, right: number, bottom: number): UV[] {
  const sides: [axis: 0 | 1, limit: number, sign: 1 | -1][] = [
    [0, left, 1],
    [0, right, -1],
    [1, top, 1],
    [1, bottom, -1],
  ];
  return sides.reduce((points, [axis, limit, sign]) => {
    const inside = (p: UV) => sign * (p[axis] - limit) >= 0;
    return points.flatMap((to, i) => {
      const from = points[(i + points.length - 1) % points.length];
      if (inside(from) === inside(to)) return inside(to) ? [to] : [];
      const share = (limit - from[axis]) / (to[axis] - from[axis]);
      const crossing: UV = [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
      return inside(to) ? [crossing, to] : [crossing];
    });
  }, polygon);
}
