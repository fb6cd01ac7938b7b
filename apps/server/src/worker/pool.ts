import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { availableParallelism } from 'node:os';
import type { MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { AppError } from '../http/app-error.ts';
import type { Task, TaskAnswer, TaskResult } from './tasks.ts';

/** The server's worker threads. Core runs there and nowhere else on the server. */
export class WorkerPool {
  private readonly pool: Piscina;

  constructor() {
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

  /** @throws AppError with the code that the task raised; `cancelled` when `signal` fires. */
  async run<T extends Task>(
    task: T,
    options: { signal?: AbortSignal; transfer?: MessagePort[] } = {},
  ): Promise<TaskResult<T>> {
    const answer = (await this.pool
      .run(task, { signal: options.signal ?? null, transferList: options.transfer ?? [] })
      .catch((cause: unknown) => {
        if (options.signal?.aborted) throw new AppError(409, 'cancelled', 'Cancelled.', '');
        throw cause;
      })) as TaskAnswer<TaskResult<T>>;
    if (answer.ok) return answer.result;
    const status = answer.error.code === 'internal' ? 500 : 422;
    throw new AppError(status, answer.error.code, answer.error.message, answer.error.remedy);
  }

  /** Starts a thread ahead of the first file. */
  async warm(): Promise<void> {
    await this.run({ kind: 'warm' });
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
}

/** A copy of bytes in memory that threads share. */
export function shared(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(new SharedArrayBuffer(bytes.length));
  out.set(bytes);
  return out;
}
