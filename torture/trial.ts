/** What one kind of attack came to. */
export interface Trial {
  what: string;
  /** How often it was tried. */
  tries: number;
  /** Things that were answered as done and were not there after, or came back other than they were. */
  lost: number;
  /** Answers that took more than 20 s, or never came from a server that runs. */
  hangs: number;
  /** Answers 5xx without the machine itself failing. */
  errors: number;
  /** What else was seen, in a few words. */
  seen: string;
}

export interface Extent {
  /** All numbers of tries are this share of the full run's. */
  share: number;
  seed: number;
}

/** Numbers at random that are the same for the same seed (Numerical Recipes' linear congruential generator). */
export class Chance {
  private state: number;

  constructor(seed: number) {
    this.state = (seed * 2654435761 + 12345) >>> 0;
  }

  /** 0 to below 1. */
  next(): number {
    this.state = (Math.imul(this.state, 1664525) + 1013904223) >>> 0;
    return this.state / 4294967296;
  }

  below(n: number): number {
    return Math.floor(this.next() * n);
  }

  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)];
  }
}

export const times = (full: number, { share }: Extent) => Math.max(1, Math.round(full * share));

/** Whether an answer says that the machine failed, in words. */
export function saysMachine(json: { code?: unknown } | null): boolean {
  return typeof json?.code === 'string' && /^(storage-|damaged-)/.test(json.code);
}
