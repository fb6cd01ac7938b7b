import { HELD_NEWLY, MOST_PAINTED, type LevelSettings } from '@lithe-sieve/core';
import { usePiece } from '../stores/open-piece/open-piece';

type Size = { width: number; height: number };

/** Changes of how mip levels come about, by tray and by keys. */
export function useLevelActions() {
  const piece = usePiece();

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
    setHold(hold);
  }

  function setHold(hold: boolean): void {
    set({ ...(hold ? HELD_NEWLY : { hold }), madeBy: 'target' }, hold ? 'hold at distance' : 'as they are');
  }

  /** A source in the place of a level; '' takes it away. */
  function replace(level: number, sourceId: string): void {
    const others = (piece.doc?.levels.replaced ?? []).filter((r) => r.level !== level);
    const name = piece.sources.find((s) => s.id === sourceId)?.fileName;
    set(
      { replaced: sourceId ? [...others, { level, sourceId }] : others },
      `level ${level} ${name ?? 'as it is made'}`,
    );
  }

  /** Texels of a level kept or dropped by hand, on top of what was painted before. @returns false where they are too many. */
  function paint(level: number, size: Size, cells: ReadonlyMap<number, boolean>): boolean {
    const all = piece.doc?.levels.painted ?? [];
    const before = all.find((p) => p.level === level && p.width === size.width && p.height === size.height);
    const painted = new Map<number, boolean>();
    for (const at of before?.kept ?? []) painted.set(at, true);
    for (const at of before?.dropped ?? []) painted.set(at, false);
    for (const [at, kept] of cells) painted.set(at, kept);
    const list = (kept: boolean) => [...painted].filter(([, is]) => is === kept).map(([at]) => at);
    const [kept, dropped] = [list(true), list(false)];
    if (Math.max(kept.length, dropped.length) > MOST_PAINTED) return false;
    const { width, height } = size;
    const others = all.filter((p) => p.level !== level);
    set({ painted: [...others, { level, width, height, kept, dropped }] }, `paint on level ${level}`);
    return true;
  }

  function clearPaint(level: number): void {
    const { painted } = piece.doc?.levels ?? { painted: [] };
    set({ painted: painted.filter((p) => p.level !== level) }, `level ${level} without paint`);
  }

  return { preview, set, setHold, toggleHold, replace, paint, clearPaint };
}
