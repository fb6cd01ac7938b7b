import { statfsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Freed, Studio, StudioCheck } from '@lithe-sieve/contract';
import { In, IsNull, LessThan, Not, type EntityManager } from 'typeorm';
import type { Logger } from 'pino';
import { STUDIO_FILE, type Database } from '../../db/database.ts';
import { BlobChunk, History, JobEntity, PieceEntity, SourceFile, StrokeEntity } from '../../db/entities.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import type { BackupsService } from './backups.service.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const MINUTE_MS = 60_000;
/** Between looks for what can go. */
const TIDY_MS = 5 * MINUTE_MS;
/** What a page may have sent and not yet named: no file that came in later is let go of. */
const FRESH_MS = HOUR_MS;
/** A version of a followed file is named within seconds, or told again. */
const FRESH_FOLLOWED_MS = MINUTE_MS;
/** A piece that was deleted by mistake comes back by one press for so long. */
const JUST_DELETED_MS = MINUTE_MS;
const SHA256 = /\b[0-9a-f]{64}\b/g;
/** Pages given back in one turn, so that others wait for milliseconds. */
const PAGES_AT_ONCE = 500;
/** Files let go of in one turn. */
const FILES_AT_ONCE = 8;

/** What takes room in the studio, and what of it can go. Nothing goes that an undo, a hand-off or a document names. */
export class StudioService {
  private timer: NodeJS.Timeout | undefined;
  private givingBack: Promise<void> | null = null;

  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
    private readonly backups: BackupsService,
    private readonly log: Logger,
    private readonly keepDays: number,
  ) {}

  /** Looks every few minutes. */
  start(): void {
    const tidy = () => void this.tidy().catch((error: unknown) => this.log.error({ err: error }, 'tidying'));
    this.timer = setInterval(tidy, TIDY_MS).unref();
  }

  stop(): void {
    clearInterval(this.timer);
  }

  async look(): Promise<Studio> {
    await this.mark();
    const { bavail, bsize } = statfsSync(this.db.folder);
    const size = (file: string) => statSync(file, { throwIfNoEntry: false })?.size ?? 0;
    return this.db.read(async (m) => {
      const one = async (sql: string) => (await m.query<{ bytes: number | null; count: number }[]>(sql))[0];
      const part = async (what: Studio['parts'][number]['what'], sql: string) => {
        const { bytes, count } = await one(sql);
        return { what, bytes: bytes ?? 0, count };
      };
      const inSources = 'SELECT sha256 FROM source_file';
      const unnamed = await one(
        'SELECT sum(bytes) AS bytes, count(*) AS count FROM source_file WHERE "unnamedSince" IS NOT NULL',
      );
      const [{ freelist_count: free }] = await m.query<{ freelist_count: number }[]>('PRAGMA freelist_count');
      const [{ page_size: page }] = await m.query<{ page_size: number }[]>('PRAGMA page_size');
      return {
        folder: this.db.folder,
        bytes: size(this.file) + size(`${this.file}-wal`),
        left: bavail * bsize,
        pieces: await m.countBy(PieceEntity, { deletedAt: IsNull() }),
        deletedPieces: await m.countBy(PieceEntity, { deletedAt: Not(IsNull()) }),
        parts: [
          await part('sources', 'SELECT sum(bytes + length(proxy)) AS bytes, count(*) AS count FROM source_file'),
          await part(
            'hand-offs',
            `SELECT sum(length(data)) AS bytes, count(DISTINCT sha256) AS count FROM blob_chunk WHERE sha256 NOT IN (${inSources})`,
          ),
          await part(
            'history',
            'SELECT sum(length(patches) + length(inverse)) AS bytes, count(*) AS count FROM history_entry',
          ),
          await part('strokes', 'SELECT sum(length(data)) AS bytes, count(*) AS count FROM stroke'),
          await part('pictures', 'SELECT sum(length(picture)) AS bytes, count(picture) AS count FROM piece'),
        ],
        unnamed: { bytes: unnamed.bytes ?? 0, count: unnamed.count },
        keepDays: this.keepDays,
        empty: free * page,
        backups: this.backups.list(),
        backupHours: this.backups.hours,
        backupProblem: this.backups.problem,
      };
    });
  }

  /** Lets go of everything that nothing names, whatever its days. Its room is given back to the disk behind the answer. */
  async free(): Promise<Freed> {
    const freed = await this.letGo(0, JUST_DELETED_MS);
    void this.giveBack().catch((error: unknown) => this.log.error({ err: error }, 'giving room back'));
    return freed;
  }

  /** As {@link free}, of what is older than the days that are set, and of versions of followed files. */
  async tidy(): Promise<void> {
    const freed = await this.letGo(this.keepDays * DAY_MS, this.keepDays * DAY_MS);
    if (freed.files + freed.pieces === 0) return;
    this.log.info(freed, 'let go of what nothing names');
    if (await this.givesBackByItself()) await this.giveBack();
  }

  check(): Promise<StudioCheck> {
    return this.pool.run({ kind: 'look-over', file: this.file });
  }

  /**
   * @param age - Since when nothing names a file; of versions of followed files, which no undo reaches, it does not count.
   * @param deletedAge - Of pieces.
   */
  private async letGo(age: number, deletedAge: number): Promise<Freed> {
    const pieces = await this.db.write((m) => dropDeletedPieces(m, before(deletedAge)));
    await this.mark();
    let [files, bytes] = [0, 0];
    for (;;) {
      const some = await this.db.write((m) => dropUnnamed(m, age));
      files += some.length;
      bytes += some.reduce((sum, row) => sum + row.bytes, 0);
      if (some.length < FILES_AT_ONCE) return { files, pieces, bytes };
    }
  }

  /** Notes since when nothing names a source. */
  private async mark(): Promise<void> {
    await this.db.write(async (m) => {
      const named = await namedFiles(m);
      const all = await m.find(SourceFile, { select: { sha256: true, unnamedSince: true, createdAt: true } });
      for (const { sha256, unnamedSince } of all) {
        if (named.has(sha256) === (unnamedSince === null)) continue;
        await m.update(SourceFile, { sha256 }, { unnamedSince: named.has(sha256) ? null : new Date().toISOString() });
      }
    });
  }

  private async givesBackByItself(): Promise<boolean> {
    const [{ auto_vacuum: mode }] = await this.db.read((m) => m.query<{ auto_vacuum: number }[]>('PRAGMA auto_vacuum'));
    return mode === 2;
  }

  /** In small turns, so that nobody waits for it. */
  private giveBack(): Promise<void> {
    this.givingBack ??= this.giveAllBack().finally(() => (this.givingBack = null));
    return this.givingBack;
  }

  private async giveAllBack(): Promise<void> {
    if (!(await this.givesBackByItself())) return void (await this.pool.run({ kind: 'compact', file: this.file }));
    for (let last = Infinity; ;) {
      const [{ freelist_count: free }] = await this.db.read((m) =>
        m.query<{ freelist_count: number }[]>('PRAGMA freelist_count'),
      );
      if (free === 0 || free >= last) break;
      last = free;
      await this.db.write((m) => m.query(`PRAGMA incremental_vacuum(${PAGES_AT_ONCE})`));
    }
    await this.db.checkpoint();
  }

  private get file(): string {
    return join(this.db.folder, STUDIO_FILE);
  }
}

