import { statfsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Freed, Studio, StudioCheck } from '@lithe-sieve/contract';
import { IsNull, Not, type EntityManager } from 'typeorm';
import type { Logger } from 'pino';
import { STUDIO_FILE, type Database } from '../../db/database.ts';
import { PieceEntity } from '../../db/entities/piece.ts';
import { SourceFile } from '../../db/entities/source.ts';
import { before, dropDeletedPieces, dropUnnamed, FILES_AT_ONCE, namedFiles } from '../../db/repositories/let-go.ts';
import {
  emptyPages,
  giveBackPages,
  givesBackByItself,
  roomOfParts,
  roomOfUnnamed,
} from '../../db/repositories/room.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import type { BackupsService } from './backups.service.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const MINUTE_MS = 60_000;
/** Between looks for what can go. */
const TIDY_MS = 5 * MINUTE_MS;
/** A piece that was deleted by mistake comes back by one press for so long. */
const JUST_DELETED_MS = MINUTE_MS;
/** Pages given back in one turn, so that others wait for milliseconds. */
const PAGES_AT_ONCE = 500;

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
      const { pages, pageBytes } = await emptyPages(m);
      return {
        folder: this.db.folder,
        bytes: size(this.file) + size(`${this.file}-wal`),
        left: bavail * bsize,
        pieces: await m.countBy(PieceEntity, { deletedAt: IsNull() }),
        deletedPieces: await m.countBy(PieceEntity, { deletedAt: Not(IsNull()) }),
        deleted: await deletedLast(m),
        parts: await roomOfParts(m),
        unnamed: await roomOfUnnamed(m),
        keepDays: this.keepDays,
        empty: pages * pageBytes,
        backups: this.backups.list(),
        backupHours: this.backups.hours,
        backupProblem: this.backups.problem,
      };
    });
  }

  /** Lets go of everything that nothing names, whatever its days. Its room is given back to the disk behind the answer. */
  async free(): Promise<Freed> {
    const freed = await this.letGo(0, JUST_DELETED_MS);
    void this.giveBack().catch((error: unknown) => this.log.error({ err: error }, 'returning free space to the disk'));
    return freed;
  }

  /** As {@link free}, of what is older than the days that are set, and of versions of followed files. */
  async tidy(): Promise<void> {
    const freed = await this.letGo(this.keepDays * DAY_MS, this.keepDays * DAY_MS);
    if (freed.files + freed.pieces === 0) return;
    this.log.info(freed, 'deleted unused data');
    if (await this.db.read(givesBackByItself)) await this.giveBack();
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
      const all = await m.find(SourceFile, { select: { sha256: true, unnamedSince: true } });
      for (const { sha256, unnamedSince } of all) {
        if (named.has(sha256) === (unnamedSince === null)) continue;
        await m.update(SourceFile, { sha256 }, { unnamedSince: named.has(sha256) ? null : new Date().toISOString() });
      }
    });
  }

  /** In small turns, so that nobody waits for it. */
  private giveBack(): Promise<void> {
    this.givingBack ??= this.giveAllBack().finally(() => (this.givingBack = null));
    return this.givingBack;
  }

  private async giveAllBack(): Promise<void> {
    if (!(await this.db.read(givesBackByItself)))
      return void (await this.pool.run({ kind: 'compact', file: this.file }));
    for (let last = Infinity; ;) {
      const { pages: free } = await this.db.read(emptyPages);
      if (free === 0 || free >= last) break;
      last = free;
      await this.db.write((m) => giveBackPages(m, PAGES_AT_ONCE));
    }
    await this.db.checkpoint();
  }

  private get file(): string {
    return join(this.db.folder, STUDIO_FILE);
  }
}

/** Deleted pieces that are listed, at the most. */
const MOST_DELETED = 100;

async function deletedLast(m: EntityManager): Promise<Studio['deleted']> {
  const rows = await m.find(PieceEntity, {
    where: { deletedAt: Not(IsNull()) },
    order: { deletedAt: 'DESC' },
    take: MOST_DELETED,
    select: { id: true, name: true, deletedAt: true },
  });
  return rows.flatMap(({ id, name, deletedAt }) => (deletedAt ? [{ id, name, deletedAt }] : []));
}
