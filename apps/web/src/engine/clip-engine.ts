import {
  toPlainError,
  type Clip,
  type Fringe,
  type LevelBreaks,
  type LevelSettings,
  type Mask,
  type MethodFigures,
  type PlainError,
  type Picture,
  type StorageFigures,
  type StoredLevels,
  type FieldDivisor,
  type FieldLoss,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import type { Answer } from '../workers/types';
import { valueOf } from './answered';
import { watch, type Watched } from './watchdog';
import type {
  ClipFigures,
  ClipRequest,
  ClipResult,
  ClipWorkerApi,
  ColoursRequest,
  ChangedOutline,
  OutlineChange,
  OutlineCurve,
  OutlineMade,
  OutlineRequest,
  StorageRequest,
  StoredRequest,
  UvRequest,
} from '../workers/clip.worker';

export interface ClipEvents {
  made(result: ClipResult): void;
  failed(error: PlainError): void;
}

/** A worker for what comes after the run, started when it is needed first. The newest request wins. */
export class ClipEngine {
  private worker: Worker | null = null;
  private remote: Comlink.Remote<ClipWorkerApi> | null = null;
  private readonly newest = new Int32Array(new SharedArrayBuffer(12));
  private turn = 0;
  /** Ends what waits for a worker that will not answer. */
  private end: (error: Error) => void = () => undefined;
  private ended: Promise<never> | null = null;
  private waiting: ReturnType<typeof setTimeout> | undefined;
  private watched: Watched | null = null;
  /** Texels of the largest mask that was asked about. */
  private largest = 0;

  constructor(private readonly events: ClipEvents) {}

  /** @returns the turn that the result will carry; what is under way for an older one gives up. */
  request({ clip: { mode, cutoff, opacity }, ...asked }: Omit<ClipRequest, 'turn'>): number {
    const turn = this.forget();
    this.largest = Math.max(this.largest, asked.plain[0].data.length);
    const request = { ...asked, turn, clip: { mode, cutoff, opacity } };
    this.waiting = setTimeout(() => void this.compute(request), PAUSE_MS);
    return turn;
  }

  /** Figures of the levels of a turn; null where others were made since. */
  async figures(turn: number): Promise<ClipFigures | null> {
    return this.ask<ClipFigures | null>(async (remote) => remote.figures(turn));
  }

  /** What breaks on the levels of a turn; null where others were made since. */
  async breaks(turn: number): Promise<LevelBreaks[] | null> {
    const answer = await this.ask<Answer<LevelBreaks[] | null>>(async (remote) => remote.breaks(turn));
    return valueOf(answer);
  }

  /** Null where nothing can break, or where it could not be found. */
  async thinnest(mask: Mask): Promise<number | null> {
    const answer = await this.ask<Answer<number | null>>(async (remote) => remote.thinnest(mask));
    return answer?.ok ? answer.value : null;
  }

  /** What another way to make the levels would come to; null where something else was asked for since. */
  async method(
    plain: readonly Mask[],
    { mode, cutoff, opacity }: Clip,
    settings: LevelSettings,
    method: Partial<LevelSettings>,
  ): Promise<MethodFigures | null> {
    const asked = { turn: this.turn, mask: plain[0], clip: { mode, cutoff, opacity }, settings: { ...settings } };
    const answer = await this.ask<Answer<MethodFigures | null>>(async (remote) => remote.method(asked, { ...method }));
    return valueOf(answer);
  }

  /** Null where there is no edge, or where it could not be measured. */
  async fringe(mask: Mask, threshold: number): Promise<Fringe | null> {
    const answer = await this.ask<Answer<Fringe | null>>(async (remote) => remote.fringe(mask, threshold));
    return answer?.ok ? answer.value : null;
  }

  /** What becomes of a clip as distances; null where it could not be computed. */
  async field(mask: Mask, threshold: number, divisor: FieldDivisor): Promise<FieldLoss | null> {
    const answer = await this.ask<Answer<FieldLoss>>(async (remote) => remote.field(mask, threshold, divisor));
    return answer?.ok ? answer.value : null;
  }

  /** The outline that a card is cut to. @throws where it could not be found. */
  async outline(request: OutlineRequest): Promise<OutlineMade | null> {
    return valueOf(await this.ask<Answer<OutlineMade>>(async (remote) => remote.outline(request)));
  }

  /** An outline changed by hand; null where it may not be. @throws as above. */
  async outlineChanged(request: OutlineChange): Promise<ChangedOutline | null> {
    return valueOf(await this.ask<Answer<ChangedOutline | null>>(async (remote) => remote.outlineChanged(request)));
  }

  /** Where a mesh lies in its picture, as a PNG. @throws as above. */
  async uvs(request: UvRequest): Promise<Uint8Array | null> {
    return valueOf(await this.ask<Answer<Uint8Array>>(async (remote) => remote.uvs(request)));
  }

  /** Outlines of few to many corners. @throws as above. */
  async outlines(request: OutlineRequest): Promise<OutlineCurve | null> {
    return valueOf(await this.ask<Answer<OutlineCurve>>(async (remote) => remote.outlines(request)));
  }

  /** What comes out of one way to store a piece; null where it was given up. */
  async storage(turn: number, request: Omit<StorageRequest, 'turn'>): Promise<StorageFigures | null> {
    const { mode, cutoff, opacity } = request.clip;
    const asked = { ...request, clip: { mode, cutoff, opacity }, turn };
    const answer = await this.ask<Answer<StorageFigures>>(async (remote) => remote.storage(asked));
    return valueOf(answer);
  }

  /** Every level as it is read out of a way to store it; null where it was given up. */
  async stored(turn: number, request: Omit<StoredRequest, 'turn'>): Promise<StoredLevels | null> {
    const { mode, cutoff, opacity } = request.clip;
    const asked = { ...request, clip: { mode, cutoff, opacity }, turn };
    return valueOf(await this.ask<Answer<StoredLevels>>(async (remote) => remote.stored(asked)));
  }

  /** The colour of levels of our own, of the turn that levels were asked for last; null where that is another now. */
  async colours(request: ColoursRequest): Promise<Picture[] | null> {
    const { turn } = this;
    return valueOf(await this.ask<Answer<Picture[]>>(async (remote) => remote.colours(turn, request)));
  }

  /** A new turn for storages; what is under way for the one before gives up. */
  nextStorages(): number {
    return Atomics.add(this.newest, 1, 1) + 1;
  }

  /** Share of the storage under way that is done, 0–1. */
  get storageProgress(): number {
    return Atomics.load(this.newest, 2) / 1000;
  }

  /** What was asked for is wanted no longer. */
  forget(): number {
    clearTimeout(this.waiting);
    Atomics.store(this.newest, 0, ++this.turn);
    return this.turn;
  }

  private async compute(request: ClipRequest): Promise<void> {
    const { turn } = request;
    try {
      const answer = await this.ask<Answer<ClipResult>>(async (remote) => remote.levels(request));
      if (answer === null || turn !== this.turn) return;
      if (answer.ok) this.events.made(answer.value);
      else this.events.failed(answer.error);
    } catch (error) {
      if (turn === this.turn) this.events.failed(toPlainError(error));
    }
  }

  /** A worker that breaks down, or is ended, answers nothing any more: who waits for it must know. */
  private ask<T>(call: (remote: Comlink.Remote<ClipWorkerApi>) => Promise<T>): Promise<T> {
    const asked = call(this.start());
    return Promise.race([asked, this.ended!]);
  }

  private start(): Comlink.Remote<ClipWorkerApi> {
    if (this.remote) return this.remote;
    this.worker = new Worker(new URL('../workers/clip.worker.ts', import.meta.url), { type: 'module' });
    this.ended = new Promise((_, reject) => (this.end = reject));
    this.ended.catch(() => undefined); // where nobody waits
    const lost = (error: Error) => {
      this.end(error);
      this.endWorker(); // the next request starts another
    };
    this.watched = watch(this.worker, () => this.largest, lost);
    this.remote = Comlink.wrap<ClipWorkerApi>(this.worker);
    void this.remote.attach(this.newest, this.watched.alive);
    return this.remote;
  }

  stop(): void {
    this.forget();
    this.end(new Error('The piece was left.'));
    this.endWorker();
  }

  private endWorker(): void {
    this.remote?.[Comlink.releaseProxy]();
    this.worker?.terminate();
    this.watched?.stop();
    this.remote = null;
    this.worker = null;
  }
}

/** After the last change; a drag of the cutoff sends changes faster than this. */
const PAUSE_MS = 120;
