import type { CopyPiece, Edit, Piece } from '@lithe-sieve/contract';
import {
  PIECE_DEFAULTS,
  startingRun,
  guessRole,
  type SourceRole,
  type StepEntry,
  type PieceDoc,
  type SourcePlace,
  type SourceRef,
  type Stroke,
} from '@lithe-sieve/core';
import { filesOf, partsOf, type PieceStore } from '@lithe-sieve/host';
import { IsNull, Like, Not, type EntityManager } from 'typeorm';
import { DamagedFileError, readBlobShared } from '../../db/blobs.ts';
import type { Database } from '../../db/database.ts';
import { History, PieceEntity, type PieceRow } from '../../db/entities/piece.ts';
import { SourceFile } from '../../db/entities/source.ts';
import { nextOf } from '../../db/sequence.ts';
import { StudioError, notFound } from '../../studio-error.ts';
import { readFacts, type SourcesService } from '../sources/sources.service.ts';
import type { TipProxy } from '../../worker/tasks.ts';
import { newId } from '../../new-id.ts';
import { positionOf, readHistory, stepHistory } from './history.ts';
import { readDoc } from './read-doc.ts';
import type { StrokesService } from './strokes.service.ts';

/** Exceeds any browser's unsent queue: an answer may be lost. */
const EDITS_REMEMBERED = 200;
/** More would not be read. */
const USERS_NAMED = 12;

export interface NewPiece {
  name: string;
  cardWidth?: number;
  /** Behind the steps that it starts with. */
  more?: readonly StepEntry[];
  /** How it lies on its card; left out: flat. */
  card?: Pick<PieceDoc, 'form' | 'set' | 'outline'> | undefined;
  sources: {
    sha256: string;
    fileName: string;
    role?: SourceRole | undefined;
    place?: SourcePlace | undefined;
  }[];
}

export class PiecesService implements PieceStore {
  /** Hears of each piece that was changed or deleted. */
  changed: (id: string) => void = () => undefined;

  constructor(
    private readonly db: Database,
    private readonly sources: SourcesService,
    readonly strokes: StrokesService,
  ) {}

  async create({ name, cardWidth, sources, more = [], card }: NewPiece): Promise<string> {
    const facts = await this.sources.factsOf(sources.map((s) => s.sha256));
    const known = sources.map((source, i) => {
      const known = facts.get(source.sha256);
      if (!known) throw missingSource(source.fileName);
      const role = i === 0 ? 'colour' : (source.role ?? guessRole(source.fileName, known));
      const ref: SourceRef = { ...source, id: newId(), role };
      return { ref, facts: known };
    });
    const doc: PieceDoc = {
      ...structuredClone(PIECE_DEFAULTS),
      name,
      ...(cardWidth ? { cardWidth } : {}),
      ...card,
      sources: known.map(({ ref }) => ref),
      run: [...startingRun(known, newId), ...more],
    };
    return this.db.write((m) => insert(m, doc));
  }

  /** A document as a new piece: a duplicate, or a version that was refused, with strokes that never got here. */
  copy({ id: wanted, doc, strokes = [] }: CopyPiece): Promise<string> {
    return this.db.write(async (m) => {
      if (wanted && (await m.existsBy(PieceEntity, { id: wanted }))) return wanted; // its answer was lost
      await assertSources(m, doc);
      const id = await insert(m, doc, wanted);
      await this.strokes.keep(m, id, strokes);
      await this.strokes.assertKept(m, doc, null);
      return id;
    });
  }

  async open(id: string): Promise<Piece> {
    const { row, entries } = await this.db.read(async (m) => ({
      row: await find(m, id),
      entries: await m.find(History, { where: { pieceId: id }, order: { seq: 'ASC' } }),
    }));
    const doc = readDoc(row.doc);
    const facts = Object.fromEntries(await this.sources.factsOfDoc(doc));
    const { history, position } = readHistory(entries, row.position);
    return { id, revision: row.revision, doc, facts, history, position, lastEdits: editsOf(row) };
  }

  /**
   * One change, undo or redo. It must be based on the newest revision, so that a second tab cannot undo the first
   * unseen. Resolves once it is committed.
   */
  async edit(id: string, edit: Edit): Promise<{ revision: number; position: number }> {
    const answer = await this.db.write(async (m) => {
      const row = await find(m, id);
      const lastEdits = editsOf(row);
      if (edit.editId && lastEdits.includes(edit.editId)) return answerOf(m, row); // its answer was lost
      if (edit.baseRevision !== row.revision) {
        throw new StudioError(
          'conflict',
          'stale-revision',
          `This piece was changed elsewhere: it is at revision ${row.revision}, the change was made on ${edit.baseRevision}.`,
          'Load the newest version; yours is kept as a separate piece.',
        );
      }
      const doc = readDoc(row.doc);
      const { next, position } = await stepHistory(m, row, doc, edit);
      await assertSources(m, next);
      if (edit.kind === 'do' && edit.strokes) await this.strokes.keep(m, id, edit.strokes);
      await this.strokes.assertKept(m, next, doc);
      const changed = {
        doc: JSON.stringify(next),
        revision: row.revision + 1,
        position,
        updatedAt: new Date().toISOString(),
        lastEdits: JSON.stringify(edit.editId ? [...lastEdits, edit.editId].slice(-EDITS_REMEMBERED) : lastEdits),
        ...(await listed(m, next)),
      };
      await m.update(PieceEntity, { id }, changed);
      return answerOf(m, { ...row, ...changed });
    });
    this.changed(id);
    return answer;
  }

