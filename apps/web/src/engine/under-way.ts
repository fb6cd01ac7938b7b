import { recipeKey, type PieceDoc, type StepEntry } from '@lithe-sieve/core';
import { z } from '@lithe-sieve/contract';
import { local } from '../document/local';
import { journal } from '../document/journal';

const KEY = 'lithe-sieve under way ';

const underWaySchema = z.object({
  session: z.string(),
  what: z.enum(['step', 'recipe']),
  /** Names the step, or the source that is grown. */
  id: z.string(),
  /** What it was set to: set otherwise it is another computation. */
  print: z.string(),
});
/** What a page was computing. */
export type UnderWay = Omit<z.infer<typeof underWaySchema>, 'session'>;

const printOf = ({ kind, params, version }: StepEntry) => JSON.stringify([kind, params, version]);

/** What is computed at a step of a run, or before the first one. */
export function underWayAt({ run, sources }: PieceDoc, stepId: string | null): UnderWay | null {
  const step = run.find((s) => s.id === stepId);
  if (step) return { what: 'step', id: step.id, print: printOf(step) };
  const grown = sources.find((s) => s.recipe);
  return grown?.recipe ? { what: 'recipe', id: grown.id, print: recipeKey(grown.recipe) } : null;
}

/** Whether a document would compute that again. */
export function stands({ run, sources }: PieceDoc, { what, id, print }: UnderWay): boolean {
  if (what === 'recipe') return sources.some((s) => s.id === id && s.recipe && recipeKey(s.recipe) === print);
  return run.some((s) => s.on && s.id === id && printOf(s) === print);
}

/**
 * What is being computed, noted where it outlives the tab: a computation that takes the tab with it would else begin again
 * each time the piece is opened. Where the browser keeps nothing, that is how it is.
 */
export const underWayNotes = {
  note(pieceId: string, what: UnderWay): void {
    local.write(KEY + pieceId, JSON.stringify({ ...what, session: journal.session }));
  },

  /** Takes back what this page noted; what another one did stays. */
  clear(pieceId: string): void {
    if (noted(pieceId)?.session === journal.session) local.remove(KEY + pieceId);
  },

  /** What a page that is gone was computing of a piece when it ended, once. */
  async takeLeft(pieceId: string): Promise<UnderWay | null> {
    const found = noted(pieceId);
    if (!found || found.session === journal.session || !(await journal.isGone(found.session))) return null;
    local.remove(KEY + pieceId);
    const { what, id, print } = found;
    return { what, id, print };
  },
};

const noted = (pieceId: string) => underWaySchema.safeParse(local.readJson(KEY + pieceId)).data;
