import type { StudioCheck } from '@lithe-sieve/contract';
import type {
  CardSet,
  Material,
  MeshFacts,
  PieceDoc,
  PlainError,
  Recipe,
  SourceFacts,
  SourcePlace,
  StepEntry,
  Stroke,
} from '@lithe-sieve/core';
import type { HandedOff, HandOffInput } from '@lithe-sieve/host';
import type { MessagePort } from 'node:worker_threads';

interface Placed {
  id: string;
  sha256: string;
  place?: SourcePlace | undefined;
}

/** The small copy of the file of a brush's tip, or of a part. */
export interface TipProxy {
  sha256: string;
  proxy: Proxy;
}

/** Core's Proxy as RGBA. */
export interface Proxy {
  width: number;
  height: number;
  rgba: Uint8Array;
  values: Uint8Array;
  samples: Uint8Array;
}

export interface InspectTask {
  kind: 'inspect';
  bytes: Uint8Array;
  /** Longest side of the proxy; without it that of all proxies. */
  side?: number;
}
export interface Inspected {
  facts: SourceFacts;
  proxy: Proxy;
}

export interface ReadMeshTask {
  kind: 'read-mesh';
  bytes: Uint8Array;
}
export interface MeshRead {
  facts: MeshFacts;
  /** As pages take it. */
  packed: Uint8Array;
  /** Where its UVs lie. */
  picture: { width: number; height: number; rgba: Uint8Array };
}

interface Size {
  width: number;
  height: number;
}

export interface SummariseTask {
  kind: 'summarise';
  doc: PieceDoc;
  sources: (Placed & { facts: SourceFacts; proxy: Proxy | Recipe })[];
  strokes: Stroke[];
  tips: TipProxy[];
  /** Longest side of its proxies; without it that of all proxies. */
  side?: number;
  /** Of the mesh that it lies on; left out where that is not in the studio. */
  mesh?: MeshFacts;
}
export interface Summarised {
  coverage: number;
  /** Nothing was computed smaller than it is. */
  exact: boolean;
  /** The full size, as the fit leaves it. */
  size: Size;
  /** Texels of the full size to one of the picture, along a side. */
  perTexel: number;
  snags: string[];
  /** For the Stock, clipped. */
  png: Uint8Array;
  /** Colour and alpha, for the Bench to begin with. */
  view: Uint8Array;
}

/** A picture of a piece that a page made at full size. */
export interface TakeViewTask {
  kind: 'take-view';
  png: Uint8Array;
  material: Material;
}
/** The picture for the Stock. */
export interface TakenView {
  png: Uint8Array;
}

/** The files are in shared memory: a large one is not copied from thread to thread. */
export interface HandOffTask extends HandOffInput {
  kind: 'hand-off';
  progress?: MessagePort;
}

export interface DrawDemoTask {
  kind: 'draw-demo';
  index: number;
}
export interface DrawnDemo {
  name: string;
  cardWidth: number;
  files: { fileName: string; bytes: Uint8Array }[];
  more: StepEntry[];
  /** Grown of these files; without it they are its sources. */
  recipe?: Recipe;
  set?: CardSet | undefined;
}

/** Does nothing: the thread is up after it. */
export interface WarmTask {
  kind: 'warm';
}

/** A backup of the studio file. */
export interface BackUpTask {
  kind: 'back-up';
  from: string;
  to: string;
}
/** Looks the studio file over. */
export interface LookOverTask {
  kind: 'look-over';
  file: string;
}
/** Gives free pages of the studio file back. */
export interface CompactTask {
  kind: 'compact';
  file: string;
}

export type Task =
  | WarmTask
  | InspectTask
  | ReadMeshTask
  | SummariseTask
  | TakeViewTask
  | HandOffTask
  | DrawDemoTask
  | BackUpTask
  | LookOverTask
  | CompactTask;
export type TaskResult<T extends Task> = T extends InspectTask
  ? Inspected
  : T extends ReadMeshTask
    ? MeshRead
    : T extends SummariseTask
      ? Summarised
      : T extends TakeViewTask
        ? TakenView
        : T extends HandOffTask
          ? HandedOff
          : T extends LookOverTask
            ? StudioCheck
            : DrawnDemo;

/** An error class does not survive the way between threads, so a task answers with one of these. */
export type TaskAnswer<R> = { ok: true; result: R } | { ok: false; error: PlainError };
