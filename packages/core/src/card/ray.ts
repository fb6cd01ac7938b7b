import { cross, dot, minus, type Vec3 } from '../math/vector.ts';
import type { BoxTree } from './box-tree.ts';
import type { SurfaceMesh } from './surface-mesh.ts';

export interface Ray {
  from: Vec3;
  /** A direction of any length. */
  way: Vec3;
}

/** Where a ray meets a triangle; its corners count by `weights` there. */
export interface Meeting {
  triangle: number;
  weights: Vec3;
  distance: number;
  side: 'front' | 'back';
}

/** What a ray meets first of a mesh, before a distance. */
export function nearestHit(mesh: SurfaceMesh, tree: BoxTree, ray: Ray, before: number): Meeting | null {
  let nearest: Meeting | null = null;
  tree.visit(
    (box, at) => meetsBox(ray, box, at, nearest?.distance ?? before),
    (triangle) => {
      const met = meet(cornersOf(mesh, triangle), ray);
      if (!met || met.distance >= before) return;
      const isNearer = !nearest || met.distance < nearest.distance;
      // on a side that two share, the first of them
      if (isNearer || (met.distance === nearest!.distance && triangle < nearest!.triangle)) {
        nearest = { ...met, triangle };
      }
    },
  );
  return nearest;
}

function cornersOf({ positions, indices }: SurfaceMesh, triangle: number): [Vec3, Vec3, Vec3] {
  const corner = (k: number): Vec3 => {
    const i = 3 * indices[3 * triangle + k];
    return [positions[i], positions[i + 1], positions[i + 2]];
  };
  return [corner(0), corner(1), corner(2)];
}

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

/** T. Möller, B. Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection", 1997; both sides. */
function meet([a, b, c]: readonly [Vec3, Vec3, Vec3], { from, way }: Ray): Omit<Meeting, 'triangle'> | null {
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
  return { weights: [1 - wb - wc, wb, wc], distance, side: determinant > 0 ? 'front' : 'back' };
}
