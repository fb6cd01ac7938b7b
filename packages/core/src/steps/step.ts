import type { Allocate, Mask, Picture } from '../raster/raster.ts';

/** What stands between two steps of a run. The alpha of `colour` is the source's own; the mask is apart. */
export interface RunState {
  readonly colour: Picture;
  readonly mask: Mask;
}

/** A place that a step points at, in texels of the picture it ran on. */
export interface Place {
  x: number;
  y: number;
  width: number;
  height: number;
  texels: number;
  /** A texel that belongs to it: by this it is told apart from others. */
  at: readonly [x: number, y: number];
}

/** What a step found, for a person to look at: how many places, their texels in all, and the largest of them. */
export interface Found {
  count: number;
  texels: number;
  places: Place[];
}

/** What a step makes. */
export interface Applied extends RunState {
  readonly found?: Found;
  /** What a person should know of it, one sentence. */
  readonly says?: string;
}

/** Limits of a number that a person sets, and how it is set. Said once: the schema and the tray read them. */
export interface Range {
  readonly min: number;
  readonly max: number;
  /** Of the slider. */
  readonly step?: number;
  /** After the point. */
  readonly digits?: number;
  readonly unit?: 'texels' | 'degrees';
  readonly logarithmic?: boolean;
}

export type NumberKeys<P> = { [K in keyof P]: P[K] extends number ? K : never }[keyof P] & string;

/** What a step may ask of its host. */
export interface StepEnv {
  /** Texels here to one texel of the full size: 1, or less where the run is computed at view size. */
  readonly scale: number;
  /** A source of the piece as 8-bit RGBA. Throws {@link SieveError} `missing-source`. */
  source(id: string): Picture;
  /** Where a source lies on the first one, in texels of the full size; null where it has no place. */
  placeOf(id: string): { x: number; y: number } | null;
  /** The mask after an earlier step of the run. Throws {@link SieveError} `missing-step`. */
  maskAfter(stepId: string): Mask;
  /**
   * What comes into the step, with these strokes on top. The host may write the same memory each time. Throws
   * {@link SieveError} `missing-strokes`, and `missing-source` without the picture of a brush's tip.
   */
  paintStrokes(ids: readonly string[]): Mask;
  allocate: Allocate;
  /** Tells how far it is, 0–1; the host may cancel by throwing. For work that does not go row by row. */
  checkpoint(share: number): void;
  /** Calls `work` for bands of rows from top to bottom; between bands the host may cancel by throwing. */
  bands(height: number, work: (fromRow: number, toRow: number) => void): void;
}

/** Mask steps come first in a run, then colour steps. */
export type Stretch = 'mask' | 'colour';

/** One kind of step: its name, its parameters with their defaults, and one pure function. */
export interface StepKind<P> {
  readonly stretch: Stretch;
  readonly label: string;
  /** What it does to the picture, one sentence. */
  readonly hint: string;
  readonly defaults: P;
  readonly ranges: { readonly [K in NumberKeys<P>]: Range };
  /** True where the step makes a mask from a source, whatever the mask was before. */
  readonly pullsMask: boolean;
  /** Ids of the sources it reads. */
  sourcesOf(params: P): string[];
  /** Ids of the earlier steps whose masks it reads. */
  stepsOf?(params: P): string[];
  /** Never writes into its input. Throws {@link SieveError}. */
  apply(state: RunState, params: P, env: StepEnv): Applied;
}
