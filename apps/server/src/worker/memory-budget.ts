import { totalmem } from 'node:os';

const MB = 1024 * 1024;
/** Of the machine; a studio's machine has other programs on it. */
const SHARE = 1 / 4;
const MOST = 8192 * MB;
const LEAST = 256 * MB;

/** What tasks may take together where nothing is said: a quarter of the machine, 8 GB at the most. */
export function usualBudget(): number {
  const constrained = process.constrainedMemory?.() ?? 0;
  const machine = constrained > 0 && constrained < totalmem() ? constrained : totalmem();
  return Math.max(LEAST, Math.min(MOST, machine * SHARE));
}

export interface Turn {
  signal?: AbortSignal | undefined;
  /** Whether a person waits for it: it goes before all that nobody waits for. */
  first?: boolean;
}

/**
 * Memory that tasks take in turn: what does not fit beside the others waits until they give theirs back. p-queue counts
 * tasks, not bytes, so that this is a queue of our own.
 */
export class MemoryBudget {
  private taken = 0;
  private readonly waiting: { bytes: number; first: boolean; go: () => void }[] = [];

  constructor(readonly bytes: number) {}

  /**
   * Resolves when there is room, in the order of asking. What is more than the whole budget waits until it is alone.
   *
   * @returns gives it back, once.
   */
  async take(wanted: number, { signal, first = false }: Turn = {}): Promise<() => void> {
    const bytes = Math.min(wanted, this.bytes);
    await new Promise<void>((resolve, reject) => {
      const entry = { bytes, first, go: resolve };
      const behind = first ? this.waiting.findIndex((w) => !w.first) : -1;
      this.waiting.splice(behind < 0 ? this.waiting.length : behind, 0, entry);
      signal?.addEventListener('abort', () => {
        const at = this.waiting.indexOf(entry);
        if (at < 0) return;
        this.waiting.splice(at, 1);
        reject(signal.reason as Error);
        this.next();
      });
      this.next();
    });
    let given = false;
    return () => {
      if (given) return;
      given = true;
      this.taken -= bytes;
      this.next();
    };
  }

  private next(): void {
    for (let [first] = this.waiting; first && this.taken + first.bytes <= this.bytes; [first] = this.waiting) {
      this.waiting.shift();
      this.taken += first.bytes;
      first.go();
    }
  }
}
