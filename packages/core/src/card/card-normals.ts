import type { Vec3 } from '../math/vector.ts';
import type { SurfaceMesh } from './surface-mesh.ts';

export const NORMAL_KINDS = ['sphere', 'hull', 'upwards'] as const;

/** Normals that are bent away from the surface: foliage is lit as one soft body instead of as so many cards. */
export interface CardNormals {
  /**
   * sphere: away from the middle of all cards; hull: as the ellipsoid that just holds them has them; upwards: as the
   * ground has them. For flat cards the middle lies as far behind each place as half of their longest side.
   */
  kind: (typeof NORMAL_KINDS)[number];
  /** How far they are bent there, 0–1. */
  share: number;
}

export const CARD_NORMALS: CardNormals = { kind: 'sphere', share: 0.7 };

/** The same triangles, lit otherwise; fronts and backs are bent outwards alike. */
export function withNormals(mesh: SurfaceMesh, { kind, share }: CardNormals): SurfaceMesh {
  if (share === 0 || mesh.positions.length === 0) return mesh;
  const outwards = OUTWARDS[kind](mesh.positions);
  const normals = new Float32Array(mesh.normals.length);
  for (let i = 0; i < normals.length; i += 3) {
    const own: Vec3 = [mesh.normals[i], mesh.normals[i + 1], mesh.normals[i + 2]];
    const out = outwards([mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]], own);
    const bent = unit(own.map((v, k) => (1 - share) * v + share * out[k]) as unknown as Vec3);
    normals.set(bent ?? own, i); // where both cancel out, as the surface has it
  }
  return { ...mesh, normals };
}

/** Directions of length 1. */
const OUTWARDS: Record<CardNormals['kind'], (positions: Float32Array) => (at: Vec3, own: Vec3) => Vec3> = {
  sphere(positions) {
    const { middle, half } = boxOf(positions);
    const depth = Math.max(...half);
    return (at, own) => unit(at.map((v, k) => v - middle[k] + depth * own[k]) as unknown as Vec3) ?? own;
  },
  hull(positions) {
    const { middle, half } = boxOf(positions);
    const depth = Math.max(...half);
    // no axis so short that its direction is all there is
    const squares = half.map((v) => Math.max(v, 0.05 * depth) ** 2);
    return (at, own) =>
      unit(at.map((v, k) => ((v - middle[k]) * depth) / squares[k] + own[k]) as unknown as Vec3) ?? own;
  },
  upwards: () => () => [0, 1, 0],
};

function boxOf(positions: Float32Array): { middle: Vec3; half: Vec3 } {
  const [least, most] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let i = 0; i < positions.length; i++) {
    least[i % 3] = Math.min(least[i % 3], positions[i]);
    most[i % 3] = Math.max(most[i % 3], positions[i]);
  }
  const at = (f: (a: number, b: number) => number) => least.map((v, k) => f(v, most[k])) as unknown as Vec3;
  return { middle: at((a, b) => (a + b) / 2), half: at((a, b) => (b - a) / 2) };
}

function unit(way: Vec3): Vec3 | null {
  const length = Math.hypot(...way);
  return length > 1e-6 ? [way[0] / length, way[1] / length, way[2] / length] : null;
}
