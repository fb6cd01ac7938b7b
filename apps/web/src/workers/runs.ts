import {
  evaluateRun,
  isHandStep,
  isPointwise,
  makeRunCache,
  runHostOf,
  SieveError,
  stepKind,
  type Histogram,
  type RunHost,
  type RunResult,
  type RunSource,
} from '@lithe-sieve/core';
import { beat } from './beat';
import { allocate } from './memory';
import { MANY_STROKES, type Painting } from './painting';
import type { Pictures } from './pictures';
import { DONE, HEARTBEAT, NEWEST, SHARED_BYTES, STEP } from './shared-places';
import type { RunRequest } from './types';

const CACHE_BYTES = 400 * 1024 * 1024;

/** Evaluates the runs that requests ask for, with the pictures and strokes that are here, until a newer one overtakes them. */
export class Runs {
  private readonly cache = makeRunCache(CACHE_BYTES);
  private newest = new Int32Array(SHARED_BYTES / 4);
  /** The run that was asked for; what is evaluated may be a part of it. */
  private asked: RunRequest['run'] = [];

  constructor(
    private readonly pictures: Pictures,
    private readonly painting: Painting,
  ) {}

  /** @param newest - Shared: the newest turn, see {@link RunRequest}, and thousandths done of the one under way. */
  attach(newest: Int32Array): void {
    this.newest = newest as Int32Array<ArrayBuffer>;
    beat(newest);
  }

  get turn(): number {
    return Atomics.load(this.newest, NEWEST);
  }

  /** @param run - What progress is a share of, from now on. */
  ask(run: RunRequest['run']): void {
    this.asked = run;
  }

  /** @throws SieveError `cancelled` when a newer request came. */
  evaluate(request: RunRequest, sources = this.sourcesOf(request), how: Partial<RunHost> = {}): RunResult {
    const { turn, run } = request;
    const files = { sources, strokes: this.painting.strokes, tip: (sha256: string) => this.pictures.get(sha256) };
    const here: Partial<RunHost> = {
      painterOf: (stepId, state) => this.painting.painterOf(stepId, state),
      cache: this.cache,
      allocate,
      scale: this.pictures.scale,
      ...how,
      checkpoint: (step, share) => {
        this.lookUp((step + share) / run.length, 1 + this.asked.findIndex((s) => s.id === run[step]?.id));
        this.endIfOvertaken(turn);
      },
    };
    return evaluateRun(run, runHostOf(request, files, here));
  }

  /** The steps before one alone. */
  evaluateUpTo(request: RunRequest, end: number): RunResult {
    return this.evaluate({ ...request, run: request.run.slice(0, end) });
  }

  sourcesOf(request: RunRequest, draft = false): RunSource[] {
    const checkpoint = (share: number) => {
      this.lookUp(share, 0);
      this.endIfOvertaken(request.turn);
    };
    return this.pictures.sourcesOf(request, checkpoint, draft);
  }

  /** Steps of many strokes are taken from what this browser kept of them. */
  async restorePainted(request: RunRequest, whole: RunRequest): Promise<void> {
    this.painting.keepOnly(new Set(whole.run.map((s) => s.id)));
    for (const [i, step] of request.run.entries()) {
      if (!isHandStep(step) || !step.on || step.params.strokes.length < MANY_STROKES) continue;
      if (this.painting.knows(step.id)) continue;
      await this.painting.restore(step.id, this.evaluateUpTo(request, i));
    }
  }

  /**
   * How the mask of the full size is spread, from texels picked out of it.
   *
   * @returns null where that is no better than what the view has.
   */
  estimatedCounts(request: RunRequest, countsOf: (mask: RunResult['mask']) => Histogram): Histogram | null {
    const sources = isPointwise(request.run) && this.pictures.samplesOf(request);
    return sources ? countsOf(this.evaluate(maskStretch(request), sources).mask) : null;
  }

  endIfOvertaken(turn: number): void {
    if (this.turn !== turn) throw new SieveError('cancelled', 'Overtaken.');
  }

  /** Shares how far it is. @param step - See {@link STEP}. */
  private lookUp(share: number, step: number): void {
    Atomics.store(this.newest, DONE, Math.round(1000 * share));
    Atomics.store(this.newest, STEP, step);
    Atomics.add(this.newest, HEARTBEAT, 1);
  }
}

/** The first stretch alone, where nothing after it changes the mask. */
export function maskStretch(request: RunRequest): RunRequest {
  const fits = request.run.some((s) => s.on && stepKind(s.kind).stretch === 'fit');
  if (fits) return request; // the fit lays all maps at once: computed for the mask alone it would be computed twice
  return { ...request, run: request.run.filter((s) => stepKind(s.kind).stretch === 'mask') };
}