/** The moment so long ago; a millisecond later than now for 0, so that what was just noted counts. */
const before = (ageMs: number) => new Date(Date.now() - ageMs + 1).toISOString();

/** Every file that a document, a history, a stroke or a hand-off names; damaged ones hold what can still be read of them. */
async function namedFiles(m: EntityManager): Promise<Set<string>> {
  const named = new Set<string>();
  const take = (text: string | null) => text?.match(SHA256)?.forEach((sha256) => named.add(sha256));
  for (const { doc } of await m.find(PieceEntity, { select: { id: true, doc: true } })) take(doc);
  const entries = await m.query<{ text: string }[]>(
    `SELECT patches || inverse AS text FROM history_entry WHERE patches LIKE '%sha256%' OR inverse LIKE '%sha256%'
     OR patches LIKE '%sources%' OR inverse LIKE '%sources%'`,
  );
  for (const { text } of entries) take(text);
  const strokes = await m.query<{ data: string }[]>(`SELECT data FROM stroke WHERE data LIKE '%"tip":"piece"%'`);
  for (const { data } of strokes) take(data);
  for (const { request } of await m.find(JobEntity, { select: { id: true, request: true } })) take(request);
  return named;
}

/** Some of the files that can go; none where anything is damaged: what it named cannot be known. */
async function dropUnnamed(m: EntityManager, age: number): Promise<{ sha256: string; bytes: number }[]> {
  if (await isDamaged(m)) return [];
  const due = await m.find(SourceFile, {
    where: [
      { unnamedSince: LessThan(before(age)), createdAt: LessThan(before(FRESH_MS)), followed: 0 },
      { unnamedSince: Not(IsNull()), createdAt: LessThan(before(FRESH_FOLLOWED_MS)), followed: 1 },
    ],
    select: { sha256: true, bytes: true },
    take: FILES_AT_ONCE,
  });
  const named = await namedFiles(m); // once more, in the same transaction
  const handedOff = await filesOfHandOffs(m);
  for (const { sha256 } of due) {
    if (named.has(sha256)) await m.update(SourceFile, { sha256 }, { unnamedSince: null });
    else {
      await m.delete(SourceFile, { sha256 });
      if (!handedOff.has(sha256)) await m.delete(BlobChunk, { sha256 });
    }
  }
  return due;
}

