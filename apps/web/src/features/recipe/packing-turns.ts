import { recipeKey, type AtlasPacking, type AtlasPlace, type Recipe, type RecipePart } from '@lithe-sieve/core';

export type Atlas = Extract<Recipe, { kind: 'atlas' }>;

/** Parts of an atlas, where those lie that are known, and whether these places stay. */
export interface Wanted {
  parts: RecipePart[];
  placed: AtlasPlace[];
  keep: boolean;
}

/** One atlas, whatever is shown meanwhile. */
interface Host {
  /** The atlas as it is now; none where its piece was left. */
  current: () => Atlas | undefined;
  pack: (atlas: Atlas, keep: boolean) => Promise<AtlasPacking>;
  apply: (parts: RecipePart[], placed: AtlasPlace[], what: string) => void;
}

/**
 * Changes of an atlas that are packed take their turns, and each starts from what the atlas is by then: packing takes
 * seconds in which it may be dragged, undone, or changed again, and none of that is lost.
 *
 * @returns what packs: resolves to the packing, or to the error for which the parts are there without places.
 */
export function packingTurns() {
  let last: Promise<unknown> = Promise.resolve();

  async function turn(
    { current, pack, apply }: Host,
    edit: (atlas: Atlas) => Wanted,
    what: string,
  ): Promise<AtlasPacking | Error | null> {
    for (;;) {
      const atlas = current();
      if (!atlas) return null;
      const { parts, placed, keep } = edit(atlas);
      const found = await pack({ ...atlas, parts, params: { ...atlas.params, placed } }, keep).catch((e: Error) => e);
      const now = current();
      if (now && recipeKey(now) !== recipeKey(atlas)) continue; // it was changed meanwhile
      if (!now) return null;
      apply(parts, found instanceof Error ? placed : found.placed, what);
      return found;
    }
  }

  return (host: Host, edit: (atlas: Atlas) => Wanted, what: string) => {
    const mine = last.then(() => turn(host, edit, what));
    last = mine.catch(() => undefined);
    return mine;
  };
}
