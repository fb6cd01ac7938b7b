import type { LevelSettings } from '@lithe-sieve/core';
import { usePieceStore } from '../stores/piece.store';

/** Changes of how mip levels come about, by tray and by keys. */
export function useLevelActions() {
  const piece = usePieceStore();

  function preview(values: Partial<LevelSettings>): void {
    piece.preview((doc) => ({ ...doc, levels: { ...doc.levels, ...values } }));
  }

  function set(values: Partial<LevelSettings>, what: string): void {
    preview(values);
    piece.finish(`Mip levels: ${what}`);
  }

  /** Holds what the target averages, or leaves it; levels in the file go over to it. */
  function toggleHold(): void {
    const { levels } = piece.doc ?? {};
    if (!levels) return;
    const hold = levels.madeBy === 'file' || !levels.hold;
    set({ hold, madeBy: 'target' }, hold ? 'hold at distance' : 'as they are');
  }

  return { preview, set, toggleHold };
}
