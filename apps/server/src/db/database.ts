import 'reflect-metadata';
import { existsSync, mkdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import PQueue from 'p-queue';
import { DataSource, type EntityManager } from 'typeorm';
import { StartError } from './start-error.ts';
import { ENTITIES } from './entities.ts';
import { MIGRATIONS } from './migrations/index.ts';
import { asStorageError, StorageError, storageFaultOf } from './storage-error.ts';
import { StudioFile } from './studio-file.ts';
import { StudioLock } from './studio-lock.ts';

/** What is used of the driver's connection. */
interface Connection {
  readonly inTransaction: boolean;
  exec(sql: string): unknown;
  pragma(text: string): unknown;
}

export const STUDIO_FILE = 'studio.sqlite';

/** How long a lock of another program is waited out. */
const BUSY_WAIT_MS = 5000;
const BUSY_PAUSE_MS = 20;

const PAGE_BYTES = 8192;

/** The log is cut back to this after a checkpoint. */
const LOG_BYTES = 64 * 1024 * 1024;

/**
 * One SQLite file is one studio. The driver has one connection, so transactions that overlap in time would nest: all
 * work goes through one queue instead, each turn a transaction of its own. Transactions are begun and ended here, never
 * by TypeORM, whose count of them is wrong after SQLite has rolled back by itself (full disk, failing disk).
 */
export class Database {
  private readonly turns = new PQueue({ concurrency: 1 });

  private constructor(
    readonly source: DataSource,
    readonly folder: string,
    private readonly lock: StudioLock,
    private file: StudioFile,
  ) {}

  /** @throws FolderInUseError, StorageError */
  static async open(folder: string): Promise<Database> {
    makeFolder(folder);
    const lock = StudioLock.take(folder);
    const path = join(folder, STUDIO_FILE);
    const source = new DataSource({
      type: 'better-sqlite3',
      database: path,
      entities: ENTITIES,
      migrations: MIGRATIONS,
      timeout: 0, // a lock is waited out here, where it holds up nothing else
      prepareDatabase: (db: Connection) => {
        db.pragma(`page_size = ${PAGE_BYTES}`); // of a new file; most of it is pictures
        db.pragma('auto_vacuum = INCREMENTAL'); // of a new file: room that is freed can be given back bit by bit
        db.pragma('journal_mode = WAL');
        db.pragma('synchronous = FULL'); // an answered change outlives a power cut
        db.pragma(`journal_size_limit = ${LOG_BYTES}`);
      },
    });
    try {
      await waitOut(() => source.initialize());
      await waitOut(() => source.runMigrations());
    } catch (error) {
      if (source.isInitialized) await source.destroy();
      lock.release();
      throw asStorageError(error);
    }
    return new Database(source, folder, lock, new StudioFile(path));
  }

  /** A look at the studio, after all that was asked before. */
  read<R>(work: (manager: EntityManager) => Promise<R>): Promise<R> {
    return this.queue(() => waitOut(() => this.transaction('BEGIN', work)));
  }

  /**
   * A change of the studio, after all that was asked before. Resolves once it is committed to the file that lies in the
   * folder; on any error nothing of it is kept.
   *
   * @throws StorageError where the machine fails, else what `work` throws.
   */
  write<R>(work: (manager: EntityManager) => Promise<R>): Promise<R> {
    return this.queue(async () => {
      this.assertThere();
      const result = await this.transaction('BEGIN IMMEDIATE', work);
      this.assertThere();
      return result;
    });
  }

  /** Brings the log into the file, and cuts it. */
  checkpoint(): Promise<void> {
    return this.queue(() => {
      this.connection.pragma('wal_checkpoint(TRUNCATE)');
      return Promise.resolve();
    });
  }

  /** Whether the file is still the one that was opened. */
  isThere(): boolean {
    return this.file.isThere();
  }

  tellAddress(address: string): void {
    this.lock.tellAddress(address);
  }

  async close(): Promise<void> {
    await this.turns.onIdle();
    await this.source.destroy();
    this.lock.release();
  }

  private queue<R>(turn: () => Promise<R>): Promise<R> {
    return this.turns.add(turn).catch((error: unknown) => {
      throw asStorageError(error);
    });
  }

  private async transaction<R>(begin: string, work: (manager: EntityManager) => Promise<R>): Promise<R> {
    await waitOut(() => this.connection.exec(begin));
    try {
      const result = await work(this.source.manager);
      // SQLite ends a transaction by itself when the disk fails, even where `work` passes over the error
      if (!this.connection.inTransaction) throw new StorageError('io');
      this.connection.exec('COMMIT');
      return result;
    } finally {
      await this.leaveTransaction();
    }
  }

  /** The next turn begins on a connection without a transaction: rolled back, or reopened where that fails. */
  private async leaveTransaction(): Promise<void> {
    if (!this.connection.inTransaction) return;
    try {
      this.connection.exec('ROLLBACK');
    } catch {
      // looked at next
    }
    if (!this.connection.inTransaction) return;
    this.assertThere(); // opening would make an empty file
    await this.source.destroy();
    await this.source.initialize();
    this.file = new StudioFile(join(this.folder, STUDIO_FILE));
  }

  private assertThere(): void {
    if (!this.isThere()) throw new StorageError('gone');
  }

  /** Connection of the driver; another one after it was reopened. */
  private get connection(): Connection {
    return (this.source.driver as unknown as { databaseConnection: Connection }).databaseConnection;
  }
}

/** With those above it; below a folder that takes none (`/proc`) making them all at once would never end. */
function makeFolder(folder: string): void {
  const found = statSync(folder, { throwIfNoEntry: false });
  if (found && !found.isDirectory()) throw new StartError(`--data ${folder}: it is not a folder`);
  if (found) return;
  if (existsSync(dirname(folder))) mkdirSync(folder);
  else mkdirSync(folder, { recursive: true });
}

/** Tries again while another program holds the file. */
async function waitOut<R>(attempt: () => R | Promise<R>): Promise<R> {
  const until = performance.now() + BUSY_WAIT_MS;
  for (;;) {
    try {
      return await attempt();
    } catch (error) {
      if (storageFaultOf(error) !== 'busy' || performance.now() > until) throw error;
      await sleep(BUSY_PAUSE_MS);
    }
  }
}
