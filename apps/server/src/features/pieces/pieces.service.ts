import { isDeepStrictEqual } from 'node:util';
import { pieceDocSchema, type Edit, type HistoryEntry, type Piece } from '@lithe-sieve/contract';
import { PIECE_DEFAULTS, startingRun, guessRole, type PieceDoc, type SourceRef, type Stroke } from '@lithe-sieve/core';
import { applyPatches, enablePatches, type Patch } from 'immer';
import { IsNull, LessThanOrEqual, MoreThan, type EntityManager } from 'typeorm';
import { readBlobShared } from '../../db/blobs.ts';
import type { Database } from '../../db/database.ts';
import { History, PieceEntity, SourceFile, type PieceRow } from '../../db/entities.ts';
import { AppError, notFound } from '../../http/app-error.ts';
import { newId, type SourcesService } from '../sources/sources.service.ts';
import { readDoc } from './read-doc.ts';
import { tipsOf, type StrokesService } from './strokes.service.ts';

enablePatches();

const HISTORY_LIMIT = 1000;
/** More than ever wait in one browser for an answer that may be lost. */
const EDITS_REMEMBERED = 200;

export interface NewPiece {
  name: string;
  cardWidth?: number;
  sources: { sha256: string; fileName: string }[];
}

export class PiecesService {
  constructor(
    private readonly db: Database,
    private readonly sources: SourcesService,
    readonly strokes: StrokesService,
  ) {}

  async create({ name, cardWidth, sources }: NewPiece): Promise<string> {
    const facts = await this.sources.factsOf(sources.map((s) => s.sha256));
    const known = sources.map((source, i) => {
      const its = facts.get(source.sha256);
      if (!its) throw missingSource(source.fileName);
      const role = i === 0 ? 'colour' : guessRole(source.fileName, its);
      const ref: SourceRef = { ...source, id: newId(), role };
      return { ref, facts: its };
    });
    const doc: PieceDoc = {
      ...structuredClone(PIECE_DEFAULTS),
      name,
      ...(cardWidth ? { cardWidth } : {}),
      sources: known.map(({ ref }) => ref),
      run: startingRun(known, newId),
    };
    return this.insert(doc);
  }

  /** A document as a new piece: a duplicate, or the refused version of another tab. */
  async copy(doc: PieceDoc): Promise<string> {
    await this.assertSources(doc);
    return this.insert(doc);
  }

  private async insert(doc: PieceDoc): Promise<string> {
    const id = newId();
    const now = new Date().toISOString();
    await this.db.run((m) =>
      m.insert(PieceEntity, { id, revision: 1, position: 0, doc: JSON.stringify(doc), createdAt: now, updatedAt: now }),
    );
    return id;
  }

  async open(id: string): Promise<Piece> {
    const { row, entries } = await this.db.run(async (m) => ({
      row: await find(m, id),
      entries: await m.find(History, { where: { pieceId: id }, order: { seq: 'ASC' } }),
    }));
    const doc = readDoc(row.doc);
    const history: HistoryEntry[] = entries.map((e) => ({
      label: e.label,
      patches: JSON.parse(e.patches) as HistoryEntry['patches'],
      inverse: JSON.parse(e.inverse) as HistoryEntry['inverse'],
    }));
    const facts = Object.fromEntries(await this.sources.factsOf(doc.sources.map((s) => s.sha256)));
    const position = entries.filter((e) => e.seq <= row.position).length;
    const lastEdits = JSON.parse(row.lastEdits ?? '[]') as string[];
    return { id, revision: row.revision, doc, facts, history, position, lastEdits };
  }

  /**
   * One change, undo or redo. It must be based on the newest revision, so that a second tab cannot undo the first
   * unseen.
   */
  async edit(id: string, edit: Edit): Promise<{ revision: number; position: number }> {
    return this.db.run(async (m) => {
      const row = await find(m, id);
      const lastEdits = JSON.parse(row.lastEdits ?? '[]') as string[];
      if (edit.editId && lastEdits.includes(edit.editId)) return this.positionOf(m, row); // its answer was lost
      if (edit.baseRevision !== row.revision) {
        throw new AppError(
          409,
          'stale-revision',
          `This piece was changed elsewhere: it is at revision ${row.revision}, the change was made on ${edit.baseRevision}.`,
          'Load the newest version; yours is kept as a piece of its own.',
        );
      }
      const doc = readDoc(row.doc);
      const { next, position } = await this.step(m, row, doc, edit);
      await this.assertSources(next);
      if (edit.kind === 'do' && edit.strokes) await this.strokes.keep(m, id, edit.strokes);
      await this.strokes.assertKept(m, next, doc);
      const changed = {
        doc: JSON.stringify(next),
        revision: row.revision + 1,
        position,
        updatedAt: new Date().toISOString(),
        lastEdits: JSON.stringify(edit.editId ? [...lastEdits, edit.editId].slice(-EDITS_REMEMBERED) : lastEdits),
      };
      await m.update(PieceEntity, { id }, changed);
      return this.positionOf(m, { ...row, ...changed });
    });
  }

