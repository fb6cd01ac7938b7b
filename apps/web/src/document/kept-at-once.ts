import { z } from '@lithe-sieve/contract';
import { local } from './local';
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
    const text = textOf(kept);
    if (text === '' || text.length > MOST) return;
    local.write(`${KEY}${String(number).padStart(9, '0')} ${kept.edit.editId}`, text);
  },

  /** The database has it, or nobody wants it any more. */
  drop(editId: string): void {
    for (const key of local.keys(KEY)) if (key.endsWith(` ${editId}`)) local.remove(key);
  },

  /** In the order in which they were made. */
  all(): Kept[] {
    return local.keys(KEY).flatMap((key) => {
      const found = keptSchema.safeParse(local.readJson(key));
      return found.success ? [found.data as unknown as Kept] : [];
    });
  },
};

/** Nothing of a change that cannot be written: the database says so. */
function textOf(kept: Kept): string {
  try {
    return JSON.stringify(kept);
  } catch {
    return '';
  }
}
