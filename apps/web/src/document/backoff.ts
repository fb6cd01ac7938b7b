const FIRST_MS = 500;
const GROWTH = 1.7;
const LONGEST_MS = 15_000;

/** Pauses between tries that get longer, and can be cut short. */
export class Backoff {
  private next = FIRST_MS;
  private wake: (() => void) | null = null;

  /** Resolves after the next pause, or when {@link now} is called. */
  pause(): Promise<void> {
    const mine = this.next;
    this.next = Math.min(LONGEST_MS, this.next * GROWTH);
    return new Promise((resolve) => {
      const timer = setTimeout(done, mine);
      function done() {
        clearTimeout(timer);
        resolve();
      }
      this.wake = done;
    });
  }

  /** Ends the pause under way. */
  now(): void {
    this.reset();
    this.wake?.();
  }

  reset(): void {
    this.next = FIRST_MS;
  }
}
