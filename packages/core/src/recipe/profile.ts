/** Steps between the places at which the colour along a line is kept. */
export const STEPS = 64;
/** The same of a profile. */
export const ACROSS = 256;

/** What a line looks like across, from its left edge (0) to its right one (ACROSS). */
export interface Profile {
  /** Factor on its light. */
  readonly light: Float32Array;
  /** Share of the normal that leans to the right; up to the sine of 89°. */
  readonly tilt: Float32Array;
  /** What is left of the normal towards the viewer. */
  readonly up: Float32Array;
  /** Height, 0 at the card, 1 at the top. */
  readonly rise: Float32Array;
}

/** Sine of 89°: a steeper normal never leaves. */
const STEEPEST = 0.9998476951563913;

/** @param of - Of a place across, −1 to 1. */
function profile(of: (t: number) => { light?: number; tilt: number; rise: number }): Profile {
  const places = Array.from({ length: ACROSS + 1 }, (_, k) => of((2 * k) / ACROSS - 1));
  const tilt = Float32Array.from(places, (p) => Math.min(STEEPEST, Math.max(-STEEPEST, p.tilt)));
  return {
    light: Float32Array.from(places, (p) => p.light ?? 1),
    tilt,
    up: tilt.map((v) => Math.sqrt(1 - v * v)),
    rise: Float32Array.from(places, (p) => p.rise),
  };
}

export const FLAT = profile(() => ({ tilt: 0, rise: 1 }));

/** A wire or rod that is half sunk into the card: the normal of a cylinder. */
export const HALF_ROUND = profile((t) => ({
  tilt: t,
  rise: Math.sqrt(Math.max(0, 1 - t * t)),
  light: 0.62 + 0.38 * Math.sqrt(Math.max(0, 1 - t * t)),
}));

/**
 * A blade folded along its middle.
 *
 * @param fold - Height of its edges over its middle, in half widths; 0 is flat.
 * @param midrib - By how much the middle is lighter.
 */
export function bladeProfile(fold: number, midrib: number): Profile {
  const slope = fold / Math.sqrt(1 + fold * fold);
  return profile((t) => {
    const away = Math.abs(t);
    const ease = Math.min(1, away * 6); // the fold is a small round, not a crease
    const rib = Math.max(0, 1 - away / 0.14);
    return { tilt: -Math.sign(t) * slope * ease, rise: away, light: (t < 0 ? 1 : 1 - 0.22 * fold) + midrib * rib };
  });
}
