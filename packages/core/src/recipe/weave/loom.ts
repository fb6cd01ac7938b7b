import { oklabFromBytes } from '../../colour/oklab.ts';
import type { Rgb } from '../../colour/srgb.ts';
import { SieveError } from '../../errors.ts';
import { chance } from '../../math/chance.ts';
import type { Profile } from '../profile.ts';
import type { LinePoint, Scene, Surface } from '../scene.ts';
import { alongOf, drifted, mixed, type TintSwing } from '../tints.ts';
import { catenary } from './catenary.ts';

/** x and y of four places. */
export type NetCorners = readonly [number, number, number, number, number, number, number, number];
export const CORNERS: NetCorners = [0, 0, 1, 0, 1, 1, 0, 1];

/** Measures of a weave, whatever its pattern. */
export interface LoomParams extends TintSwing {
  /** Width of the card, millimetres. */
  across: number;
  /** From the middle of one thread, plank or hole to that of the next, millimetres. */
  pitch: number;
  /** How thick a thread, rod or plank is, or how wide a hole is, millimetres. */
  thick: number;
  /** How long a slot or a knot of a net is; in wattle how thick its posts are; millimetres. */
  long: number;
  /** How uneven places and thicknesses are. */
  uneven: number;
  /** How far the middle of the card hangs below its sides, as a share of its width; framed ones alone. */
  sag: number;
  /** Whether the card repeats: pitches are rounded so that whole repeats fit. */
  seamless: boolean;
  /** Share of threads that are torn, or of planks that are broken. */
  torn: number;
  /** Where its corners hang, shares of the card: top left, top right, bottom right, bottom left; framed ones alone. */
  corners?: NetCorners | undefined;
  /** Torn holes of a cloth and how wide they are, millimetres; and how far its hem is frayed, a share of its height. */
  holes?: number | undefined;
  holeSize?: number | undefined;
  fray?: number | undefined;
  colour: Rgb;
  otherColour: Rgb;
  /** Rust, moss or dirt that creeps up from below: its colour, how far up, and how much. */
  weather: Rgb;
  weatherTo: number;
  weathered: number;
}

/** Shapes that a weave may come to: more take minutes. */
const MOST_CROSSINGS = 400_000;

/** What every pattern is made with: measures in widths of the card, random numbers, surfaces. */
export class Loom {
  private groups = 0;
  private readonly hang: (place: number) => number;

  constructor(
    readonly scene: Scene,
    readonly params: LoomParams,
    private readonly seed: number,
    /** Height of the card in its widths. */
    readonly ratio: number,
    /** Version of the recipe. */
    readonly version: number,
  ) {
    this.hang = params.seamless ? () => 0 : catenary(params.sag);
  }

  /** Millimetres in widths of the card. */
  of(mm: number): number {
    return mm / this.params.across;
  }

  /**
   * How many repeats of about a pitch lie along a length, and the pitch that they have then: rounded to whole ones, of
   * which `every` make a repeat, where the card repeats.
   *
   * @throws {@link SieveError} `too-large` for more than can be drawn.
   */
  repeats(length: number, pitch: number, every = 1): { count: number; pitch: number } {
    if (length / pitch > 20_000) throw tooMany();
    if (!this.params.seamless) return { count: Math.ceil(length / pitch - 1e-9), pitch };
    const count = Math.max(1, Math.round(length / pitch / every)) * every;
    return { count, pitch: length / count };
  }

  /** @throws {@link SieveError} `too-large` where crossings, and copies of threads that are wider than the card, are too many. */
  assertFew(crossings: number): void {
    if (crossings > MOST_CROSSINGS) throw tooMany();
    const { seamless, thick } = this.params;
    const wide = this.of(thick);
    const copies = seamless ? Math.floor(1 + wide) * Math.floor(1 + wide / this.ratio) : 1;
    if (copies > 1 && crossings * copies > MOST_CROSSINGS) throw tooThick();
  }

  /** A random number in [−1, 1) of a place of the pattern, times how uneven the weave is. */
  uneven(what: number, i: number, j = 0): number {
    return this.params.uneven * (2 * this.draw(what, i, j) - 1);
  }

  draw(what: number, i: number, j = 0): number {
    return chance(this.seed ^ Math.imul(what + 1, 0x27d4eb2f), Math.imul(i + 4096, 8191) + j + 4096);
  }

  nextGroup(): number {
    return this.groups++;
  }

  /** How far a place of the card hangs, widths. */
  sagAt(x: number): number {
    return this.hang(Math.min(1, Math.max(0, x)));
  }

