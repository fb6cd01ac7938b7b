import type { LightSample } from './shadowed';

/** One of the pictures that are summed up. */
export interface OneOfMany {
  light: LightSample;
  /** Whether the light comes from the same place as in the picture before. */
  sameShadow: boolean;
  /** Where in a pixel, 0 to 1. */
  pixel: readonly [number, number];
  /** By how many the sum is divided, where it can be shown after this one. */
  done: number | null;
}

/** Of the sky there is one picture for so many of the sun. */
export const SUNS_PER_SKY = 2;
/** From one place of the sun's disc. */
const PER_PLACE = 2;
/** Fewer are not shown: each direction of the sky would be seen as a shadow of its own. */
const FIRST_SHOWN = 16;

/** Pictures for so many samples of the sun, even, and 16 or more, or none. */
export function* picturesOf(samples: number): Generator<OneOfMany> {
  for (let i = 0; i < samples; i++) {
    const [pixel, place] = [spread(i, 0.5), Math.floor(i / PER_PLACE)];
    if (i % SUNS_PER_SKY === 0)
      yield { light: { of: 'sky', at: spread(i / SUNS_PER_SKY, 0.25) }, sameShadow: false, pixel, done: null };
    const isShown = i % SUNS_PER_SKY === SUNS_PER_SKY - 1 && i + 1 >= FIRST_SHOWN;
    const sameShadow = i % PER_PLACE > 0;
    yield { light: { of: 'sun', at: spread(place, 0) }, sameShadow, pixel, done: isShown ? i + 1 : null };
  }
}

/** The k-th of points that cover a square evenly, however many there are: M. Roberts, "The Unreasonable Effectiveness of Quasirandom Sequences", 2018. */
export function spread(k: number, start: number): [number, number] {
  return [(start + (k + 1) * 0.7548776662466927) % 1, (start + (k + 1) * 0.5698402909980532) % 1];
}

const LEAST_SEEN = 256;
const MOST_SEEN = 1024;

/** As many samples as a pixel takes that is so many texels wide: 64 a texel, within limits. */
export function samplesToSee(texels: number): number {
  const wanted = LEAST_SEEN * 4 ** Math.ceil(Math.log2(Math.max(1, texels)));
  return Math.min(MOST_SEEN, Math.max(LEAST_SEEN, wanted));
}
