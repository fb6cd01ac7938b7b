import { recipeKey, type PieceDoc } from '@lithe-sieve/core';
import { z } from '@lithe-sieve/contract';
import { isGone, session } from '../document/journal';

const KEY = 'lithe-sieve under way ';

const underWaySchema = z.object({
  session: z.string(),
  what: z.enum(['step', 'recipe']),
  /** Of the step, or of the source that is grown. */
  id: z.string(),
  /** What it was set to: set otherwise it is another computation. */
  print: z.string(),
});
/** What a page was computing. */
export type UnderWay = Omit<z.infer<typeof underWaySchema>, 'session'>;

/** What is computed at a step of a run, or before the first one. */
export function underWayAt({ run, sources }: PieceDoc, stepId: string | null): UnderWay | null {
  const step = run.find((s) => s.id === stepId);
  if (step) return { what: 'step', id: step.id, print: JSON.stringify([step.kind, step.params]) };
  const grown = sources.find((s) => s.recipe);
  return grown?.recipe ? { what: 'recipe', id: grown.id, print: recipeKey(grown.recipe) } : null;
}

/** Whether a document would compute that again. */
export function stands({ run, sources }: PieceDoc, { what, id, print }: UnderWay): boolean {
  if (what === 'recipe') return sources.some((s) => s.id === id && s.recipe && recipeKey(s.recipe) === print);
  return run.some((s) => s.on && s.id === id && JSON.stringify([s.kind, s.params]) === print);
}

/**
 * What is being computed, noted where it outlives the tab: a computation that takes the tab with it would else begin again
 * each time the piece is opened. Where the browser keeps nothing, that is how it is.
 */
export const underWayNotes = {
  note(pieceId: string, its: UnderWay): void {
    quietly(() => localStorage.setItem(KEY + pieceId, JSON.stringify({ ...its, session })));
  },

  clear(pieceId: string): void {
    quietly(() => localStorage.removeItem(KEY + pieceId));
  },

  /** What a page that is gone was computing of a piece when it ended. */
  async takeLeft(pieceId: string): Promise<UnderWay | null> {
    const found = underWaySchema.safeParse(
      quietly(() => JSON.parse(localStorage.getItem(KEY + pieceId) ?? 'null') as unknown),
    );
    if (!found.success || found.data.session === session || !(await isGone(found.data.session))) return null;
    this.clear(pieceId);
    const { what, id, print } = found.data;
    return { what, id, print };
  },
};

function quietly<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch {
    return undefined;
  }
}
