import type { Applied } from '../steps/step.ts';

/** Keeps what steps changed by the key of all that went into it. */
export interface RunCache {
  get(key: string): Applied | undefined;
  /** @param cost - What computing it took, milliseconds. */
  set(key: string, applied: Applied, cost: number): void;
}

interface Held {
  applied: Applied;
  bytes: number;
  /** Milliseconds that a byte of it saves. */
  saves: number;
  worth: number;
}

/**
 * Keeps what saves most time within a budget of bytes. Steps are gone through in order, so that the least recently used one
 * is always the one that is needed next; instead each is worth the time that a byte of it saves, and more the later it was
 * used: GreedyDual-Size, P. Cao, S. Irani, "Cost-Aware WWW Proxy Caching Algorithms" (1997). A fit lays all maps in a second
 * or two and fills a quarter of a gigabyte; the maps before it take many seconds and a few megabytes each.
 */
export function makeRunCache(budgetBytes: number): RunCache {
  const held = new Map<string, Held>();
  let total = 0;
  let least = 0;
  const drop = (key: string, { bytes }: Held) => {
    held.delete(key);
    total -= bytes;
  };
  return {
    get(key) {
      const entry = held.get(key);
      if (!entry) return undefined;
      held.delete(key); // of equal worth, the least recently used goes first
      held.set(key, { ...entry, worth: least + entry.saves });
      return entry.applied;
    },
    set(key, applied, cost) {
      const before = held.get(key);
      if (before) drop(key, before);
      const bytes = bytesOf(applied);
      const saves = cost / Math.max(1, bytes);
      held.set(key, { applied, bytes, saves, worth: least + saves });
      total += bytes;
      while (total > budgetBytes) {
        const [worst, entry] = [...held].reduce((a, b) => (b[1].worth < a[1].worth ? b : a));
        least = entry.worth;
        drop(worst, entry);
      }
    },
  };
}

function bytesOf({ colour, mask, maps }: Applied): number {
  const rasters = [colour, mask, ...(maps?.values() ?? [])];
  return rasters.reduce((sum, raster) => sum + (raster?.data.byteLength ?? 0), 0);
}
