import type { PieceDoc } from '@lithe-sieve/core';
import { strokeIdsOf } from '@lithe-sieve/host';
import { In } from 'typeorm';
import type { Database } from '../../db/database.ts';
import { DamagedFileError } from '../../db/blobs.ts';
import { History, PieceEntity } from '../../db/entities/piece.ts';
import { SourceFile } from '../../db/entities/source.ts';
import { StrokeEntity, type StrokeRow } from '../../db/entities/stroke.ts';
import { notFound } from '../../studio-error.ts';
import type { SourcesService } from '../sources/sources.service.ts';
import { AT_ONCE } from './strokes.service.ts';

/** A part of what is copied out: bytes as they come. */
export interface SalvagedFile {
  name: string;
  chunks: AsyncIterable<Buffer> | Iterable<Buffer>;
}

const SHA256 = /\b[0-9a-f]{64}\b/g;

/** Copies out what the studio holds of a piece, read or not: its rows as they are, and every file that they name. */
export class SalvageService {
  constructor(
    private readonly db: Database,
    private readonly sources: SourcesService,
  ) {}

  /** @throws StudioError `not-found` where there is no such piece. */
  async *filesOf(id: string): AsyncGenerator<SalvagedFile> {
    const { row, history, own } = await this.db.read(async (m) => ({
      row: await m.findOneBy(PieceEntity, { id }),
      history: await m.find(History, { where: { pieceId: id }, order: { seq: 'ASC' } }),
      own: await m.findBy(StrokeEntity, { pieceId: id }),
    }));
    if (!row) throw notFound('piece');
    const strokes = [...own, ...(await this.drawnElsewhere(row.doc, new Set(own.map((s) => s.id))))];
    const text = (name: string, content: string) => ({ name, chunks: [Buffer.from(content)] });
    yield text('document.json', row.doc);
    yield text('history.json', JSON.stringify(history, null, 1));
    yield text('strokes.json', JSON.stringify(strokes, null, 1));
    const says: string[] = [];
    const named = [row.doc, ...strokes.map((s) => s.data)].flatMap((said) => said.match(SHA256) ?? []);
    for (const sha256 of new Set(named)) {
      const name = `sources/${sha256}`;
      try {
        const { chunks } = await this.sources.read(sha256);
        yield { name: `${name}.${await this.formatOf(sha256)}`, chunks };
      } catch (error) {
        says.push(error instanceof DamagedFileError ? error.message : `${sha256}: ${(error as Error).message}`);
      }
    }
    yield text('read-me.txt', [`What the studio holds of the piece ${row.name || id}.`, ...says, ''].join('\n'));
  }

  /** Strokes that a copy names belong to the piece that they were drawn in. */
  private async drawnElsewhere(doc: string, own: ReadonlySet<string>): Promise<StrokeRow[]> {
    const ids = strokeIdsIn(doc).filter((id) => !own.has(id));
    const found: StrokeRow[] = [];
    for (let i = 0; i < ids.length; i += AT_ONCE)
      found.push(...(await this.db.read((m) => m.findBy(StrokeEntity, { id: In(ids.slice(i, i + AT_ONCE)) }))));
    return found;
  }

  private async formatOf(sha256: string): Promise<string> {
    const row = await this.db.read((m) => m.findOneBy(SourceFile, { sha256 }));
    const format = /"format":"([a-z]+)"/.exec(row?.facts ?? '')?.[1];
    return format ?? 'file';
  }
}

/** As far as a document can be read. */
function strokeIdsIn(doc: string): string[] {
  try {
    return strokeIdsOf(JSON.parse(doc) as PieceDoc);
  } catch {
    return [];
  }
}
