import { z } from '@lithe-sieve/contract';
import type { Kept } from './kept';

const KEY = 'lithe-sieve at once ';
/** Characters of a change; a larger one waits for the database. */
const MOST = 200_000;

const keptSchema = z.object({
  pieceId: z.string(),
  session: z.string(),
  base: z.number(),
  edit: z.looseObject({ editId: z.string(), kind: z.string() }),
});

/**
 * Changes of the last moments, written before the page goes on: the browser's database takes some milliseconds to commit
 * one, and a tab that ends meanwhile would lose it. Where the storage takes nothing, that is how it is.
 */
export const keptAtOnce = {
  put(kept: Kept, number: number): void {
    quietly(() => {
      const text = JSON.stringify(kept);
      if (text.length > MOST) return;
      localStorage.setItem(`${KEY}${String(number).padStart(9, '0')} ${kept.edit.editId}`, text);
    });
  },

  /** The database has it, or nobody wants it any more. */
  drop(editId: string): void {
    quietly(() =>
      keys()
        .filter((key) => key.endsWith(` ${editId}`))
        .forEach((key) => localStorage.removeItem(key)),
    );
  },

  /** In the order in which they were made. */
  all(): Kept[] {
    return (quietly(keys) ?? []).sort().flatMap((key) => {
      const found = keptSchema.safeParse(quietly(() => JSON.parse(localStorage.getItem(key) ?? 'null') as unknown));
      return found.success ? [found.data as unknown as Kept] : [];
    });
  },
};

function keys(): string[] {
  return Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? '').filter((k) =>
    k.startsWith(KEY),
  );
}

function quietly<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch {
    return undefined;
  }
}
