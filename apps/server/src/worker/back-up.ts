import { closeSync, fsyncSync, openSync, renameSync, rmSync } from 'node:fs';
import { dirname } from 'node:path';
import BetterSqlite3 from 'better-sqlite3';

/** A studio file copied whole while it is in use (SQLite, VACUUM INTO), checked, and only then given its name. */
export function backUp({ from, to }: { from: string; to: string }): Promise<void> {
  const part = `${to}.part`;
  rmSync(part, { force: true });
  const db = new BetterSqlite3(from, { readonly: true, fileMustExist: true, timeout: 5000 });
  try {
    db.prepare('VACUUM INTO ?').run(part);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  } finally {
    db.close();
  }
  assertWhole(part);
  sync(part);
  renameSync(part, to);
  sync(dirname(to));
  return Promise.resolve();
}

function assertWhole(file: string): void {
  const copy = new BetterSqlite3(file, { readonly: true });
  const [{ quick_check: found }] = copy.pragma('quick_check') as { quick_check: string }[];
  copy.close();
  if (found === 'ok') return;
  rmSync(file, { force: true });
  throw new Error(`the studio is damaged: ${found}`);
}

/** Onto the disk: the bytes of a file, or the names of a folder. */
function sync(path: string): void {
  const descriptor = openSync(path, 'r');
  fsyncSync(descriptor);
  closeSync(descriptor);
}

/** Gives free pages back to the disk, of a studio that was made before it did so by itself. Others may write after it. */
export function compact({ file }: { file: string }): Promise<void> {
  const db = new BetterSqlite3(file, { fileMustExist: true, timeout: 10_000 });
  try {
    db.pragma('auto_vacuum = INCREMENTAL');
    db.exec('VACUUM');
    db.pragma('wal_checkpoint(TRUNCATE)');
  } finally {
    db.close();
  }
  return Promise.resolve();
}
