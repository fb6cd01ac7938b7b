import { existsSync, mkdirSync, readdirSync, rmSync, statfsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Studio } from '@lithe-sieve/contract';
import type { PlainError } from '@lithe-sieve/core';
import type { Logger } from 'pino';
import { STUDIO_FILE, type Database } from '../../db/database.ts';
import { StudioError } from '../../studio-error.ts';
import type { WorkerPool } from '../../worker/pool.ts';

const KEPT = 2;
const HOUR_MS = 3_600_000;
const LOOK_MS = HOUR_MS / 4;
/** After the start, so that it does not compete with the first page. */
const FIRST_LOOK_MS = 60_000;
const NAME = /^studio-(\d{6})\.sqlite$/;

/** Backups that are made by themselves, the newest two kept, counted up so that no clock decides which is newer. */
export class BackupsService {
  problem: PlainError | null = null;
  private underWay: Promise<void> | null = null;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly db: Database,
    private readonly pool: WorkerPool,
    private readonly log: Logger,
    readonly hours: number,
  ) {}

  start(): void {
    if (this.hours === 0) return;
    const look = () => {
      void this.makeIfDue();
      this.timer = setTimeout(look, LOOK_MS).unref();
    };
    this.timer = setTimeout(look, FIRST_LOOK_MS).unref();
  }

  /** A failure is said on the Studio page and in the log; it never ends the server. */
  private async makeIfDue(): Promise<void> {
    try {
      if (this.isDue()) await this.make();
    } catch (error) {
      this.log.warn({ err: error }, 'no backup this time');
    }
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  /** Newest first. */
  list(): Studio['backups'] {
    return this.names().map((name) => {
      const { size, mtime } = statSync(join(this.folder, name));
      return { name, bytes: size, madeAt: mtime.toISOString() };
    });
  }

  /** Resolves when the backup is on the disk. @throws StudioError, after which the ones before are as they were. */
  make(): Promise<void> {
    this.underWay ??= this.run().finally(() => (this.underWay = null));
    return this.underWay;
  }

  private async run(): Promise<void> {
    try {
      mkdirSync(this.folder, { recursive: true });
      this.assertRoom();
      const newest = Number(NAME.exec(this.names()[0] ?? '')?.[1] ?? 0);
      const name = `studio-${String(newest + 1).padStart(6, '0')}.sqlite`;
      await this.pool.run({ kind: 'back-up', from: this.file, to: join(this.folder, name) });
      for (const old of this.names().slice(KEPT)) rmSync(join(this.folder, old), { force: true });
      this.problem = null;
      this.log.info({ backup: name }, 'backup made');
    } catch (error) {
      const message = `The backup was not made: ${(error as Error).message}`;
      const { code, remedy } =
        error instanceof StudioError ? error : { code: 'no-backup', remedy: 'Earlier backups are unchanged.' };
      this.problem = { code, message, remedy };
      this.log.error({ err: error }, message);
      throw new StudioError('no-room', code, message, remedy);
    }
  }

  private assertRoom(): void {
    const { bavail, bsize } = statfsSync(this.folder);
    const needed = statSync(this.file).size;
    if (bavail * bsize > needed * 1.1) return;
    const inMb = (bytes: number) => Math.round(bytes / 1024 / 1024);
    throw new StudioError(
      'no-room',
      'storage-full',
      `it takes ${inMb(needed)} MB, and ${inMb(bavail * bsize)} MB are left on the disk.`,
      'Free some space. Earlier backups are unchanged.',
    );
  }

  /** Something was written since the newest one, and that is old enough. */
  private isDue(): boolean {
    const [newest] = this.list();
    if (!newest) return true;
    const madeAt = Date.parse(newest.madeAt);
    const changedAt = Math.max(
      ...[this.file, `${this.file}-wal`].map((f) => statSync(f, { throwIfNoEntry: false })?.mtimeMs ?? 0),
    );
    return changedAt > madeAt && Math.abs(Date.now() - madeAt) > this.hours * HOUR_MS;
  }

  private names(): string[] {
    if (!existsSync(this.folder)) return [];
    const all = readdirSync(this.folder);
    return all.filter((name) => NAME.test(name)).sort((a, b) => b.localeCompare(a));
  }

  private get folder(): string {
    return join(this.db.folder, 'backups');
  }
  private get file(): string {
    return join(this.db.folder, STUDIO_FILE);
  }
}