async function isDamaged(m: EntityManager): Promise<boolean> {
  const [{ n }] = await m.query<{ n: number }[]>(
    `SELECT (SELECT count(*) FROM piece WHERE NOT json_valid(doc)) +
     (SELECT count(*) FROM history_entry WHERE NOT (json_valid(patches) AND json_valid(inverse))) AS n`,
  );
  return n > 0;
}

async function filesOfHandOffs(m: EntityManager): Promise<Set<string>> {
  const jobs = await m.find(JobEntity, { select: { id: true, report: true } });
  return new Set(jobs.flatMap(({ report }) => report?.match(SHA256) ?? []));
}

/** Pieces that were deleted before `when`, with their history, strokes and hand-offs. */
async function dropDeletedPieces(m: EntityManager, when: string): Promise<number> {
  const ids = (await m.find(PieceEntity, { where: { deletedAt: LessThan(when) }, select: { id: true } })).map(
    (p) => p.id,
  );
  for (const id of ids) {
    const strokes = await m.find(StrokeEntity, { where: { pieceId: id }, select: { id: true } });
    await m.delete(PieceEntity, { id });
    await m.delete(History, { pieceId: id });
    await dropStrokes(
      m,
      strokes.map((s) => s.id),
    );
    const jobs = await m.find(JobEntity, { where: { pieceId: id } });
    await m.delete(JobEntity, { pieceId: id });
    const held = await filesOfHandOffs(m);
    for (const sha256 of new Set(jobs.flatMap(({ report }) => report?.match(SHA256) ?? []))) {
      if (!held.has(sha256) && !(await m.existsBy(SourceFile, { sha256 }))) await m.delete(BlobChunk, { sha256 });
    }
  }
  return ids.length;
}

/** Copies of a piece name the same strokes: those stay. */
async function dropStrokes(m: EntityManager, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const docs = await m.query<{ text: string }[]>(
    `SELECT doc AS text FROM piece WHERE doc LIKE '%"strokes"%' UNION ALL
     SELECT patches || inverse FROM history_entry WHERE patches LIKE '%strokes%' OR inverse LIKE '%strokes%'`,
  );
  const all = docs.map((d) => d.text).join('\n');
  const gone = ids.filter((id) => !all.includes(`"${id}"`));
  for (let i = 0; i < gone.length; i += 900) await m.delete(StrokeEntity, { id: In(gone.slice(i, i + 900)) });
}
