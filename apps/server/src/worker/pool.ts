import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { availableParallelism } from 'node:os';
import type { MessagePort } from 'node:worker_threads';
import PQueue from 'p-queue';
import { Piscina } from 'piscina';
import { toPlainError, type PlainError } from '@lithe-sieve/core';
import { StudioError } from '../studio-error.ts';
import { MemoryBudget, QUICK, usualBudget } from './memory-budget.ts';
import { MemoryWatch } from './memory-watch.ts';
import { memoryOf } from './task-memory.ts';
import { timeOf } from './task-time.ts';
import type { Task, TaskAnswer, TaskResult } from './tasks.ts';

export interface TaskHow {
  /** Calls it off. */
  signal?: AbortSignal | undefined;
  transfer?: MessagePort[];
}

/** Threads, and the turns that tasks take on them. */
interface Lane {
  threads: Piscina;
  turns: PQueue;
}

const MB = 1024 * 1024;
/** Limit of JavaScript's own heap, whatever `--memory` is: code and small objects. */
const HEAP_MB = 512;

/** With less, a second thread for what nobody waits for would take a fifth of it by being there. */
const SMALL_BUDGET = 512 * MB;

/** What a person waits for has threads of its own, which nothing else holds; the rest has rank 0. */
const RANKS: Partial<Record<Task['kind'], number>> = { warm: QUICK, inspect: QUICK, 'hand-off': 1 };
/** Share of the memory for files that are read meanwhile: at most so much, and so great a share. */
const KEPT_BYTES = 64 * MB;
const KEPT_SHARE = 1 / 4;

/**
 * The server's worker threads. Core runs there and nowhere else on the server. Every task has a time and a share of memory,
 * both reckoned by its work, and is ended beyond them.
 */
export class WorkerPool {
  private readonly people: Lane;
  private readonly behind: Lane;
  private readonly watch: MemoryWatch;
  readonly budget: MemoryBudget;

  /**
   * @param memory - Bytes that tasks may take together.
   * @param timeFor - Milliseconds that a task may take.
   */
  constructor(
    memory = usualBudget(),
    private readonly timeFor: (task: Task) => number = timeOf,
  ) {
    this.budget = new MemoryBudget(memory, Math.min(KEPT_BYTES, KEPT_SHARE * memory));
    this.watch = new MemoryWatch(memory);
    const cores = availableParallelism();
    this.people = laneOf(1, Math.max(2, Math.min(4, cores)), memory);
    this.behind = laneOf(0, memory < SMALL_BUDGET ? 1 : Math.max(1, Math.min(2, cores)), memory);
  }

  /**
   * Runs a task as soon as there is a thread, and memory for it.
   *
   * @throws StudioError with the code that the task raised; `cancelled` when `signal` fires; `too-large-here` for a task
   *   that would take more than all may take together, or that came to more; `took-too-long` for one that was ended.
   */
  async run<T extends Task>(task: T, { signal, transfer = [] }: TaskHow = {}): Promise<TaskResult<T>> {
    const rank = RANKS[task.kind] ?? 0;
    const { threads, turns } = rank > 0 ? this.people : this.behind;
    const bytes = this.memoryFor(task);
    const time = this.timeFor(task);
    const ended = new AbortController();
    const { signal: end } = ended;
    const callOff = () => ended.abort(new StudioError('conflict', 'cancelled', 'Cancelled.', ''));
    if (signal?.aborted) callOff();
    signal?.addEventListener('abort', callOff);
    try {
      return await turns.add(
        async () => {
          const giveBack = await this.budget.take(bytes, { signal: end, rank });
          const letGo = this.watch.add(bytes, () => ended.abort(tooMuchMemory(bytes, this.budget.bytes)));
          const timer = setTimeout(() => ended.abort(tookTooLong(time)), time);
          try {
            const answer = (await threads.run(task, { signal: end, transferList: transfer })) as TaskAnswer<
              TaskResult<T>
            >;
            if (answer.ok) return answer.result;
            throw asStudioError(answer.error);
          } catch (error) {
            throw isOutOfHeap(error) ? tooMuchMemory(bytes, this.budget.bytes) : error;
          } finally {
            clearTimeout(timer);
            letGo();
            giveBack();
          }
        },
        { signal: end },
      );
    } catch (error) {
      throw end.aborted ? (end.reason as Error) : error;
    } finally {
      signal?.removeEventListener('abort', callOff);
    }
  }

