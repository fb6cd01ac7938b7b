/**
 * The alpha from which a fragment is kept in the hashed alpha test: as good as random, but the same wherever the same point
 * of the surface is seen at about the same size. C. Wyman, M. McGuire, "Hashed Alpha Testing", I3D 2017 (their listing,
 * (mem)), with a hash in whole numbers, so that every processor finds the same.
 *
 * @param pixel - How far a pixel goes on the surface, in the unit of places on it.
 * @returns of a point of the surface, 10⁻⁶–1, evenly distributed.
 */
export function hashedThresholds(pixel: number): (x: number, y: number) => number {
  const level = Math.log2(1 / pixel);
  const low = Math.floor(level);
  const [coarse, fine] = [2 ** low, 2 ** Math.ceil(level)];
  const blend = level - low;
  const a = Math.min(blend, 1 - blend);
  return (x, y) => {
    const first = hash(Math.floor(coarse * x), Math.floor(coarse * y));
    const mixed = blend === 0 ? first : (1 - blend) * first + blend * hash(Math.floor(fine * x), Math.floor(fine * y));
    return Math.min(1, Math.max(1e-6, evenly(mixed, a)));
  };
}

/** The mean of two random numbers with weights a and 1 − a is no longer evenly distributed: its cumulative distribution is. */
function evenly(x: number, a: number): number {
  if (x >= 1 - a) return 1 - ((1 - x) * (1 - x)) / (2 * a * (1 - a));
  return x < a ? (x * x) / (2 * a * (1 - a)) : (x - 0.5 * a) / (1 - a);
}

/** 0–1. PCG, as M. Jarzynski and M. Olano, "Hash Functions for GPU Rendering", JCGT 9(3), 2020 have it (mem). */
function hash(x: number, y: number): number {
  return pcg((x + pcg(y)) >>> 0) / 2 ** 32;
}

function pcg(v: number): number {
  const state = (Math.imul(v, 747796405) + 2891336453) >>> 0;
  const word = Math.imul((state >>> ((state >>> 28) + 4)) ^ state, 277803737) >>> 0;
  return ((word >>> 22) ^ word) >>> 0;
}
