import 'reflect-metadata';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { DataSource, type EntityManager } from 'typeorm';
import { ENTITIES } from './entities.ts';
import { CreateTables1764028800000 } from './migrations/1764028800000-CreateTables.ts';
import { AddAllowedFolders1764115200000 } from './migrations/1764115200000-AddAllowedFolders.ts';
import { AddStrokes1764201600000 } from './migrations/1764201600000-AddStrokes.ts';

interface Pragmas {
  pragma(text: string): unknown;
}

/**
 * One SQLite file is one studio. TypeORM's driver has one connection, so transactions that overlap in time would nest:
 * all work goes through one queue instead, each turn a transaction of its own.
 */
export class Database {
  private tail: Promise<unknown> = Promise.resolve();

  private constructor(readonly source: DataSource) {}

  static async open(dataFolder: string): Promise<Database> {
    mkdirSync(dataFolder, { recursive: true });
    const source = new DataSource({
      type: 'better-sqlite3',
      database: join(dataFolder, 'studio.sqlite'),
      entities: ENTITIES,
      migrations: [CreateTables1764028800000, AddAllowedFolders1764115200000, AddStrokes1764201600000],
      prepareDatabase: (db: Pragmas) => {
        db.pragma('journal_mode = WAL');
        db.pragma('synchronous = NORMAL');
        db.pragma('foreign_keys = ON');
      },
    });
    await source.initialize();
    await source.runMigrations();
    return new Database(source);
  }

  /** Runs `work` in a transaction after all that was asked before; rolls back when it throws. */
  run<R>(work: (manager: EntityManager) => Promise<R>): Promise<R> {
    const turn = this.tail.then(() => this.source.transaction(work));
    this.tail = turn.catch(() => undefined);
    return turn;
  }

  async close(): Promise<void> {
    await this.tail;
    await this.source.destroy();
  }
}