  /** @throws StudioError with the reason where the header of a file cannot be read, and for more than there is. */
  private memoryFor(task: Task): number {
    let bytes: number;
    try {
      bytes = memoryOf(task);
    } catch (error) {
      throw asStudioError(toPlainError(error));
    }
    const most = this.budget.mostFor(RANKS[task.kind] ?? 0);
    if (bytes <= most) return bytes;
    throw new StudioError(
      'too-large',
      'too-large-here',
      `${DOING[task.kind] ?? 'This'} would take ${inGb(bytes)} of memory; this server may use ${inGb(most)}.`,
      task.kind === 'inspect'
        ? 'Save it smaller, or as PNG without interlacing; or start the server with --memory and more megabytes.'
        : 'Make the texture smaller, or start the server with --memory and more megabytes. The piece is kept as it is.',
    );
  }

  /** Starts a thread ahead of the first file. */
  async warm(): Promise<void> {
    await this.run({ kind: 'warm' });
  }

  async close(): Promise<void> {
    await Promise.all([this.people, this.behind].map(({ threads }) => threads.destroy()));
  }
}

/** What of a person is said to take too much. */
const DOING: Partial<Record<Task['kind'], string>> = {
  inspect: 'Reading it',
  'hand-off': 'Handing it off',
  summarise: 'Computing it',
};

/** @param ready - Threads that are kept while there is nothing to do. */
function laneOf(ready: number, threads: number, memory: number): Lane {
  const built = fileURLToPath(new URL('./task.worker.js', import.meta.url));
  const source = fileURLToPath(new URL('./task.worker.ts', import.meta.url));
  const fromSource = !existsSync(built); // under tsx, in development and in tests
  const pool = new Piscina({
    filename: fromSource ? source : built,
    execArgv: fromSource ? ['--import', 'tsx', '--conditions=source'] : [],
    minThreads: ready,
    maxThreads: threads,
    idleTimeout: 20_000,
    resourceLimits: { maxOldGenerationSizeMb: Math.ceil(HEAP_MB + memory / MB) },
  });
  return { threads: pool, turns: new PQueue({ concurrency: threads }) };
}

const inGb = (n: number) => `${(n / 1024 ** 3).toFixed(1)} GB`;

function tookTooLong(ms: number): StudioError {
  return new StudioError(
    'refused',
    'took-too-long',
    `The computation was ended after ${Math.round(ms / 1000)} s, several times as long as its work should take.`,
    'Make the texture smaller or take out the step that takes longest. The piece is kept as it is.',
  );
}

function tooMuchMemory(reckoned: number, may: number): StudioError {
  return new StudioError(
    'too-large',
    'too-large-here',
    `The computation was ended: it took more memory than the ${inGb(reckoned)} that it was reckoned to take, and this server may use ${inGb(may)}.`,
    'Make the texture smaller, or start the server with --memory and more megabytes. The piece is kept as it is.',
  );
}

function isOutOfHeap(error: unknown): boolean {
  return error instanceof Error && (error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY';
}

function asStudioError({ code, message, remedy }: PlainError): StudioError {
  return new StudioError(code === 'internal' ? 'internal' : 'refused', code, message, remedy);
}

/** A copy of bytes in memory that threads share. */
export function shared(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(new SharedArrayBuffer(bytes.length));
  out.set(bytes);
  return out;
}
