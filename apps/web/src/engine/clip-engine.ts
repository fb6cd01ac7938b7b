import {
  toPlainError,
  type Clip,
  type LevelSettings,
  type Mask,
  type PlainError,
  type StorageFigures,
} from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import type { Answer } from '../workers/types';
import type { ClipFigures, ClipResult, ClipWorkerApi, StorageRequest } from '../workers/clip.worker';

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

  constructor(private readonly events: ClipEvents) {}

  /** @returns the turn that the result will carry; what is under way for an older one gives up. */
  request(plain: readonly Mask[], clip: Clip, settings: LevelSettings): number {
    const turn = this.forget();
    this.waiting = setTimeout(() => void this.compute(turn, plain, clip, settings), PAUSE_MS);
    return turn;
  }

  /** Of the levels of a turn; null where others were made since. */
  async figures(turn: number): Promise<ClipFigures | null> {
    return this.ask<ClipFigures | null>(async (remote) => remote.figures(turn));
  }

  /** Null where nothing can break, or where it could not be found. */
  async thinnest(mask: Mask): Promise<number | null> {
    const answer = await this.ask<Answer<number | null>>(async (remote) => remote.thinnest(mask));
    return answer?.ok ? answer.value : null;
  }

  /** What comes out of one way to store a piece; null where it was given up. */
  async storage(turn: number, request: Omit<StorageRequest, 'turn'>): Promise<StorageFigures | null> {
    const { mode, cutoff, opacity } = request.clip;
    const asked = { ...request, clip: { mode, cutoff, opacity }, turn };
    const answer = await this.ask<Answer<StorageFigures>>(async (remote) => remote.storage(asked));
    if (answer && !answer.ok) throw Object.assign(new Error(answer.error.message), { remedy: answer.error.remedy });
    return answer?.value ?? null;
  }

  /** A new turn for storages; what is under way for the one before gives up. */
  nextStorages(): number {
    return Atomics.add(this.newest, 1, 1) + 1;
  }

  /** Of the storage under way, 0–1. */
  get storageProgress(): number {
    return Atomics.load(this.newest, 2) / 1000;
  }

  /** What was asked for is wanted no longer. */
  forget(): number {
    clearTimeout(this.waiting);
    Atomics.store(this.newest, 0, ++this.turn);
    return this.turn;
  }

  private async compute(turn: number, plain: readonly Mask[], clip: Clip, settings: LevelSettings): Promise<void> {
    try {
      const { mode, cutoff, opacity } = clip;
      const asked = { turn, plain: [...plain], clip: { mode, cutoff, opacity }, settings: { ...settings } };
      const answer = await this.ask<Answer<ClipResult>>(async (remote) => remote.levels(asked));
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
    this.worker.addEventListener('error', ({ message }) => {
      this.end(new Error(message || 'a worker ended'));
      this.endWorker(); // the next request starts another
    });
    this.remote = Comlink.wrap<ClipWorkerApi>(this.worker);
    void this.remote.attach(this.newest);
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
    this.remote = null;
    this.worker = null;
  }
}

/** After the last change; a drag of the cutoff sends changes faster than this. */
const PAUSE_MS = 120;
