/** A place or a direction in space. */
export type Vec3 = readonly [x: number, y: number, z: number];

export const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** The mean of three by weights. */
export function weighted(a: Vec3, b: Vec3, c: Vec3, [wa, wb, wc]: Vec3): Vec3 {
  return [0, 1, 2].map((i) => wa * a[i] + wb * b[i] + wc * c[i]) as unknown as Vec3;
}