  async docOf(id: string): Promise<PieceDoc> {
    return (await this.open(id)).doc;
  }

  strokesOf(doc: PieceDoc): Promise<Stroke[]> {
    return this.strokes.ofDoc(doc);
  }

  /** What was done by hand in a document, and small copies of the files of its tips, and of what recipes are made of. */
  async byHandSmall(doc: PieceDoc): Promise<{ strokes: Stroke[]; tips: TipProxy[] }> {
    const strokes = await this.strokes.ofDoc(doc);
    const tips: TipProxy[] = [];
    for (const sha256 of filesOf(doc, strokes).keys()) tips.push({ sha256, proxy: await this.sources.proxyOf(sha256) });
    return { strokes, tips };
  }

  /**
   * A file that was brought in, in shared memory.
   *
   * @param called - Its name, for an error.
   */
  fileOf(sha256: string, called: string): Promise<Uint8Array> {
    return this.db.read(async (m) => {
      const row = await m.findOneBy(SourceFile, { sha256 });
      if (!row) throw missingSource(called);
      return readBlobShared(m, sha256, row.bytes).catch((error: unknown) => {
        throw error instanceof DamagedFileError ? new DamagedFileError(sha256, called) : error;
      });
    });
  }

  async setDeleted(id: string, deleted: boolean): Promise<void> {
    await this.db.write(async (m) => {
      if (!(await m.existsBy(PieceEntity, { id }))) throw notFound('piece');
      await m.update(PieceEntity, { id }, { deletedAt: deleted ? new Date().toISOString() : null });
    });
    if (deleted) this.changed(id);
  }

  /** Names of the first pieces that hold a copy of this one, as a part or as holes to cut. */
  async usersOf(id: string): Promise<string[]> {
    const mention = Like(`%"piece":"${id}"%`);
    const where = { doc: mention, id: Not(id), deletedAt: IsNull() };
    const rows = await this.db.read((m) =>
      m.find(PieceEntity, { select: { name: true }, where, order: { changeSeq: 'DESC' }, take: USERS_NAMED }),
    );
    return rows.map((row) => row.name);
  }

  /** Whether no piece was ever made. */
  async isEmpty(): Promise<boolean> {
    return (await this.db.read((m) => m.count(PieceEntity))) === 0;
  }
}

async function insert(m: EntityManager, doc: PieceDoc, id = newId()): Promise<string> {
  const now = new Date().toISOString();
  await m.insert(PieceEntity, {
    id,
    revision: 1,
    position: 0,
    doc: JSON.stringify(doc),
    createdAt: now,
    updatedAt: now,
    ...(await listed(m, doc)),
  });
  return id;
}

/** The columns that the Stock lists a piece by, as of its newest change. */
async function listed(m: EntityManager, { name, material, run, sources }: PieceDoc) {
  const [first] = sources;
  const row = first?.recipe ? null : first && (await m.findOneBy(SourceFile, { sha256: first.sha256 }));
  const { width, height } = first?.recipe ?? (row && readFacts(row)) ?? { width: 0, height: 0 };
  return {
    changeSeq: await nextOf(m, 'piece', 'changeSeq'),
    name,
    mode: material.mode,
    steps: run.length,
    width,
    height,
  };
}

async function find(m: EntityManager, id: string): Promise<PieceRow> {
  const row = await m.findOneBy(PieceEntity, { id, deletedAt: IsNull() });
  if (!row) throw notFound('piece');
  return row;
}

async function answerOf(m: EntityManager, row: PieceRow): Promise<{ revision: number; position: number }> {
  return { revision: row.revision, position: await positionOf(m, row) };
}

/** Ids of the newest changes; where they are damaged, none: a change that is sent twice is then stale, not lost. */
function editsOf({ lastEdits }: PieceRow): string[] {
  try {
    return JSON.parse(lastEdits ?? '[]') as string[];
  } catch {
    return [];
  }
}

async function assertSources(m: EntityManager, doc: PieceDoc): Promise<void> {
  for (const { sha256, name } of partsOf(doc)) {
    if (!(await m.existsBy(SourceFile, { sha256 }))) throw missingSource(`of the part ${name}`);
  }
  if (doc.mesh && !(await m.existsBy(SourceFile, { sha256: doc.mesh.sha256 }))) throw missingSource(doc.mesh.fileName);
  for (const { sha256, fileName, recipe } of doc.sources) {
    if (recipe) continue; // it is in the document, whole
    if (!(await m.existsBy(SourceFile, { sha256 }))) throw missingSource(fileName);
  }
}

function missingSource(fileName: string): StudioError {
  return new StudioError(
    'refused',
    'missing-source',
    `The file ${fileName} is not in the studio.`,
    'Drop the file again.',
  );
}
