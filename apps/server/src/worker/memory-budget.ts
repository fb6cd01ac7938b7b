import { totalmem } from 'node:os';

const MB = 1024 * 1024;
/** Share of the machine; a studio's machine has other programs on it. */
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
  /** What waits with a higher rank goes first; of {@link QUICK} a part of the memory is kept for it. */
  rank?: number;
}

/** Rank of what a person waits for at this moment, and of what takes little. */
export const QUICK = 2;

/**
 * Memory that tasks take in turn: what does not fit beside the others waits until they give theirs back. p-queue counts
 * tasks, not bytes, so that this is a queue of our own.
 */
export class MemoryBudget {
  private taken = 0;
  private readonly waiting: { bytes: number; rank: number; go: () => void }[] = [];

  /** @param kept - Bytes that only {@link QUICK} may take, so that it waits for nothing else. */
  constructor(
    readonly bytes: number,
    private readonly kept = 0,
  ) {}

  /** What one of a rank may take at the most. */
  mostFor(rank: number): number {
    return rank >= QUICK ? this.bytes : this.bytes - this.kept;
  }

  /**
   * Resolves when there is room, in the order of asking. What is more than there ever is waits until it is alone.
   *
   * @returns gives it back, once.
   */
  async take(wanted: number, { signal, rank = 0 }: Turn = {}): Promise<() => void> {
    const bytes = Math.min(wanted, this.mostFor(rank));
    await new Promise<void>((resolve, reject) => {
      const entry = { bytes, rank, go: resolve };
      const behind = this.waiting.findIndex((w) => w.rank < rank);
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
    const fits = (next?: { bytes: number; rank: number }) =>
      next !== undefined && this.taken + next.bytes <= this.mostFor(next.rank);
    for (let [next] = this.waiting; fits(next); [next] = this.waiting) {
      this.waiting.shift();
      this.taken += next.bytes;
      next.go();
    }
  }
}
