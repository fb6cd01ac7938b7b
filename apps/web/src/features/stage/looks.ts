import { useBenchStore } from '../../stores/bench.store';
import type { MapLook, SheetMode } from '../../drawing/flat-view';
import type { SheetLook } from '../../drawing/sheet-pose';
import type { Stage } from './stage';
import type { StandPlace } from '../../drawing/stand-pose';

/** How a piece was looked at when it was left. */
interface Look {
  sheet: SheetLook;
  stand: StandPlace;
  distance: number;
  sheetMode: SheetMode;
  mapLook: MapLook;
}

/** How pieces were left in this session. */
const left = new Map<string, Look>();
/** The piece that the stage shows, and what is still to be taken up of how it was left. */
let shown = '';
let waiting: SheetLook | null = null;

/** Each piece is looked at as it was left in this session; one that is new, from the front and framed. */
export function useLooks() {
  const bench = useBenchStore();

  function lookAgain(stage: Stage, pieceId: string): void {
    if (pieceId === shown) return;
    const { sheetMode, mapLook, distance } = bench;
    // distances as shares of that of the whole card: the field of view may be another one then
    if (shown) {
      const { look: sheet } = stage.sheet;
      left.set(shown, { sheet, stand: stage.stand.place, distance: distance / bench.wholeCard, sheetMode, mapLook });
    }
    shown = pieceId;
    stage.forget();
    const look = left.get(pieceId);
    waiting = look?.sheet ?? null;
    stage.sheet.forget();
    stage.stand.takeUp(look?.stand ?? null);
    bench.distance = (look?.distance ?? 1) * bench.wholeCard;
    bench.sheetMode = look?.sheetMode ?? 'kept';
    bench.mapLook = look?.mapLook ?? 'cut';
  }

  /** Once the size of its picture is known. */
  function lookAsLeft(stage: Stage, pieceId: string): void {
    if (pieceId !== shown || !waiting) return;
    stage.sheet.takeUp(waiting);
    waiting = null;
  }

  return { lookAgain, lookAsLeft };
}
