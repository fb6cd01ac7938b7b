import type { NumberKeys, Range } from '../math/range.ts';
import type { Place } from '../mask/regions.ts';
import type { MapName } from '../raster/maps.ts';
import type { Mask, Picture, Raster } from '../raster/raster.ts';
import type { RunState } from '../raster/run-state.ts';
import type { Work } from '../raster/work.ts';
import type { Purpose, Stretch } from './stretches.ts';

/** What a step found, for a person to look at: how many places, their texels in all, and the largest of them. */
export interface Found {
  count: number;
  texels: number;
  places: Place[];
}

/** Something that a step found odd in what it read, in plain words, and what would set it right. */
export interface Doubt {
  id: string;
  text: string;
  remedy?: { label: string; params: object };
}

/** What a step changes of the state; what it leaves out stays as it was. */
export interface Applied extends Partial<RunState> {
  readonly found?: Found;
  /** What a person should know of it, one sentence. */
  readonly notice?: string;
  readonly doubt?: Doubt;
  /** The mask lies in memory that the step will write again: it is not to be kept beyond this run. */
  readonly transient?: true;
}

/** What a step may ask of its host. */
export interface StepEnv extends Work {
  /** A source of the piece as 8-bit RGBA. Throws {@link SieveError} `missing-source`. */
  source(id: string): Picture;
  /**
   * A picture that is read as values (a mask, heights). At view size a source was shrunk as values for this, not as
   * light; every other picture comes back as it is.
   */
  asData(picture: Picture): Picture;
  /** The same source with 16 bits a sample, where its file has them and this is the full size; else null. */
  deepSource(id: string): Raster<Uint16Array> | null;
  /** Whether a fit is wanted soon rather than sharp. */
  readonly draft: boolean;
  /** Which version of the step is wanted. */
  readonly version: number;
  /** Millimetres that a texel here is wide on the card. */
  readonly texelMm: number;
  /** Where a source lies on the first one, in texels of the full size; null where it has no place. */
  placeOf(id: string): { x: number; y: number } | null;
  /** The mask after an earlier step of the run. Throws {@link SieveError} `missing-step`. */
  maskAfter(stepId: string): Mask;
  /**
   * What comes into the step, or `onto`, with these strokes on top. The host may write the same memory each time.
   * Throws {@link SieveError} `missing-strokes`, and `missing-source` without the picture of a brush's tip.
   */
  paintStrokes(ids: readonly string[], onto?: Mask): Mask;
}

/** Sides in texels. */
export interface Sized {
  width: number;
  height: number;
}

/** A source that a step reads. */
export interface SourceRead {
  id: string;
  /** Light, or values. */
  as: 'colour' | 'data';
  /** What the step does where the source is of another size than the colour picture and has no place on it. */
  otherSize: 'refused' | 'scaled' | 'placed';
}

/** One kind of step: its name, its parameters with their defaults, and one pure function. */
export interface StepKind<P> {
  readonly stretch: Stretch;
  readonly purpose: Purpose;
  /** Without this it can do nothing. */
  readonly needs?: 'a second source' | 'an earlier step';
  readonly label: string;
  /** What it does to the picture, one sentence. */
  readonly hint: string;
  readonly defaults: P;
  /** The newest, where there is more than one: a run that was made with an earlier one keeps its texels. */
  readonly version?: number;
  /** What the newest does better than the one before. */
  readonly better?: string;
  readonly ranges: { readonly [K in NumberKeys<P>]: Range };
  /** The map that it makes, where it makes one beside colour and mask. */
  readonly makes?: MapName;
  /** Whether it measures in millimetres, so that its result depends on the size of the card. */
  readonly inMillimetres?: true;
  /** True where the step makes a mask from a source, whatever the mask was before. */
  readonly pullsMask: boolean;
  /** Whether each texel out depends on the texels in the same place alone; left out: never. */
  pointwise?(params: P): boolean;
  /** The sources it reads beside the colour picture; none where it is left out. */
  reads?(params: P): SourceRead[];
  /** Ids of the earlier steps whose masks it reads. */
  stepsOf?(params: P): string[];
  /**
   * Sides of the texture that it makes at the most, where it makes one of another size: reckoned before it is computed.
   *
   * @param before - In texels of the full size; `perMetre` of them to a metre of the card.
   */
  sizeAtMost?(before: Sized & { perMetre: number }, params: P): Sized;
  /** Never writes into its input. Throws {@link SieveError}. */
  apply(state: RunState, params: P, env: StepEnv): Applied;
}
