import { HEARTBEAT, SHARED_BYTES } from '../workers/shared-places';

/** Between looks. Time is counted in looks, so that a page that was frozen counts none. */
export const LOOK_MS = 2000;

/** How long a worker may be silent: that long, and a little for each texel of the largest picture. */
const PATIENCE_MS = 30_000;
const PATIENCE_MS_PER_TEXEL = 2e-3;

export function patienceMs(texels: number): number {
  return PATIENCE_MS + PATIENCE_MS_PER_TEXEL * texels;
}

/** Notices that a worker ended without an event, or never comes back: it stops counting its heartbeat up. */
export class Watchdog {
  private readonly seen: number[];
  private readonly silent: number[];
  private readonly timer: ReturnType<typeof setInterval>;

  /**
   * @param shared - Of each worker, see {@link Side}.
   * @param patienceMs - How long a worker may be silent: some loops do not look up while they work.
   * @param onSilent - Called once.
   */
  constructor(
    private readonly shared: readonly Int32Array[],
    private readonly patienceMs: () => number,
    private readonly onSilent: () => void,
  ) {
    this.seen = shared.map(() => -1);
    this.silent = shared.map(() => 0);
    this.timer = setInterval(() => this.look(), LOOK_MS);
  }

  private look(): void {
    for (const [i, cells] of this.shared.entries()) {
      const beats = Atomics.load(cells, HEARTBEAT);
      this.silent[i] = beats === this.seen[i] ? this.silent[i] + LOOK_MS : 0;
      this.seen[i] = beats;
    }
    if (Math.max(...this.silent) <= this.patienceMs()) return;
    this.stop();
    this.onSilent();
  }

  stop(): void {
    clearInterval(this.timer);
  }
}

/** A worker with a heartbeat of its own, which is to be given to it. */
export interface Watched {
  alive: Int32Array;
  /** Where it was ended on purpose. */
  stop(): void;
}

/**
 * Says once that nothing more comes from a worker: it broke down, its script did not come, or it is silent.
 *
 * @param texels - Of the largest picture that it works on.
 */
export function watch(worker: Worker, texels: () => number, lost: (error: Error) => void): Watched {
  const alive = new Int32Array(new SharedArrayBuffer(SHARED_BYTES));
  const end = (message: string) => {
    watchdog.stop();
    lost(new Error(message));
  };
  const watchdog = new Watchdog(
    [alive],
    () => patienceMs(texels()),
    () => end('a worker does not answer any more'),
  );
  worker.addEventListener('error', ({ message }) => end(message || 'a worker ended'), { once: true });
  return { alive, stop: () => watchdog.stop() };
}
