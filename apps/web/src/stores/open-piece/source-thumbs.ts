import { isRecipeKey, type SourceRef } from '@lithe-sieve/core';
import { shallowRef, watch } from 'vue';
import type { Engine } from '../../engine/engine';
import { smallRecipe } from '../../engine/small-recipes';
import type { Thumb } from '../../workers/types';

/** Side of the small picture of a recipe. */
const THUMB_SIDE = 96;
/** Recipes are grown small once they stay as they are for this long. */
const PAUSE_MS = 300;

/**
 * Small pictures of a piece's sources.
 *
 * @param shows - Whether the views have something: they come first.
 */
export function useSourceThumbs(sourcesOf: () => readonly SourceRef[], shows: () => boolean, engine: () => Engine) {
  const thumbs = shallowRef(new Map<string, Thumb>());
  let timer: ReturnType<typeof setTimeout> | undefined;

  /** Of files, which are decoded already. */
  async function takeFrom(from: Engine, sources: readonly SourceRef[]): Promise<void> {
    for (const { sha256, recipe } of sources) {
      if (recipe || thumbs.value.has(sha256)) continue;
      const thumb = await from.thumb(sha256);
      if (thumb) thumbs.value = new Map(thumbs.value).set(sha256, thumb);
    }
  }

  async function growSmall(): Promise<void> {
    for (const { sha256, recipe } of sourcesOf()) {
      if (!recipe || thumbs.value.has(sha256)) continue;
      const thumb = await smallRecipe(recipe, THUMB_SIDE, (part) => engine().picture(part)).catch(() => null);
      if (!thumb) continue;
      const isOld = (key: string) => isRecipeKey(key) && !sourcesOf().some((s) => s.sha256 === key);
      thumbs.value = new Map([...thumbs.value].filter(([key]) => !isOld(key))).set(sha256, thumb);
    }
  }

  watch(
    [sourcesOf, shows],
    ([, shown]) => {
      clearTimeout(timer);
      if (shown) timer = setTimeout(() => void growSmall(), PAUSE_MS);
    },
    { immediate: true },
  );

  return { sourceThumbs: thumbs, takeFrom };
}
