import type { Applied } from '../steps/step.ts';

/** Keeps what steps changed by the key of all that went into it. */
export interface RunCache {
  get(key: string): Applied | undefined;
  set(key: string, applied: Applied): void;
}

/** Keeps the most recently used within a budget of bytes. */
export function makeRunCache(budgetBytes: number): RunCache {
  const held = new Map<string, Applied>();
  let total = 0;
  const drop = (key: string) => {
    const before = held.get(key);
    if (!before) return;
    held.delete(key);
    total -= bytesOf(before);
  };
  return {
    get(key) {
      const applied = held.get(key);
      if (applied) {
        held.delete(key);
        held.set(key, applied);
      }
      return applied;
    },
    set(key, applied) {
      drop(key);
      held.set(key, applied);
      total += bytesOf(applied);
      for (const oldest of held.keys()) {
        if (total <= budgetBytes) break;
        drop(oldest);
      }
    },
  };
}

function bytesOf({ colour, mask, maps }: Applied): number {
  const rasters = [colour, mask, ...(maps?.values() ?? [])];
  return rasters.reduce((sum, raster) => sum + (raster?.data.byteLength ?? 0), 0);
}
