/** A place on the ground, to the right and to the front of the middle of the card, in metres or the unit of its width. */
export type GroundPlace = [x: number, z: number];

/** Places of a line, at most and at least. */
export const LINE_PLACES = { min: 2, max: 64 } as const;
/** Metres from the middle of the card, to each side. */
export const LINE_REACH = 100;

/** Where a line is, and the direction that it goes there, of length 1. */
export interface OnLine {
  x: number;
  z: number;
  way: GroundPlace;
}

/** Straight pieces that a curve between two places is followed by. */
const PIECES = 24;

/**
 * A curve through places, in short straight pieces: Catmull–Rom by the square roots of distances, which makes neither
 * loops nor cusps between two places (Yuksel, Schaefer, Keyser, "Parameterization and applications of Catmull–Rom curves",
 * 2011). Two places are joined straight.
 */
export function curveThrough(places: readonly GroundPlace[]): GroundPlace[] {
  const own = places.filter((p, i) => i === 0 || far(p, places[i - 1]) > 0);
  if (own.length < 3) return own;
  // beyond its ends it goes on as its first and last pieces lie
  const ends = (a: GroundPlace, b: GroundPlace): GroundPlace => [2 * a[0] - b[0], 2 * a[1] - b[1]];
  const all = [ends(own[0], own[1]), ...own, ends(own.at(-1)!, own.at(-2)!)];
  const out: GroundPlace[] = [own[0]];
  for (let i = 1; i + 2 < all.length; i++) {
    const [a, b, c, d] = all.slice(i - 1, i + 3);
    const t1 = Math.sqrt(far(a, b));
    const t2 = t1 + Math.sqrt(far(b, c));
    const t3 = t2 + Math.sqrt(far(c, d));
    for (let k = 1; k < PIECES; k++) {
      const t = t1 + ((t2 - t1) * k) / PIECES;
      // Barry and Goldman's pyramid
      const ab = between(a, b, t / t1);
      const bc = between(b, c, (t - t1) / (t2 - t1));
      const cd = between(c, d, (t - t2) / (t3 - t2));
      out.push(between(between(ab, bc, t / t2), between(bc, cd, (t - t1) / (t3 - t1)), (t - t1) / (t2 - t1)));
    }
    out.push(c);
  }
  return out;
}

/** Of the curve through places. */
export function lineLength(places: readonly GroundPlace[]): number {
  const curve = curveThrough(places);
  return curve.reduce((sum, p, i) => (i === 0 ? 0 : sum + far(curve[i - 1], p)), 0);
}

/** So many places of the curve, evenly along it: each in the middle of its share. */
export function alongLine(places: readonly GroundPlace[], count: number): OnLine[] {
  const curve = curveThrough(places);
  const ends = [0];
  for (let i = 1; i < curve.length; i++) ends.push(ends[i - 1] + far(curve[i - 1], curve[i]));
  const length = ends.at(-1)!;
  let piece = 0;
  return Array.from({ length: count }, (_, k) => {
    const at = (length * (k + 0.5)) / count;
    while (piece + 2 < ends.length && ends[piece + 1] < at) piece++;
    const [p, q] = [curve[piece], curve[piece + 1]];
    if (!q) return { x: p[0], z: p[1], way: [1, 0] }; // all in one place
    const long = ends[piece + 1] - ends[piece];
    const [x, z] = between(p, q, (at - ends[piece]) / long);
    return { x, z, way: [(q[0] - p[0]) / long, (q[1] - p[1]) / long] };
  });
}

const between = (p: GroundPlace, q: GroundPlace, t: number): GroundPlace => [
  p[0] + (q[0] - p[0]) * t,
  p[1] + (q[1] - p[1]) * t,
];

const far = (p: GroundPlace, q: GroundPlace): number => Math.sqrt((p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2);
