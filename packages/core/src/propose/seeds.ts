import { makeStep } from '../piece/piece-doc.ts';
import type { TexelAt } from '../mask/connected.ts';
import type { Scribble } from '../steps/from-strokes.ts';
import type { Candidate } from './candidates.ts';
import type { SmallPicture } from './small-picture.ts';

/** Places a side at the most. */
const SEEDS = 24;
/** Of these, points that are touched. */
const TOUCHES = 8;

/** Places where it is surest what is kept and what is dropped, in texels of the full size. */
export interface Seeds {
  keep: TexelAt[];
  drop: TexelAt[];
  /** Half width of a scribble. */
  radius: number;
}

/** @param sure - How sure each texel of the small picture is to be kept, 0–1. @returns null where one side has next to none. */
export function seedsOf(small: SmallPicture, sure: Float32Array): Seeds | null {
  const { picture: { width, height }, factor } = small; // prettier-ignore
  const radius = Math.max(1, Math.round(0.008 * Math.min(width, height)));
  const whole = ([x, y]: TexelAt): TexelAt => [Math.round((x + 0.5) * factor), Math.round((y + 0.5) * factor)];
  const seeds = (is: (v: number) => boolean) =>
    spread(insideOf(sure, width, height, is, radius), width, SEEDS).map(whole);
  const [keep, drop] = [seeds((v) => v > 0.75), seeds((v) => v < 0.2)];
  return keep.length < 2 || drop.length < 2 ? null : { keep, drop, radius: Math.max(1, radius * factor) };
}

/** The largest subject by scribbles where most candidates agree: kept in the middle of what they keep, dropped where they drop. */
export function fromSeeds(seeds: Seeds | null, makeId: () => string): Candidate[] {
  if (!seeds) return [];
  return [
    {
      family: 'seeds',
      steps: [makeStep(makeId(), 'from-strokes', { strokes: scribblesAt(seeds) })],
      reason: 'Scribbles where it is surest: they spread up to the edges of the picture.',
    },
  ];
}

export function scribblesAt({ keep, drop, radius }: Seeds): Scribble[] {
  const scribble = (effect: Scribble['effect']) => (at: TexelAt) => ({ effect, radius, at: [at] });
  return [...keep.map(scribble('keep')), ...drop.map(scribble('drop'))];
}

/** The same places as touches: of what is dropped, or of what is kept. */
export function fromTouches(seeds: Seeds | null, makeId: () => string): Candidate[] {
  if (!seeds) return [];
  const touch = (at: TexelAt[], take: 'keep it' | 'drop it', reason: string): Candidate => ({
    family: `touch, ${take}` as const,
    steps: [makeStep(makeId(), 'from-touch', { at: at.slice(0, TOUCHES), take })],
    reason,
  });
  return [
    touch(seeds.drop, 'drop it', 'What is like the places that are surely dropped, as far as it reaches.'),
    touch(seeds.keep, 'keep it', 'What is like the places that are surely kept, as far as it reaches.'),
  ];
}

/** Texels whose neighbours as far as `radius` are such, too. */
function insideOf(
  sure: Float32Array,
  width: number,
  height: number,
  is: (v: number) => boolean,
  radius: number,
): number[] {
  const out: number[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let all = true;
      for (let dy = -radius; dy <= radius && all; dy++) {
        for (let dx = -radius; dx <= radius; dx++) {
          const [u, v] = [Math.min(width - 1, Math.max(0, x + dx)), Math.min(height - 1, Math.max(0, y + dy))];
          if (!is(sure[v * width + u])) {
            all = false;
            break;
          }
        }
      }
      if (all) out.push(y * width + x);
    }
  }
  return out;
}

/** Texels as far from one another as there are (T. Gonzalez, 1985). */
function spread(texels: readonly number[], width: number, count: number): TexelAt[] {
  if (texels.length === 0) return [];
  const place = (i: number): TexelAt => [i % width, Math.floor(i / width)];
  const step = Math.max(1, Math.floor(texels.length / 4096));
  const some = texels.filter((_, n) => n % step === 0);
  const out = [place(some[some.length >> 1])];
  const least = new Float64Array(some.length).fill(Infinity);
  while (out.length < count) {
    const [lx, ly] = out[out.length - 1];
    let [far, best] = [0, 0];
    for (const [n, i] of some.entries()) {
      const [x, y] = place(i);
      least[n] = Math.min(least[n], (x - lx) ** 2 + (y - ly) ** 2);
      if (least[n] > best) [far, best] = [i, least[n]];
    }
    if (best < 9) break;
    out.push(place(far));
  }
  return out;
}
