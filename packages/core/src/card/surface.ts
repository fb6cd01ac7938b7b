import { cross, dot, minus, weighted, type Vec3 } from '../math/vector.ts';

/**
 * The triangles of a card: they go counter-clockwise seen from the front. UV origin is the top left (glTF 2.0 §3.8.3).
 * Plain arrays, so that it crosses to a worker.
 */
export interface SurfaceMesh {
  /** x, y, z of every vertex. A card stands on y = 0, its front faces +Z. */
  positions: Float32Array;
  /** Of length 1. */
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
  /** Of any length. */
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

/**
 * The surface that a picture lies on. The GLB writer, the Stand with its shadow and its partial drawing, picking and
 * marks know nothing else of a card.
 */
export interface CardSurface {
  readonly mesh: SurfaceMesh;
  /** The corners of the box around it. */
  readonly bounds: { readonly min: Vec3; readonly max: Vec3 };
  /**
   * Where a place of the picture is in space, and its normal on the front; null where the surface shows no such place.
   * Beyond the picture the surface goes on as it ends at the rim.
   */
  pointAt(u: number, v: number): { position: Vec3; normal: Vec3 } | null;
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

/** A card of any shape. */
export function meshSurface(mesh: SurfaceMesh): CardSurface {
  const triangles = trianglesOf(mesh);
  return {
    mesh,
    bounds: boundsOf(mesh.positions),
    pointAt(u, v) {
      for (const { at, normals, uv } of triangles) {
        if (!isIn(uv, [clampShare(u), clampShare(v)])) continue;
        const weights = weightsIn(uv, [u, v]);
        const normal = weighted(...normals, weights);
        const length = Math.hypot(...normal) || 1;
        return { position: weighted(...at, weights), normal: weighted(normal, normal, normal, [1 / length, 0, 0]) };
      }
      return null;
    },
    hit(ray) {
      let nearest: SurfaceHit | null = null;
      for (const triangle of triangles) {
        const hit = meet(triangle, ray);
        if (hit && (!nearest || hit.distance < nearest.distance)) nearest = hit;
      }
      return nearest;
    },
    cornersOf(left, top, right, bottom) {
      return triangles.flatMap(({ at, uv }) =>
        cutTo([...uv], left, top, right, bottom).map((place) => weighted(...at, weightsIn(uv, place))),
      );
    },
  };
}

function trianglesOf({ positions, normals, uvs, indices }: SurfaceMesh): Triangle[] {
  const three = (from: Float32Array, i: number): Vec3 => [from[3 * i], from[3 * i + 1], from[3 * i + 2]];
  const out: Triangle[] = [];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = indices.subarray(t, t + 3);
    out.push({
      at: [three(positions, a), three(positions, b), three(positions, c)],
      normals: [three(normals, a), three(normals, b), three(normals, c)],
      uv: [a, b, c].map((i) => [uvs[2 * i], uvs[2 * i + 1]] as const) as Triangle['uv'],
    });
  }
  return out;
}

function boundsOf(positions: Float32Array): CardSurface['bounds'] {
  const [min, max] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let i = 0; i < positions.length; i++) {
    min[i % 3] = Math.min(min[i % 3], positions[i]);
    max[i % 3] = Math.max(max[i % 3], positions[i]);
  }
  return { min: min as unknown as Vec3, max: max as unknown as Vec3 };
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
