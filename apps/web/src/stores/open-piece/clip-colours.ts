import { toPlainError, type LevelSettings, type Picture } from '@lithe-sieve/core';
import { computed, shallowRef, watch, type Ref } from 'vue';
import type { ClipEngine } from '../../engine/clip-engine';
import type { EngineStore } from './engine';

interface Given {
  engine: EngineStore;
  settings: Readonly<Ref<LevelSettings>>;
  /** The levels of the mask, where they are of what is shown; null before. */
  made: Readonly<Ref<object | null>>;
  replacing: { loaded: Readonly<Ref<string>>; pictures: Readonly<Ref<ReadonlyMap<string, Picture>>> };
  clipEngine: () => ClipEngine;
  failed: (error: { message: string; remedy: string }) => void;
}

/** The colour of levels of our own; null where the target averages it, or where it is not there yet. */
export function useClipColours({ engine, settings, made, replacing, clipEngine, failed }: Given) {
  const coloured = shallowRef<{ of: string; levels: Picture[] } | null>(null);
  /** All that decides on it: not the cutoff, a drag of which must not bring every texel to the Stand again. */
  const basis = computed(() => {
    const { madeBy, filter, wrapAcross, wrapDown, replaced } = settings.value;
    const colour = engine.levelsOf('colour')?.[0];
    const mask = engine.maskIsFull ? engine.mask : null;
    if (madeBy === 'target' || !mask || !colour || colour.width !== mask.levels[0].width) return '';
    const own = [filter, wrapAcross, wrapDown, replaced, replacing.loaded.value];
    return JSON.stringify([engine.maps!.key, mask.key, mask.turn, own]);
  });
  const colours = computed(() => (coloured.value?.of === basis.value ? coloured.value.levels : null));

  watch([made, basis], async ([now, of]) => {
    if (!now || of === '' || coloured.value?.of === of) return; // the levels of the mask come first
    const colour = engine.levelsOf('colour')![0] as Picture;
    const request = { colour, mask: engine.mask!.levels[0], levels: settings.value, sources: replacing.pictures.value };
    try {
      const found = await clipEngine().colours(request);
      if (found && basis.value === of) coloured.value = { of, levels: found };
    } catch (error) {
      if (made.value === now) failed(toPlainError(error));
    }
  });

  return { colours, forget: () => void (coloured.value = null) };
}
