import * as Comlink from 'comlink';
import type { RunWorkerApi } from '../workers/run.worker';
import { SHARED_BYTES } from '../workers/shared-places';

/** One of the two workers that run core. */
export interface Side {
  worker: Worker;
  remote: Comlink.Remote<RunWorkerApi>;
  /** Shared with the worker, see `workers/shared-places.ts`. */
  newest: Int32Array;
}

export function makeSide(): Side {
  const worker = new Worker(new URL('../workers/run.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<RunWorkerApi>(worker);
  const newest = new Int32Array(new SharedArrayBuffer(SHARED_BYTES));
  void remote.attach(newest);
  return { worker, remote, newest };
}

export function endSide({ worker, remote }: Side): void {
  remote[Comlink.releaseProxy]();
  worker.terminate();
}
