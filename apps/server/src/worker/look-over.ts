import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { pieceDocSchema, type StudioCheck } from '@lithe-sieve/contract';
import { partFiles } from '@lithe-sieve/core';
import BetterSqlite3 from 'better-sqlite3';
import { StartError } from '../db/start-error.ts';

const SHA256 = /\b[0-9a-f]{64}\b/g;

/** Findings listed of one kind; the rest is counted. */
const MOST = 50;

/**
 * Looks a studio file over: its pages, the bytes of every source and hand-off against their hashes, every document,
 * history and stroke. Reads only; the studio may be in use meanwhile.
 */
export function lookOver({ file }: { file: string }): Promise<StudioCheck> {
  if (!existsSync(file)) throw new StartError(`There is no studio at ${file}.`);
  const db = new BetterSqlite3(file, { readonly: true, fileMustExist: true, timeout: 5000 });
  const found: string[] = [];
  const say = (text: string) => found.length < MOST && found.push(text);
  try {
    db.exec('BEGIN');
    const pages = db.pragma('integrity_check') as { integrity_check: string }[];
    for (const line of shortened(pages.map((p) => p.integrity_check))) say(`The database: ${line}`);
    const counts = {
      files: checkFiles(db, say),
      pieces: checkPieces(db, say),
      entries: checkJson(db, 'history_entry', ['patches', 'inverse'], 'A step of the history of piece', 'pieceId', say),
      strokes: checkJson(db, 'stroke', ['data'], 'A stroke of piece', 'pieceId', say),
    };
    return Promise.resolve({ ...counts, found });
  } finally {
    db.close();
  }
}

/** A damaged page makes SQLite list every page that hung on it: the first lines say where the damage is. */
function shortened(texts: readonly string[]): string[] {
  const lines = texts.flatMap((text) => text.split('\n')).filter((line) => line !== 'ok' && !line.startsWith('***'));
  const more = lines.length - MOST_LINES;
  return more > 1 ? [...lines.slice(0, MOST_LINES), `${more} more lines of this kind`] : lines;
}

const MOST_LINES = 6;

type Say = (text: string) => unknown;
type Db = BetterSqlite3.Database;

/** What a row holds, or a finding: damage in the database may make it unreadable. */
function* rowsOf<R>(db: Db, say: Say, sql: string, ...values: unknown[]): Generator<R> {
  try {
    yield* db.prepare(sql).iterate(...values) as IterableIterator<R>;
  } catch (error) {
    say(`The database cannot be read on: ${(error as Error).message}`);
  }
}

function checkFiles(db: Db, say: Say): number {
  const names = namesOfFiles(db);
  const shas = new Set<string>(names.keys());
  for (const { sha256 } of rowsOf<{ sha256: string }>(db, say, 'SELECT DISTINCT sha256 FROM blob_chunk'))
    shas.add(sha256);
  for (const sha256 of shas) {
    const hash = createHash('sha256');
    const chunks = rowsOf<{ data: Buffer }>(
      db,
      say,
      'SELECT data FROM blob_chunk WHERE sha256 = ? ORDER BY idx',
      sha256,
    );
    for (const { data } of chunks) hash.update(data);
    if (hash.digest('hex') !== sha256) say(sentenceOf(names.get(sha256) ?? [], sha256));
  }
  return shas.size;
}

/** What a stored file is to a piece. */
interface Use {
  what: 'source' | 'part';
  name: string;
  piece: string;
}

const MOST_USES = 4;

/** A damaged file by what a person knows it by, and what mends it. */
function sentenceOf(uses: readonly Use[], sha256: string): string {
  if (uses.length === 0)
    return `The file ${sha256} is damaged. Bring the same file in again, or take it from a backup.`;
  const named = uses.slice(0, MOST_USES).map((u) => `the ${u.what} ${u.name} of the piece ${u.piece}`);
  const more = uses.length > MOST_USES ? ` and ${uses.length - MOST_USES} more` : '';
  const isPart = uses.some((u) => u.what === 'part');
  const remedy = isPart
    ? 'Open the piece that it is a copy of, and take the part again; or take it from a backup'
    : 'Bring the same file in again, or take it from a backup';
  return `A file is damaged: ${named.join(', ')}${more}. ${remedy}.`;
}

/** By what a person knows the stored files. */
function namesOfFiles(db: Db): Map<string, Use[]> {
  const uses = new Map<string, Use[]>();
  for (const { sha256 } of rowsOf<{ sha256: string }>(db, () => undefined, 'SELECT sha256 FROM source_file')) {
    uses.set(sha256, []);
  }
  const rows = rowsOf<{ doc: string; name: string }>(db, () => undefined, 'SELECT doc, name FROM piece');
  for (const { doc, name: piece } of rows) {
    for (const [sha256, use] of usesIn(doc, piece)) uses.set(sha256, [...(uses.get(sha256) ?? []), use]);
  }
  return uses;
}

/** What can still be read of a damaged document: its sources, by their names. */
function usesIn(text: string, piece: string): [sha256: string, use: Use][] {
  try {
    const { sources, mesh } = pieceDocSchema.parse(JSON.parse(text));
    const named = mesh ? [mesh, ...sources] : sources;
    return named.flatMap(({ sha256, fileName, ...rest }): [string, Use][] =>
      'recipe' in rest && rest.recipe
        ? partFiles(rest.recipe).map((p): [string, Use] => [p.sha256, { what: 'part', name: p.name, piece }])
        : [[sha256, { what: 'source', name: fileName, piece }]],
    );
  } catch {
    const found = [...text.matchAll(/"sha256":"([0-9a-f]{64})","fileName":"([^"]*)"/g)];
    return found.map(([, sha256, name]): [string, Use] => [sha256, { what: 'source', name, piece }]);
  }
}

function checkPieces(db: Db, say: Say): number {
  let count = 0;
  const known = new Set<string>();
  for (const { sha256 } of rowsOf<{ sha256: string }>(db, say, 'SELECT sha256 FROM source_file')) known.add(sha256);
  for (const { id, doc } of rowsOf<{ id: string; doc: string }>(db, say, 'SELECT id, doc FROM piece')) {
    count++;
    const wrong = wrongWith(doc);
    if (wrong) say(`The piece ${id} cannot be opened: ${wrong}`);
    for (const sha256 of doc.match(SHA256) ?? []) {
      if (!known.has(sha256)) say(`The piece ${id} names the file ${sha256}, which is missing.`);
    }
  }
  return count;
}

function wrongWith(doc: string): string | null {
  try {
    const { error } = pieceDocSchema.safeParse(JSON.parse(doc));
    return error ? `${error.issues[0].path.join('.')}: ${error.issues[0].message}` : null;
  } catch (error) {
    return (error as Error).message;
  }
}

function checkJson(db: Db, table: string, columns: string[], what: string, owner: string, say: Say): number {
  const valid = columns.map((c) => `json_valid("${c}")`).join(' AND ');
  const bad = `SELECT "${owner}" AS owner FROM "${table}" WHERE NOT (${valid})`;
  for (const row of rowsOf<{ owner: string }>(db, say, bad)) say(`${what} ${row.owner} is damaged.`);
  for (const { n } of rowsOf<{ n: number }>(db, say, `SELECT count(*) AS n FROM "${table}"`)) return n;
  return 0;
}
