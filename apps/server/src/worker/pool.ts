import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { availableParallelism } from 'node:os';
import type { MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { toPlainError, type PlainError } from '@lithe-sieve/core';
import { StudioError } from '../studio-error.ts';
import { MemoryBudget, usualBudget } from './memory-budget.ts';
import { memoryOf } from './task-memory.ts';
import type { Task, TaskAnswer, TaskResult } from './tasks.ts';

/** The server's worker threads. Core runs there and nowhere else on the server. */
export class WorkerPool {
  private readonly pool: Piscina;
  readonly budget: MemoryBudget;

  /** @param memory - Bytes that tasks may take together. */
  constructor(memory = usualBudget()) {
    this.budget = new MemoryBudget(memory);
    const built = fileURLToPath(new URL('./task.worker.js', import.meta.url));
    const source = fileURLToPath(new URL('./task.worker.ts', import.meta.url));
    const fromSource = !existsSync(built); // under tsx, in development and in tests
    this.pool = new Piscina({
      filename: fromSource ? source : built,
      execArgv: fromSource ? ['--import', 'tsx', '--conditions=source'] : [],
      minThreads: 1,
      maxThreads: Math.max(2, Math.min(4, availableParallelism())),
      idleTimeout: 20_000,
    });
  }

  /**
   * Runs a task as soon as there is a thread, and memory for it.
   *
   * @throws StudioError with the code that the task raised; `cancelled` when `signal` fires; `too-large-here` for a file
   *   that claims more than all tasks may take together.
   */
  async run<T extends Task>(
    task: T,
    options: { signal?: AbortSignal; transfer?: MessagePort[] } = {},
  ): Promise<TaskResult<T>> {
    let giveBack: () => void = () => undefined;
    try {
      giveBack = await this.budget.take(this.memoryFor(task), options.signal);
      const answer = (await this.pool.run(task, {
        signal: options.signal ?? null,
        transferList: options.transfer ?? [],
      })) as TaskAnswer<TaskResult<T>>;
      if (answer.ok) return answer.result;
      throw asStudioError(answer.error);
    } catch (error) {
      if (options.signal?.aborted) throw new StudioError('conflict', 'cancelled', 'Cancelled.', '');
      throw error;
    } finally {
      giveBack();
    }
  }

  /** @throws StudioError with the reason where the header of a file cannot be read. */
  private memoryFor(task: Task): number {
    let bytes: number;
    try {
      bytes = memoryOf(task);
    } catch (error) {
      throw asStudioError(toPlainError(error));
    }
    if (task.kind !== 'inspect' || bytes <= this.budget.bytes) return bytes;
    const inGb = (n: number) => `${(n / 1024 ** 3).toFixed(1)} GB`;
    throw new StudioError(
      'too-large',
      'too-large-here',
      `Reading it would take ${inGb(bytes)} of memory; this server may use ${inGb(this.budget.bytes)}.`,
      'Save it smaller, or as PNG without interlacing; or start the server with --memory and more megabytes.',
    );
  }

  /** Starts a thread ahead of the first file. */
  async warm(): Promise<void> {
    await this.run({ kind: 'warm' });
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
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
