/** Between looks at the memory of the process. */
const LOOK_MS = 100;
/** Above what tasks may take together: garbage that was not collected yet, and what threads take by themselves. */
export const SLACK = 1.2;
/** Until the memory of a task that was ended is given back. */
const SETTLE_MS = 1500;

interface Watched {
  /** What it was reckoned to take. */
  bytes: number;
  end: () => void;
}

/**
 * Ends a task before the machine runs out of memory: what a task takes is reckoned, but a reckoning may be wrong. The
 * system says only what the whole process holds, so that the task ended is the one that was reckoned to take most.
 */
export class MemoryWatch {
  private readonly running = new Set<Watched>();
  private timer: ReturnType<typeof setInterval> | undefined;
  private settledAt = 0;
  /** What the process holds while it does nothing. */
  private readonly idle: number;

  /** @param bytes - What tasks may take together. */
  constructor(
    private readonly bytes: number,
    private readonly resident = () => process.memoryUsage.rss(),
  ) {
    this.idle = resident();
  }

  /**
   * Watches over a task.
   *
   * @param end - Ends it.
   * @returns lets it go.
   */
  add(bytes: number, end: () => void): () => void {
    const task = { bytes, end };
    this.running.add(task);
    this.timer ??= setInterval(() => this.look(), LOOK_MS).unref();
    return () => {
      this.running.delete(task);
      if (this.running.size > 0) return;
      clearInterval(this.timer);
      this.timer = undefined;
    };
  }

  private look(): void {
    if (performance.now() < this.settledAt || this.resident() - this.idle <= SLACK * this.bytes) return;
    const [largest] = [...this.running].sort((a, b) => b.bytes - a.bytes);
    if (!largest) return;
    this.running.delete(largest);
    this.settledAt = performance.now() + SETTLE_MS;
    largest.end();
  }
}
