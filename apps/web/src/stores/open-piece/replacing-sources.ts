import type { LevelSettings, Picture } from '@lithe-sieve/core';
import { computed, shallowRef, watch, type ComputedRef } from 'vue';
import type { EngineStore } from './engine';
import type { PieceStore } from './piece';

/** The pictures of the sources that replace mip levels, by their id, as soon as they are there. */
export function useReplacingSources(piece: PieceStore, engine: EngineStore, settings: ComputedRef<LevelSettings>) {
  const wanted = computed(() => {
    const ids = new Set(settings.value.madeBy === 'file' ? settings.value.replaced.map((r) => r.sourceId) : []);
    return piece.sources.filter((s) => ids.has(s.id)).map(({ id, sha256 }) => ({ id, sha256 }));
  });
  const key = computed(() => wanted.value.map(({ id, sha256 }) => `${id} ${sha256}`).join());
  const pictures = shallowRef<ReadonlyMap<string, Picture>>(new Map());
  /** The sources that the pictures belong to. */
  const loaded = shallowRef('');

  watch(
    [key, () => engine.mask !== null],
    async ([of]) => {
      if (of === loaded.value || !engine.mask) return; // the engine has none of its pictures yet
      const found = await Promise.all(
        wanted.value.map(async ({ id, sha256 }) => [id, await engine.engine().picture(sha256)] as const),
      ).catch(() => []); // such a level stays as it is made, the source's own tile says why
      if (key.value !== of) return;
      pictures.value = new Map(found.flatMap(([id, picture]) => (picture ? [[id, picture] as const] : [])));
      loaded.value = of;
    },
    { immediate: true },
  );

  return { pictures, loaded };
}
