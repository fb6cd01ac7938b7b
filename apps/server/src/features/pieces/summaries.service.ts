import type { PieceSummary } from '@lithe-sieve/contract';
import type { PieceDoc } from '@lithe-sieve/core';
import { In } from 'typeorm';
import type { Database } from '../../db/database.ts';
import { PieceEntity, SourceFile, type PieceRow } from '../../db/entities.ts';
import { notFound } from '../../http/app-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import type { SourcesService } from '../sources/sources.service.ts';
import type { PiecesService } from './pieces.service.ts';
import { readDoc } from './read-doc.ts';

interface Stored {
  coverage: number | null;
  snags: string[];
}

/** What the Stock shows of a piece; computed at proxy size when asked for, kept until the piece changes. */
export class SummariesService {
  private readonly underWay = new Map<string, Promise<void>>();

  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
    private readonly pieces: PiecesService,
    private readonly sources: SourcesService,
  ) {}

  async list(): Promise<PieceSummary[]> {
    const rows = await this.pieces.list();
    await Promise.all(rows.filter((r) => r.summaryRevision !== r.revision).map((r) => this.refresh(r)));
    return Promise.all((await this.pieces.list()).map((row) => this.summaryOf(row)));
  }

  /** The picture of the newest revision, made if it is not there yet. */
  async pictureOf(id: string): Promise<Buffer> {
    const row = await this.db.run((m) => m.findOneBy(PieceEntity, { id }));
    if (row && row.summaryRevision !== row.revision) await this.refresh(row);
    const rows: { picture: Buffer | null }[] = await this.db.run((m) =>
      m.query('SELECT picture FROM piece WHERE id = ?', [id]),
    );
    const picture = rows[0]?.picture;
    if (!picture) throw notFound('picture');
    return picture;
  }

  private async summaryOf(row: PieceRow): Promise<PieceSummary> {
    const doc = readDoc(row.doc);
    const [first] = doc.sources;
    const facts = first ? (await this.sources.factsOf([first.sha256])).get(first.sha256) : undefined;
    const stored = row.summary ? (JSON.parse(row.summary) as Stored) : { coverage: null, snags: [] };
    return {
      id: row.id,
      revision: row.revision,
      name: doc.name,
      width: facts?.width ?? 0,
      height: facts?.height ?? 0,
      mode: doc.material.mode,
      steps: doc.run.length,
      ...stored,
      updatedAt: row.updatedAt,
      handedOffAt: row.handedOffAt,
    };
  }

  private refresh(row: PieceRow): Promise<void> {
    const key = `${row.id}@${row.revision}`;
    const before = this.underWay.get(key);
    if (before) return before;
    const mine = this.compute(row).finally(() => this.underWay.delete(key));
    this.underWay.set(key, mine);
    return mine;
  }

  private async compute({ id, revision, doc: text }: PieceRow): Promise<void> {
    const doc = readDoc(text);
    if (doc.sources.length === 0) return;
    const proxies = await this.proxiesOf(doc);
    const { coverage, snags, png } = await this.pool.run({
      kind: 'summarise',
      doc,
      sources: proxies,
      ...(await this.pieces.byHand(doc)),
    });
    const summary = JSON.stringify({ coverage, snags } satisfies Stored);
    await this.db.run((m) =>
      m.update(PieceEntity, { id, revision }, { summaryRevision: revision, summary, picture: Buffer.from(png) }),
    );
  }

  private async proxiesOf(doc: PieceDoc) {
    const rows = await this.db.run((m) =>
      m.find(SourceFile, {
        where: { sha256: In(doc.sources.map((s) => s.sha256)) },
        select: { sha256: true, facts: true, proxyWidth: true, proxyHeight: true, proxy: true },
      }),
    );
    return doc.sources.map(({ id, sha256 }) => {
      const row = rows.find((r) => r.sha256 === sha256);
      if (!row) throw notFound('source');
      const proxy = { width: row.proxyWidth, height: row.proxyHeight, rgba: new Uint8Array(row.proxy) };
      return { id, sha256, facts: JSON.parse(row.facts) as never, proxy };
    });
  }
}