  private async positionOf(m: EntityManager, { id, revision, position }: PieceRow) {
    return { revision, position: await m.countBy(History, { pieceId: id, seq: LessThanOrEqual(position) }) };
  }

  private async step(
    m: EntityManager,
    row: PieceRow,
    doc: PieceDoc,
    edit: Edit,
  ): Promise<{ next: PieceDoc; position: number }> {
    if (edit.kind === 'do') {
      const next = patched(doc, edit.entry.patches);
      if (!isDeepStrictEqual(patched(next, edit.entry.inverse), doc)) {
        throw new AppError(400, 'bad-edit', 'The change does not come with its exact reverse.', 'Reload the page.');
      }
      const seq = row.position + 1;
      await m.delete(History, { pieceId: row.id, seq: MoreThan(row.position) });
      await m.insert(History, {
        pieceId: row.id,
        seq,
        label: edit.entry.label,
        patches: JSON.stringify(edit.entry.patches),
        inverse: JSON.stringify(edit.entry.inverse),
      });
      await m.delete(History, { pieceId: row.id, seq: LessThanOrEqual(seq - HISTORY_LIMIT) });
      return { next, position: seq };
    }
    const seq = edit.kind === 'undo' ? row.position : row.position + 1;
    const entry = await m.findOneBy(History, { pieceId: row.id, seq });
    if (!entry) throw new AppError(409, 'no-history', `There is nothing to ${edit.kind}.`, '');
    const patches = JSON.parse(edit.kind === 'undo' ? entry.inverse : entry.patches) as HistoryEntry['patches'];
    return { next: patched(doc, patches), position: edit.kind === 'undo' ? seq - 1 : seq };
  }

  /** What was done by hand in a document, and the files of the tips it was done with. */
  async byHand(doc: PieceDoc): Promise<{ strokes: Stroke[]; tips: { sha256: string; bytes: Uint8Array }[] }> {
    const strokes = await this.strokes.ofDoc(doc);
    const tips = [];
    for (const sha256 of tipsOf(strokes)) tips.push({ sha256, bytes: await this.fileOf(sha256) });
    return { strokes, tips };
  }

  /** A file that was brought in, in shared memory. */
  fileOf(sha256: string): Promise<Uint8Array> {
    return this.db.run(async (m) => {
      const row = await m.findOneBy(SourceFile, { sha256 });
      if (!row) throw notFound('source');
      return readBlobShared(m, sha256, row.bytes);
    });
  }

  async setDeleted(id: string, deleted: boolean): Promise<void> {
    await this.db.run(async (m) => {
      if (!(await m.existsBy(PieceEntity, { id }))) throw notFound('piece');
      await m.update(PieceEntity, { id }, { deletedAt: deleted ? new Date().toISOString() : null });
    });
  }

  list(): Promise<PieceRow[]> {
    return this.db.run((m) => m.find(PieceEntity, { where: { deletedAt: IsNull() }, order: { updatedAt: 'DESC' } }));
  }

  private async assertSources(doc: PieceDoc): Promise<void> {
    for (const { sha256, fileName } of doc.sources) {
      const rows: unknown[] = await this.db.source.query('SELECT 1 FROM source_file WHERE sha256 = ?', [sha256]);
      if (rows.length === 0) throw missingSource(fileName);
    }
  }
}

async function find(m: EntityManager, id: string): Promise<PieceRow> {
  const row = await m.findOneBy(PieceEntity, { id, deletedAt: IsNull() });
  if (!row) throw notFound('piece');
  return row;
}

function missingSource(fileName: string): AppError {
  return new AppError(400, 'missing-source', `${fileName} has not been brought in.`, 'Drop the file again.');
}

/** @throws AppError `bad-edit` where the patches do not lead to a valid document. */
function patched(doc: PieceDoc, patches: HistoryEntry['patches']): PieceDoc {
  let next: unknown;
  try {
    next = applyPatches(doc, patches as Patch[]);
  } catch (error) {
    throw new AppError(
      400,
      'bad-edit',
      `The change does not fit the piece: ${(error as Error).message}`,
      'Reload the page.',
    );
  }
  const checked = pieceDocSchema.safeParse(next);
  if (checked.success) return checked.data;
  const [issue] = checked.error.issues;
  throw new AppError(
    400,
    'bad-edit',
    `The change is not valid at ${issue.path.join('.')}: ${issue.message}`,
    'Reload the page.',
  );
}
