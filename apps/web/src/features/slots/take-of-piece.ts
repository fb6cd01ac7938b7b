import { mapKind, type MapName } from '@lithe-sieve/core';
import { useSlotActions, type SlotRow } from '../../actions/slot-actions';
import { useBringInStore } from '../../stores/bring-in.store';
import { useMapFile, type OtherPiece } from '../stock/other-pieces';

/** Fills a slot with a map of another piece, which becomes a source here. */
export function useTakeOfPiece(): (row: SlotRow, wanted: MapName, other: OtherPiece) => Promise<void> {
  const bringIn = useBringInStore();
  const mapFile = useMapFile();
  const slots = useSlotActions();
  return async (row, wanted, other) => {
    const { file } = await mapFile(other, wanted);
    const sourceId = await bringIn.asSource(file);
    if (!sourceId) return;
    slots.fill(row, { ...row.fromSource, sourceId }, `the ${mapKind(wanted).label} of ${other.doc.name}`);
  };
}
