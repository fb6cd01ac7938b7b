import { toPlainError, type Clip, type LevelSettings, type Mask, type PlainError } from '@lithe-sieve/core';
import * as Comlink from 'comlink';
import type { ClipResult, ClipWorkerApi } from '../workers/clip.worker';

export interface ClipEvents {
  made(result: ClipResult): void;
  failed(error: PlainError): void;
}

/** A worker for what comes after the run, started when it is needed first. The newest request wins. */
export class ClipEngine {
  private worker: Worker | null = null;
  private remote: Comlink.Remote<ClipWorkerApi> | null = null;
  private readonly newest = new Int32Array(new SharedArrayBuffer(4));
  private turn = 0;
  private waiting: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly events: ClipEvents) {}

  /** @returns the turn that the result will carry; what is under way for an older one gives up. */
  request(plain: readonly Mask[], clip: Clip, settings: LevelSettings): number {
    const turn = this.forget();
    this.waiting = setTimeout(() => void this.compute(turn, plain, clip, settings), PAUSE_MS);
    return turn;
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
      const answer = await this.start().levels({
        turn,
        plain: [...plain],
        clip: { mode, cutoff, opacity },
        settings: { ...settings },
      });
      if (answer === null || turn !== this.turn) return;
      if (answer.ok) this.events.made(answer.value);
      else this.events.failed(answer.error);
    } catch (error) {
      this.events.failed(toPlainError(error));
    }
  }

  private start(): Comlink.Remote<ClipWorkerApi> {
    if (this.remote) return this.remote;
    this.worker = new Worker(new URL('../workers/clip.worker.ts', import.meta.url), { type: 'module' });
    this.worker.addEventListener('error', ({ message }) => {
      this.events.failed(toPlainError(new Error(message || 'a worker ended')));
    });
    this.remote = Comlink.wrap<ClipWorkerApi>(this.worker);
    void this.remote.attach(this.newest);
    return this.remote;
  }

  stop(): void {
    clearTimeout(this.waiting);
    this.remote?.[Comlink.releaseProxy]();
    this.worker?.terminate();
    this.remote = null;
    this.worker = null;
  }
}

/** After the last change; a drag of the cutoff sends changes faster than this. */
const PAUSE_MS = 120;