  /** Surface of the thread, plank or rod with a number: its drifted colour, and what has crept up from below. */
  surface(number: number, profile: Profile, fromY: number, toY: number, relief = 0.3): Surface {
    const { colour, otherColour, weather, weatherTo, weathered } = this.params;
    const own = drifted(
      colour,
      otherColour,
      this.params,
      [0, 1, 2].map((k) => this.draw(40 + k, number)),
    );
    const moss = oklabFromBytes(...weather);
    const patchy = 0.7 + 0.6 * this.draw(43, number);
    return {
      along: alongOf((place) => {
        const up = 1 - (fromY + (toY - fromY) * place) / this.ratio;
        const share = weatherTo > 0 ? Math.max(0, 1 - up / (weatherTo * patchy)) : 0;
        return mixed(own, moss, Math.min(1, weathered * share * 1.5));
      }),
      profile,
      translucency: 0.15,
      relief,
      id: 1 + Math.floor(255 * this.draw(44, number)),
    };
  }

  /** Where a place comes to by the corners that the weave hangs from: between them it is stretched evenly. */
  hung(x: number, y: number): { x: number; y: number } {
    const { corners, seamless } = this.params;
    if (!corners || seamless) return { x, y };
    const down = y / this.ratio;
    const at = (axis: 0 | 1) => {
      const [a, b, c, d] = [corners[axis], corners[2 + axis], corners[4 + axis], corners[6 + axis]];
      return (a + (b - a) * x) * (1 - down) + (d + (c - d) * x) * down;
    };
    return { x: at(0), y: at(1) * this.ratio };
  }

  /** A line, drawn again beyond the border that it crosses where the card repeats. */
  line(points: readonly LinePoint[], surface: Surface, z: number, part?: Parameters<Scene['line']>[3]): void {
    for (const [dx, dy] of this.copies(points)) {
      const moved = points.map((p) => {
        const { x, y } = this.hung(p.x + dx, p.y + dy + this.sagAt(p.x));
        return { x, y, half: p.half, lift: p.lift }; // spread it would be read ten times slower
      });
      this.scene.line(moved, surface, z, part);
    }
  }

  disc(x: number, y: number, radius: number, surface: Surface | null, z: number): void {
    for (const [dx, dy] of this.copies([{ x, y, half: radius }])) {
      const at = this.hung(x + dx, y + dy + this.sagAt(x));
      this.scene.disc(at.x, at.y, radius, surface, z);
    }
  }

  plate(corners: readonly (readonly [number, number])[], surface: Surface | null, z: number): void {
    for (const [dx, dy] of this.copies(corners.map(([x, y]) => ({ x, y, half: 0 })))) {
      const moved = corners.map(([x, y]) => {
        const at = this.hung(x + dx, y + dy + this.sagAt(x));
        return [at.x, at.y] as const;
      });
      this.scene.plate(moved, surface, z);
    }
  }

  /** How often a shape is drawn: where the card repeats, once for each whole repeat at which any of it lies on the card. */
  private copies(points: readonly { x: number; y: number; half: number }[]): readonly (readonly [number, number])[] {
    if (!this.params.seamless) return ONCE;
    let half = 0;
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const p of points) {
      half = Math.max(half, p.half);
      left = Math.min(left, p.x);
      right = Math.max(right, p.x);
      top = Math.min(top, p.y);
      bottom = Math.max(bottom, p.y);
    }
    const first = (high: number, size: number) => Math.ceil((-high - half) / size);
    const last = (low: number, size: number) => Math.floor((size - low + half) / size);
    const [fromX, toX] = [first(right, 1), last(left, 1)];
    const [fromY, toY] = [first(bottom, this.ratio), last(top, this.ratio)];
    if (fromX === 0 && toX === 0 && fromY === 0 && toY === 0) return ONCE;
    const out: [number, number][] = [];
    for (let i = fromX; i <= toX; i++) for (let j = fromY; j <= toY; j++) out.push([i, j * this.ratio]);
    return out;
  }
}

const ONCE = [[0, 0]] as const;

function tooThick(): SieveError {
  return new SieveError(
    'too-large',
    'Threads so much wider than the card lie over it too many times where it repeats.',
    'Choose a smaller thickness, a larger width of the card, or one that does not repeat.',
  );
}

function tooMany(): SieveError {
  return new SieveError(
    'too-large',
    'So fine a weave has more crossings than can be drawn.',
    'Choose a larger pitch, or a smaller width of the card.',
  );
}
