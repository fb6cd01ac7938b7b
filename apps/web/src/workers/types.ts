import type {
  Box,
  Found,
  Histogram,
  Mask,
  MaskSummary,
  Picture,
  PlainError,
  SourcePlace,
  StepEntry,
} from '@lithe-sieve/core';

/** Which sources a run reads; the worker knows their pictures by hash. */
export interface RunRequest {
  /** Newest wins: the worker gives up when the shared counter no longer holds this. */
  token: number;
  /** Number of the edit that asks; results carry it back. */
  edit: number;
  run: StepEntry[];
  sources: { id: string; sha256: string; place?: SourcePlace }[];
}

/** A small RGBA picture for the strip of the run. */
export interface Thumb {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

export interface StepReport {
  stepId: string;
  error: PlainError | null;
  thumb: Thumb;
  /** Of the mask after the step. */
  counts: Histogram;
}

/** The mask of a run: level 0 first, in shared memory. */
export interface MaskResult {
  key: string;
  edit: number;
  levels: Mask[];
  summary: MaskSummary;
  /** What steps point at, by their ids. */
  found: Record<string, Found>;
  /** What steps have to say, by their ids. */
  says: Record<string, string>;
  /** The only parts that are other than in the mask told before, in the same memory; null: all may be. */
  parts: Box[] | null;
}

/** Told by the worker on its own while a stroke is drawn: these parts of the mask were written into. */
export interface PaintedMessage {
  tell: 'painted';
  mask: Mask;
  boxes: Box[];
}

/** The colour of a run, level 0 first. */
export interface ColourResult {
  key: string;
  levels: Picture[];
}

/** Both at view size, with what the strip shows. */
export interface ViewResult {
  mask: MaskResult;
  colour: ColourResult;
  steps: StepReport[];
}

/** What a task of a worker answers with; `null` when a newer request overtook it. */
export type Answer<T> = { ok: true; value: T } | { ok: false; error: PlainError } | null;
