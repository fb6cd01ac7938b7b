import type { Oklab } from '../colour/oklab.ts';
import type { NumberKeys, Range } from '../math/range.ts';
import type { RecipePart } from './part.ts';
import type { Scene } from './scene.ts';
import type { Stamp } from './stamp.ts';
import type { WorkMeter } from './work-meter.ts';

/** What a scene is drawn into. */
export interface RecipeFrame {
  /** Height of the card over its width. */
  ratio: number;
  /** Texels in full. */
  width: number;
  /** Its parts, and their pictures. */
  parts: readonly RecipePart[];
  stamps: readonly Stamp[];
  /** Whether it is wanted soon rather than fine: lines of fewer pieces, at the same places. */
  draft: boolean;
  /** Version of the recipe: an earlier one is drawn as it was. */
  version: number;
  /** What its scene comes to. */
  meter: WorkMeter;
}

/** A kind of recipe. A new one is a file with this, an entry in {@link RECIPE_KINDS}, a schema and a tray. */
export interface RecipeKind<P> {
  label: string;
  hint: string;
  /** The newest; earlier ones can still be drawn. */
  version: number;
  /** What the newest does better than the one before. */
  better?: string;
  /** Parameters of the version before as the newest one takes them, to look as alike as can be; without it, the same. */
  upgraded?(params: P): P;
  defaults: P;
  ranges: Partial<Record<NumberKeys<P>, Range>>;
  /** Numbers that came later: recipes written before lack them, and keep their keys. */
  optional?: readonly string[];
  /** Colour under what is not covered. */
  ground(params: P): Oklab;
  scene(params: P, seed: number, frame: RecipeFrame): Scene;
  /** About how many shapes its scene has at the most. @param ratio - Height of the card over its width. */
  shapes(params: P, ratio: number): number;
  /** How many times as fine it is drawn before it is averaged, on a picture of these sides; without it, once. */
  finer?(params: P, size: { width: number; height: number }, version: number): number;
  /** How many parts it takes; without it, none. */
  mostParts?: number;
  /** How many times its own size a part is drawn at the most, on a card of so many texels across. */
  enlarged?(params: P, parts: readonly RecipePart[], width: number, ratio: number): number;
}
