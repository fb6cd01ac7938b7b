import type { Allocate, Mask, Picture } from '../raster/raster.ts';

/** What stands between two steps of a run. The alpha of `colour` is the source's own; the mask is apart. */
export interface RunState {
  readonly colour: Picture;
  readonly mask: Mask;
}

/** What a step may ask of its host. */
export interface StepEnv {
  /** A source of the piece as 8-bit RGBA. Throws {@link SieveError} `missing-source`. */
  source(id: string): Picture;
  allocate: Allocate;
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
  /** True where the step makes a mask from a source, whatever the mask was before. */
  readonly pullsMask: boolean;
  /** Ids of the sources it reads. */
  sourcesOf(params: P): string[];
  /** Never writes into its input. Throws {@link SieveError}. */
  apply(state: RunState, params: P, env: StepEnv): RunState;
}
