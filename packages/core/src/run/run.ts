import type { PlainError, SieveErrorCode } from '../errors.ts';
import type { SourcePlace } from '../piece/piece-doc.ts';
import type { MapName } from '../raster/maps.ts';
import type { Allocate, Mask, Picture, Raster } from '../raster/raster.ts';
import type { Maps, RunState } from '../raster/run-state.ts';
import type { Doubt, Found } from '../steps/step.ts';
import type { StrokePainter } from '../strokes/painter.ts';
import type { Stroke } from '../strokes/stroke.ts';
import type { RunCache } from './cache.ts';

export interface RunSource {
  id: string;
  sha256: string;
  picture: Picture;
  /** The same shrunk as values, at view size; at full size, where nothing is shrunk, it is left out. */
  data?: Picture | undefined;
  /** The same with 16 bits a sample, where its file has them. */
  deep?: Raster<Uint16Array> | undefined;
  place?: SourcePlace | undefined;
  /** Maps that come with a source that is grown: those of the first are there before any step. */
  maps?: Maps | undefined;
}

export interface RunHost {
  /** The first is the colour picture. */
  sources: readonly RunSource[];
  cache?: RunCache;
  allocate?: Allocate;
  /** Texels here to one texel of the full size. */
  scale?: number;
  /** Width of the card that the whole picture lies on, metres. */
  cardWidth?: number;
  /** What was done by hand, by id. */
  strokes?: ReadonlyMap<string, Stroke>;
  /** The picture of a brush's tip, by the SHA-256 of its file. */
  tip?(sha256: string): Picture | undefined;
  /** What was made of the strokes of a step so far; without it they are drawn again each time. */
  painterOf?(stepId: string, state: RunState): StrokePainter;
  /** Whether the results of the steps keep all that stands after each; else it is freed once nothing needs it. */
  keepStates?: boolean;
  /** Whether the fit is a draft, for a first answer: colour and mask alone, by a short filter; all other maps are left out. */
  draftsFit?: boolean;
  /** Called between bands of rows with the step and the share done of it; throws to cancel. */
  checkpoint?(stepIndex: number, share: number): void;
}

/** The state after one step; `error` where the step could not be done and was passed over. */
export interface StepResult {
  stepId: string;
  mask: Mask;
  /** All that stands there, where the host asked for it. */
  state?: RunState;
  key: string;
  /** The maps that the step changed. */
  changes: readonly MapName[];
  error?: PlainError & { code: SieveErrorCode };
  found?: Found;
  notice?: string;
  doubt?: Doubt;
}

export interface RunResult extends RunState {
  steps: StepResult[];
  /** Digest of all that went into the result: changes whenever the result may have changed. */
  key: string;
}
