import { LINEAR_OF_BYTE } from '../colour/srgb.ts';

/** In which values a subject and its backdrop were mixed: light adds up linearly, painted pictures often in encoded values. */
export const MIXED_INS = ['found', 'linear light', 'encoded values'] as const;
export type MixedIn = (typeof MIXED_INS)[number];
export type Mixing = Exclude<MixedIn, 'found'>;

/** What a byte counts in them, 0–255. */
export const MIXED_VALUES: Record<Mixing, Float64Array> = {
  'linear light': LINEAR_OF_BYTE.map((v) => 255 * v),
  'encoded values': Float64Array.from({ length: 256 }, (_, v) => v),
};

/** What mixed it, and a sentence about how that was found. */
export interface FoundMixing {
  mixed: Mixing;
  notice: string;
}

/** Difference of subject and backdrop in a channel from which it says something of alpha. */
const CONTRAST = 24;
/** Alpha between these is mixed enough to say something. */
const LEAST_ALPHA = 0.12;
const MOST_ALPHA = 0.88;
const LEAST_LOOKED = 24;
/** Less than this is rounding. */
const LEAST_APART = 0.004;
/** The channels have to agree, or the mask that is there has to fit, so many times better in one than in the other; */
const CLEARLY = 1.5;
/** grain alone makes this of a grey subject; */
const A_LITTLE = 1.15;
/** or else its alphas have to lie so much nearer to even, */
const EVEN = 0.02;
/** where at least so many texels of those between lie beyond either end. */
const ENDS = 0.2;

/**
 * Finds out in which values fringe texels were mixed. In the right ones the alphas that the three channels give agree, and
 * edges that cross texels anywhere leave as many alphas above one half as below (geometry of area coverage).
 */
export class MixingSearch {
  private readonly sums = { 'linear light': tally(), 'encoded values': tally() };

  /**
   * @param i - Texel of each picture: the mixed one, the subject's own colour, the backdrop; RGBA bytes.
   * @param known - Its alpha, 0–1, where that is known.
   */
  look(colour: Uint8Array, i: number, front: Uint8Array, f: number, back: Uint8Array, b: number, known = NaN): void {
    for (const mixed of ['linear light', 'encoded values'] as const) {
      const values = MIXED_VALUES[mixed];
      const sums = this.sums[mixed];
      let [dot, length, count, total] = [0, 0, 0, 0];
      const alphas = [0, 0, 0];
      for (let c = 0; c < 3; c++) {
        const apart = values[front[4 * f + c]] - values[back[4 * b + c]];
        const seen = values[colour[4 * i + c]] - values[back[4 * b + c]];
        dot += apart * seen;
        length += apart * apart;
        if (apart < CONTRAST && apart > -CONTRAST) continue;
        alphas[count++] = seen / apart;
        total += seen / apart;
      }
      if (length < CONTRAST * CONTRAST) continue;
      const alpha = dot / length;
      if (alpha <= 0.1) sums.below++;
      else if (alpha >= 0.9) sums.above++;
      else {
        sums.even += alpha;
        sums.off += Math.abs(alpha - known);
        sums.texels++;
      }
      if (count < 2 || alpha < LEAST_ALPHA || alpha > MOST_ALPHA) continue;
      for (let k = 0; k < count; k++) sums.apart += Math.abs(alphas[k] - total / count) / count;
      sums.compared++;
    }
  }

  found(): FoundMixing {
    const { 'linear light': light, 'encoded values': encoded } = this.sums;
    if (Math.min(light.texels, encoded.texels) < LEAST_LOOKED)
      return {
        mixed: 'encoded values',
        notice: 'Too few half-covered texels to find out how they were blended: taken as sRGB values.',
      };
    const compared = Math.min(light.compared, encoded.compared) >= LEAST_LOOKED;
    const apart = compared ? [light.apart / light.compared, encoded.apart / encoded.compared] : [0, 0];
    const off = [light.off / light.texels, encoded.off / encoded.texels];
    const uneven = [light, encoded].map((t) => Math.abs(t.even / t.texels - 0.5));
    const agree = ([p, q]: number[]) =>
      `the channels agree within ${percent(Math.min(p, q))}, otherwise within ${percent(Math.max(p, q))}`;
    if (isClear(apart, CLEARLY)) return say(apart, agree(apart));
    if (isClear(off, CLEARLY))
      return say(
        off,
        `colours fit the mask within ${percent(Math.min(...off))}, otherwise within ${percent(Math.max(...off))}`,
      );
    // of an edge softer than the band that is looked at only a part is seen, and that part may happen to be even
    const wholly = [light, encoded].every((t) => Math.min(t.below, t.above) > ENDS * t.texels);
    if (wholly && Math.abs(uneven[0] - uneven[1]) > EVEN)
      return say(uneven, 'only so edges are as often more than half covered as less');
    if (isClear(apart, A_LITTLE)) return say(apart, agree(apart));
    return { mixed: 'encoded values', notice: 'The fringe does not say how it was blended: taken as sRGB values.' };
  }
}

const tally = () => ({ below: 0, above: 0, off: 0, apart: 0, compared: 0, even: 0, texels: 0 });
const percent = (v: number) => `${(100 * v).toFixed(1)} %`;

/** @param amounts - Of light, and of encoded values: the smaller one is right. */
const isClear = ([a, b]: number[], times: number) => Math.max(a, b) > Math.max(LEAST_APART, times * Math.min(a, b));

function say([light, encoded]: number[], why: string): FoundMixing {
  const mixed = light < encoded ? 'linear light' : 'encoded values';
  return { mixed, notice: `Blended ${mixed === 'linear light' ? 'as light' : 'as sRGB values'}: ${why}.` };
}
