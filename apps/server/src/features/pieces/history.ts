import { isDeepStrictEqual } from 'node:util';
import type { Edit, HistoryEntry } from '@lithe-sieve/contract';
import { FOLLOWED_KEPT, thinFollowed, type PieceDoc } from '@lithe-sieve/core';
import { LessThanOrEqual, MoreThan, type EntityManager } from 'typeorm';
import { History, type HistoryRow, type PieceRow } from '../../db/entities/piece.ts';
import { StudioError } from '../../studio-error.ts';
import { badEdit, patched } from './patched.ts';

const HISTORY_LIMIT = 1000;

/** What an edit makes of a document, and where the history stands after it. */
export interface Stepped {
  next: PieceDoc;
  position: number;
}

/** Takes a change into the history of a piece, or goes back or forth in it. */
export function stepHistory(m: EntityManager, row: PieceRow, doc: PieceDoc, edit: Edit): Promise<Stepped> {
  return edit.kind === 'do' ? append(m, row, doc, edit.entry) : travel(m, row, doc, edit.kind);
}

async function append(m: EntityManager, row: PieceRow, doc: PieceDoc, entry: HistoryEntry): Promise<Stepped> {
  const next = patched(doc, entry.patches);
  if (!isDeepStrictEqual(patched(next, entry.inverse), doc))
    throw badEdit('Undoing the change would not restore the piece exactly.');
  const seq = row.position + 1;
  await m.delete(History, { pieceId: row.id, seq: MoreThan(row.position) });
  await m.insert(History, {
    pieceId: row.id,
    seq,
    label: entry.label,
    patches: JSON.stringify(entry.patches),
    inverse: JSON.stringify(entry.inverse),
    followed: entry.followed ? 1 : 0,
  });
  if (entry.followed) await thin(m, row.id);
  await m.delete(History, { pieceId: row.id, seq: LessThanOrEqual(seq - HISTORY_LIMIT) });
  return { next, position: seq };
}

/** As the page does it with its own history. */
async function thin(m: EntityManager, pieceId: string): Promise<void> {
  const rows = await m.find(History, { where: { pieceId }, order: { seq: 'DESC' }, take: FOLLOWED_KEPT + 1 });
  const entries = rows.reverse().map((row) => ({ seq: row.seq, entry: readEntry(row) }));
  const read = entries.flatMap(({ seq, entry }) => (entry ? [{ seq, ...entry }] : []));
  const joined = thinFollowed(read);
  if (!joined) return;
  const [oldest] = read.slice(-FOLLOWED_KEPT - 1);
  await m.delete(History, { pieceId, seq: oldest.seq });
  await m.update(History, { pieceId, seq: joined.seq }, { inverse: JSON.stringify(joined.inverse) });
}

async function travel(m: EntityManager, row: PieceRow, doc: PieceDoc, kind: 'undo' | 'redo'): Promise<Stepped> {
  const [entry] = await m.find(History, {
    where: { pieceId: row.id, seq: kind === 'undo' ? LessThanOrEqual(row.position) : MoreThan(row.position) },
    order: { seq: kind === 'undo' ? 'DESC' : 'ASC' },
    take: 1,
  });
  if (!entry) throw new StudioError('conflict', 'no-history', `There is nothing to ${kind}.`, '');
  const patches = JSON.parse(kind === 'undo' ? entry.inverse : entry.patches) as HistoryEntry['patches'];
  return { next: patched(doc, patches), position: kind === 'undo' ? entry.seq - 1 : entry.seq };
}

/** How many of the entries that are still there are done. */
export function positionOf(m: EntityManager, { id, position }: Pick<PieceRow, 'id' | 'position'>): Promise<number> {
  return m.countBy(History, { pieceId: id, seq: LessThanOrEqual(position) });
}

/**
 * What of a stored history can be gone through: damage in one entry cuts off what lies beyond it, and nothing else.
 *
 * @param rows - In order.
 * @param position - The number of the last one that is done.
 */
export function readHistory(
  rows: readonly HistoryRow[],
  position: number,
): { history: HistoryEntry[]; position: number } {
  const entries = rows.map(readEntry);
  const at = rows.filter((r) => r.seq <= position).length;
  const from = entries.slice(0, at).lastIndexOf(null) + 1;
  const bad = entries.indexOf(null, at);
  const history = entries.slice(from, bad < 0 ? entries.length : bad).filter((e) => e !== null);
  return { history, position: at - from };
}

function readEntry({ label, patches, inverse, followed }: HistoryRow): HistoryEntry | null {
  try {
    return {
      label,
      patches: JSON.parse(patches) as HistoryEntry['patches'],
      inverse: JSON.parse(inverse) as HistoryEntry['inverse'],
      ...(followed ? { followed: true } : {}),
    };
  } catch {
    return null;
  }
}
