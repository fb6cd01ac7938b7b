import { weighted, type Vec3 } from '../math/vector.ts';
import { BoxTree } from './box-tree.ts';
import { cutTo, type UV } from './cut-to.ts';
import { nearestHit, type Ray } from './ray.ts';
import type { SurfaceMesh } from './surface-mesh.ts';
import { clampShare, copiesOf, withinPicture, type Wraps } from './wraps.ts';

/** What a ray meets first. */
export interface SurfaceHit {
  /** 0–1 from the top left of the picture. */
  u: number;
  v: number;
  /** In lengths of the ray's way. */
  distance: number;
  side: 'front' | 'back';
  /** Of the mesh. */
  triangle: number;
  /** Where the mesh's own UVs have it, before a picture was placed on them. */
  own: readonly [u: number, v: number];
}

/** Triangles that show no picture. */
export interface PlainPart {
  name: string;
  mesh: SurfaceMesh;
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
  /** What stands beside it and shows no picture: it hides what is behind, and is never hit. */
  readonly plain: readonly PlainPart[];
  /** The corners of the box around it all. */
  readonly bounds: { readonly min: Vec3; readonly max: Vec3 };
  /**
   * Where a place of the picture is in space: as often as triangles show it, in their order; one on a side that two share
   * is there twice. Beyond the picture the surface goes on as it ends at the rim.
   */
  placesAt(u: number, v: number): SurfacePlace[];
  /** The first of them; null where the surface shows no such place. */
  pointAt(u: number, v: number): SurfacePlace | null;
  /** The same with its picture placed otherwise: {@link SurfaceHit.own} stays what it was. */
  withUvs(uvs: Float32Array, wraps?: Wraps): CardSurface;
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

export interface SurfaceOptions {
  wraps?: Wraps;
  plain?: readonly PlainPart[];
}

/** A card of any shape, of as many triangles as there are; several may show one place of the picture. */
export function meshSurface(mesh: SurfaceMesh, { wraps, plain = [] }: SurfaceOptions = {}): CardSurface {
  // a writer asks for none
  const treeOf = ({ positions, indices }: SurfaceMesh) => once(() => new BoxTree(3, boxesOf(positions, 3, indices)));
  const own = { uvs: mesh.uvs, inSpace: treeOf(mesh), plainInSpace: plain.map((part) => treeOf(part.mesh)) };
  return surfaceOf(mesh, plain, own, wraps);
}

/** What does not change with how a picture is placed: the mesh's own UVs, and where its triangles are in space. */
interface Own {
  uvs: Float32Array;
  inSpace: () => BoxTree;
  plainInSpace: readonly (() => BoxTree)[];
}

function surfaceOf(
  mesh: SurfaceMesh,
  plain: readonly PlainPart[],
  own: Own,
  wraps: Wraps = { across: 'clamp', down: 'clamp' },
): CardSurface {
  const { inSpace, plainInSpace } = own;
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
    plain,
    withUvs: (uvs, wrapped) => surfaceOf({ ...mesh, uvs }, plain, own, wrapped),
    bounds: boundsOfAll([mesh, ...plain.map((part) => part.mesh)]),
    placesAt,
    pointAt: (u, v) => placesAt(u, v)[0] ?? null,
    hit(ray) {
      const nearest = nearestHit(mesh, inSpace(), ray, Infinity);
      if (!nearest) return null;
      const hides = (part: PlainPart, n: number) => nearestHit(part.mesh, plainInSpace[n](), ray, nearest.distance);
      if (plain.some((part, n) => hides(part, n) !== null)) return null;
      const { triangle, weights, distance, side } = nearest;
      const [u, v] = uvIn(mesh, mesh.uvs, triangle, weights);
      return { ...withinPicture(u, v, wraps), distance, side, triangle, own: uvIn(mesh, own.uvs, triangle, weights) };
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

function uvIn({ indices }: SurfaceMesh, uvs: Float32Array, triangle: number, weights: Vec3): [number, number] {
  const mixed = (k: 0 | 1) => weights.reduce((sum, w, i) => sum + w * uvs[2 * indices[3 * triangle + i] + k], 0);
  return [mixed(0), mixed(1)];
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

function boundsOfAll(meshes: readonly SurfaceMesh[]): CardSurface['bounds'] {
  const all = meshes.map(({ positions }) => boundsOf(positions));
  const ends = (end: 'min' | 'max') => [0, 1, 2].map((k) => Math[end](...all.map((b) => b[end][k]))) as unknown as Vec3;
  return { min: ends('min'), max: ends('max') };
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
