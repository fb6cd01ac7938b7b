import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import BetterSqlite3 from 'better-sqlite3';
import { StartError } from './start-error.ts';
import { asStorageError } from './storage-error.ts';

/** Who holds a folder: what the next server reports. */
interface Holder {
  address: string;
  process: number;
}

/** Another server works on the folder. */
export class FolderInUseError extends StartError {}

/**
 * One server per folder. The lock is SQLite's own on a file beside the studio: the system takes it back by itself when
 * the process ends, however it ends, so that nothing stale stays behind.
 */
export class StudioLock {
  private constructor(
    private readonly connection: BetterSqlite3.Database,
    private readonly addressFile: string,
  ) {}

  /** @throws FolderInUseError with the address of the server that holds the folder, StorageError. */
  static take(folder: string): StudioLock {
    const addressFile = join(folder, 'studio.address');
    const connection = open(join(folder, 'studio.lock'));
    try {
      connection.exec('BEGIN EXCLUSIVE');
    } catch (error) {
      connection.close();
      if (!String((error as { code?: unknown }).code).startsWith('SQLITE_BUSY')) throw error;
      const holder = readHolder(addressFile);
      const where = holder ? ` at ${holder.address} (process ${holder.process})` : '';
      throw new FolderInUseError(
        `Another server is already using ${folder}${where}. Use that one, stop it, or choose another folder with --data.`,
      );
    }
    return new StudioLock(connection, addressFile);
  }

  /** Leaves the address for the next server. */
  tellAddress(address: string): void {
    writeFileSync(this.addressFile, JSON.stringify({ address, process: process.pid } satisfies Holder));
  }

  release(): void {
    rmSync(this.addressFile, { force: true });
    this.connection.close();
  }
}

function open(file: string): BetterSqlite3.Database {
  try {
    return new BetterSqlite3(file, { timeout: 0 });
  } catch (error) {
    throw asStorageError(error);
  }
}

function readHolder(file: string): Holder | null {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Holder;
  } catch {
    return null; // it has not said its address yet
  }
}
