import { recipeKey, recipeKind, RECIPE_SEED, type PieceDoc, type Recipe, type SourceRef } from '@lithe-sieve/core';
import { usePiece } from '../stores/open-piece/open-piece';

/** A source with a changed recipe: its key goes along. */
export function withRecipe(
  source: SourceRef,
  change: Partial<Omit<Recipe, 'kind' | 'params'>>,
  params: object = {},
): SourceRef {
  const { recipe } = source;
  if (!recipe) return source;
  const changed = { ...recipe, ...change, params: { ...recipe.params, ...params } } as Recipe;
  return { ...source, recipe: changed, sha256: recipeKey(changed) };
}

/** Everything that can be done to a recipe, by mouse and by keys alike. */
export function useRecipeActions() {
  const piece = usePiece();

  const apply = (id: string, change: (source: SourceRef) => SourceRef, more: Partial<PieceDoc> = {}) => {
    piece.preview((doc) => ({ ...doc, ...more, sources: doc.sources.map((s) => (s.id === id ? change(s) : s)) }));
  };

  /** While a control or a handle is dragged. A width in millimetres is that of the card too. */
  function preview(source: SourceRef, params: object): void {
    const across = 'across' in params && piece.sources[0]?.id === source.id ? Number(params.across) : 0;
    apply(source.id, (s) => withRecipe(s, {}, params), across > 0 ? { cardWidth: across / 1000 } : {});
  }

  function set(source: SourceRef, params: object, what: string): void {
    preview(source, params);
    piece.finish(`${source.fileName}: ${what}`);
  }

  /** Parts of a recipe and where they lie, in one step. */
  function setParts(source: SourceRef, parts: Recipe['parts'], params: object, what: string): void {
    apply(source.id, (s) => withRecipe(s, { parts }, params));
    piece.finish(`${source.fileName}: ${what}`);
  }

  /** Size, seed, parts or version. */
  function setFrame(
    source: SourceRef,
    change: Partial<Pick<Recipe, 'seed' | 'width' | 'height' | 'parts' | 'version'>>,
    what: string,
  ): void {
    apply(source.id, (s) => withRecipe(s, change));
    piece.finish(`${source.fileName}: ${what}`);
  }

  /** Draws it by the newest version of its kind from now on, looking as alike as can be. */
  function takeNewest(source: SourceRef): void {
    if (!source.recipe) return;
    const kind = recipeKind(source.recipe.kind);
    const { version } = kind;
    const params = kind.upgraded?.(source.recipe.params) ?? {};
    apply(source.id, (s) => withRecipe(s, { version }, params));
    piece.finish(`${source.fileName}: version ${version}`);
  }

  function reseed(source: SourceRef): void {
    const seed = 1 + Math.floor(Math.random() * RECIPE_SEED.max);
    setFrame(source, { seed }, `seed ${seed}`);
  }

  return { preview, set, setParts, setFrame, takeNewest, reseed, abandon: piece.abandon };
}
