import { HEARTBEAT } from '../workers/shared-places';

/** Between looks. Time is counted in looks, so that a page that was frozen counts none. */
export const LOOK_MS = 2000;

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
    for (const [i, its] of this.shared.entries()) {
      const beats = Atomics.load(its, HEARTBEAT);
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
