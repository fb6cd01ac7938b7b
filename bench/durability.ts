// What it costs to sync every change to the disk: the same changes on the same machine, in turn.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import BetterSqlite3 from 'better-sqlite3';

const CHANGES = 400;
const ROUNDS = 5;
/** About what one change of a piece writes. */
const DOC = 'x'.repeat(4000);

function median(values: number[]): number {
  return values.toSorted((a, b) => a - b)[values.length >> 1];
}

/** Milliseconds of one change, in its own transaction. */
function perChange(synchronous: 'FULL' | 'NORMAL'): number {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-durability-'));
  const db = new BetterSqlite3(join(folder, 'a.sqlite'));
  db.pragma('journal_mode = WAL');
  db.pragma(`synchronous = ${synchronous}`);
  db.exec(
    'CREATE TABLE piece (id INTEGER PRIMARY KEY, doc TEXT); CREATE TABLE history (seq INTEGER PRIMARY KEY, patch TEXT)',
  );
  db.prepare('INSERT INTO piece VALUES (1, ?)').run(DOC);
  const update = db.prepare('UPDATE piece SET doc = ? WHERE id = 1');
  const insert = db.prepare('INSERT INTO history (patch) VALUES (?)');
  const started = performance.now();
  for (let i = 0; i < CHANGES; i++) {
    db.exec('BEGIN IMMEDIATE');
    update.run(`${DOC}${i}`);
    insert.run(DOC.slice(0, 300));
    db.exec('COMMIT');
  }
  const ms = (performance.now() - started) / CHANGES;
  db.close();
  rmSync(folder, { recursive: true });
  return ms;
}

const full: number[] = [];
const normal: number[] = [];
for (let i = 0; i < ROUNDS; i++) {
  full.push(perChange('FULL'));
  normal.push(perChange('NORMAL'));
}
console.log('\nDurability: a change in a transaction of its own, ms (median of five, in turn)');
console.table([
  { synchronous: 'FULL (ours)', ms: median(full).toFixed(2) },
  { synchronous: 'NORMAL', ms: median(normal).toFixed(2) },
]);
