/** Counts over all engines of the page: what an older one made is never taken for the result of a newer one. */
let last = 0;

/**
 * Numbers the requests to compute: the newest wins, work for an older one gives up at its next band of rows, and results
 * carry theirs back.
 */
export class Turns {
  /** The next turn. @param newest - Shared with the worker that is to give up what it computes for an older one. */
  next(newest: Int32Array): number {
    this.give(newest, ++last);
    return last;
  }

  /** Makes a turn the newest of a worker. */
  give(newest: Int32Array, turn: number): void {
    Atomics.store(newest, 0, turn);
  }
}

export function newestTurn(newest: Int32Array): number {
  return Atomics.load(newest, 0);
}
