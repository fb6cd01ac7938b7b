import type {
  Change,
  Doubt,
  Found,
  Frame,
  Histogram,
  MapName,
  Mask,
  MaskSummary,
  Part,
  Picture,
  PlainError,
  Raster,
  Recipe,
  Samples,
  SourcePlace,
  StepEntry,
} from '@lithe-sieve/core';

/** Which sources a run reads; the worker knows their pictures by hash. */
export interface RunRequest {
  /** See docs/architecture.md. The worker gives up when the shared counter no longer holds this. */
  turn: number;
  run: StepEntry[];
  /** Pictures are known by their keys; what a recipe is grown from comes along. */
  sources: { id: string; sha256: string; place?: SourcePlace; recipe?: Recipe }[];
  /** Metres. */
  cardWidth?: number;
}

/** A small RGBA picture for the strip of the run. */
export interface Thumb {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

/** A source as small as proposals need it. */
export interface SmallSource {
  picture: Picture;
  /** Texels of it to one of the full size. */
  scale: number;
}

export interface StepReport {
  stepId: string;
  error: PlainError | null;
  thumb: Thumb;
  /** Counts of the mask after the step. */
  counts: Histogram;
}

/** The mask of a run: level 0 first, in shared memory. */
export interface MaskResult {
  key: string;
  turn: number;
  levels: Mask[];
  /** Frame of the full size, whatever size this is. */
  frame: Frame;
  /** Against the result before. */
  change: Change;
  summary: MaskSummary;
  /** What steps point at, by their ids. */
  found: Record<string, Found>;
  /** What a person should know of steps, by their ids. */
  notices: Record<string, string>;
}

/** Posted by the worker on its own while a stroke is drawn: a map was written into. */
export interface PaintedMessage {
  type: 'painted';
  map: 'mask' | 'height';
  level: Raster<Samples>;
  change: Change;
}

/** A map of a run, level 0 first. */
export interface MapLevels {
  map: MapName;
  /** Names these very texels: what crosses to another thread is a new object each time. */
  id: string;
  levels: Raster<Samples>[];
}

/** Every map of a run but the mask. */
export interface MapsResult {
  key: string;
  maps: MapLevels[];
  /** What a person should know of steps, by their ids. */
  notices: Record<string, string>;
  doubts: { stepId: string; doubt: Doubt }[];
}

/** All at view size, with what the strip shows. */
export interface ViewResult {
  mask: MaskResult;
  maps: MapsResult;
  steps: StepReport[];
  /** Whether all steps are in it; else the maps after the changed one are still the earlier ones. */
  whole: boolean;
}

/** A piece as a part to grow from: its colour with the mask as alpha, and its maps, as PNGs. See {@link Part}. */
export interface PartFile extends Pick<Part, 'maps' | 'share'> {
  bytes: Uint8Array;
  relief: Uint8Array | null;
  width: number;
  height: number;
}

/** What a task of a worker answers with; `null` when a newer request overtook it. */
export type Answer<T> = { ok: true; value: T } | { ok: false; error: PlainError } | null;
