import { mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { BRUSH_DEFAULTS } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import BetterSqlite3 from 'better-sqlite3';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { Database } from '../src/db/database.ts';
import { FolderInUseError } from '../src/db/studio-lock.ts';
import { startServer, type Answer, type TestServer } from './helpers.ts';

/** The connection behind a database, to fail as a machine fails. */
const connectionOf = (db: Database) =>
  (db.source.driver as unknown as { databaseConnection: BetterSqlite3.Database }).databaseConnection;

let folder: string;
let server: TestServer;
let leaf: Buffer;
beforeEach(async () => {
  folder = join(mkdtempSync(join(tmpdir(), 'lithe-sieve-kept-')), 'studio');
  server = await startServer(folder, true);
  const { data } = drawLeafScan(4, 96).colour;
  leaf = await sharp(data, { raw: { width: 96, height: 96, channels: 3 } })
    .png()
    .toBuffer();
}, 60_000);
afterEach(async () => {
  await server.stop();
  rmSync(join(folder, '..'), { recursive: true, force: true });
});

/** Stopped in order and started again on the same folder. */
async function restart(): Promise<void> {
  await server.stop();
  server = await startServer(folder, true);
}
const get = (path: string) => server.call('GET', `/api${path}`);
async function bringIn(bytes: Uint8Array = leaf): Promise<string> {
  return (await server.call('POST', '/api/sources?name=leaf.png', bytes)).json.sha256;
}
async function newPiece(name = 'Leaf'): Promise<string> {
  const sha256 = await bringIn();
  return (await server.call('POST', '/api/pieces', { name, sources: [{ sha256, fileName: 'leaf.png' }] })).json.id;
}
const rename = (id: string, baseRevision: number, from: string, to: string): Promise<Answer> =>
  server.call('POST', `/api/pieces/${id}/edits`, {
    kind: 'do',
    baseRevision,
    entry: {
      label: 'Rename',
      patches: [{ op: 'replace', path: ['name'], value: to }],
      inverse: [{ op: 'replace', path: ['name'], value: from }],
    },
  });
const listed = async () => (await get('/pieces')).json.pieces as { id: string; name: string; problem: never }[];

describe('an answer is given for what is committed', () => {
  test('after the disk was full, everything that is answered is kept', async () => {
    const id = await newPiece();
    const connection = connectionOf(server.db);
    const [{ page_count: pages }] = connection.pragma('page_count') as { page_count: number }[];
    connection.pragma(`max_page_count = ${pages}`); // SQLITE_FULL from here on
    const noise = await sharp(
      Buffer.alloc(300 * 300 * 3).map((_, i) => (i * i * 7919) >> 5),
      {
        raw: { width: 300, height: 300, channels: 3 },
      },
    )
      .png()
      .toBuffer();
    const refused = await server.call('POST', '/api/sources?name=noise.png', noise);
    expect([refused.status, refused.json.code]).toEqual([507, 'storage-full']);
    expect((await rename(id, 9, 'Leaf', 'Stale')).status).toBe(409); // a refusal in between
    connection.pragma('max_page_count = 1000000');
    for (let i = 1; i <= 40; i++) expect((await rename(id, i, i > 1 ? `${i - 1}` : 'Leaf', `${i}`)).status).toBe(200);
    const sha256 = await bringIn(noise);
    const other = await newPiece('Another');
    await restart();
    expect((await get(`/pieces/${id}`)).json).toMatchObject({ revision: 41, doc: { name: '40' } });
    expect((await get(`/sources/${sha256}/bytes`)).bytes.equals(noise)).toBe(true);
    expect((await get(`/pieces/${other}`)).json.doc.name).toBe('Another');
  });

  // SQLite rolls back by itself when the disk fails; work that passes over the error would then run outside
  test('a transaction that SQLite ended by itself is no success, and the next one is whole', async () => {
    const lost = server.db.write(async (m) => {
      await m.query(`INSERT INTO allowed_folder (path) VALUES ('before')`);
      connectionOf(server.db).exec('ROLLBACK');
      await m.query(`INSERT INTO allowed_folder (path) VALUES ('after')`);
    });
    await expect(lost).rejects.toMatchObject({ code: 'storage-io' });
    await server.db.write((m) => m.query(`INSERT INTO allowed_folder (path) VALUES ('next')`));
    await restart();
    const rows = await server.db.read((m) => m.query('SELECT path FROM allowed_folder'));
    expect(rows).toContainEqual({ path: 'next' });
    expect(rows).not.toContainEqual({ path: 'before' });
  });

  test('a connection that cannot leave its transaction is reopened', async () => {
    const connection = connectionOf(server.db);
    const exec = connection.exec.bind(connection);
    connection.exec = (sql: string) => {
      if (sql === 'COMMIT' || sql === 'ROLLBACK')
        throw Object.assign(new Error('disk'), { code: 'SQLITE_IOERR_WRITE' });
      return exec(sql);
    };
    const lost = server.db.write((m) => m.query(`INSERT INTO allowed_folder (path) VALUES ('lost')`));
    await expect(lost).rejects.toMatchObject({ code: 'storage-io' });
    const id = await newPiece();
    await restart();
    expect((await get(`/pieces/${id}`)).status).toBe(200);
  });

  test('a lock that another program holds for a while is waited out', async () => {
    const id = await newPiece();
    const other = new BetterSqlite3(join(folder, 'studio.sqlite'));
    other.exec('BEGIN IMMEDIATE');
    const edit = rename(id, 1, 'Leaf', 'Waited');
    setTimeout(() => other.exec('ROLLBACK'), 1400);
    expect((await edit).status).toBe(200);
    other.close();
  });

  test('where the folder was moved away no change is taken; where it is back, they are', async () => {
    const id = await newPiece();
    renameSync(folder, `${folder}-away`);
    const edit = await rename(id, 1, 'Leaf', 'Nowhere');
    expect([edit.status, edit.json.code]).toEqual([503, 'storage-gone']);
    expect(edit.json.remedy).toContain('Put the folder back');
    renameSync(`${folder}-away`, folder);
    expect((await rename(id, 1, 'Leaf', 'Back')).status).toBe(200);
    rmSync(join(folder, 'studio.sqlite-wal'));
    expect((await rename(id, 2, 'Back', 'Half')).status).toBe(503);
  });

  test('one server on one folder: the second one hears of the first', async () => {
    server.db.tellAddress('http://127.0.0.1:4870');
    const second = Database.open(folder);
    await expect(second).rejects.toThrow(FolderInUseError);
    await expect(second).rejects.toThrow('http://127.0.0.1:4870');
    await expect(second).rejects.toThrow('--data');
    expect((await rename(await newPiece(), 1, 'Leaf', 'Still here')).status).toBe(200);
  });

  test('every commit reaches the disk before it is answered (SQLite, PRAGMA synchronous: FULL is 2)', () => {
    expect(connectionOf(server.db).pragma('synchronous')).toEqual([{ synchronous: 2 }]);
    expect(connectionOf(server.db).pragma('journal_mode')).toEqual([{ journal_mode: 'wal' }]);
  });
});

describe('one bad thing fails alone', () => {
  const sql = (text: string, values: unknown[]) => server.db.write((m) => m.query(text, values));

  test.each([
    ['damaged', (doc: string) => doc.slice(0, 100)],
    ['of a later version', (doc: string) => doc.replace('"from-colour"', '"from-tomorrow"')],
  ])('a document that is %s: the others are listed, it says so, and is copied out', async (what, damage) => {
    const [bad, good] = [await newPiece('Bad'), await newPiece('Good')];
    const { doc } = (await get(`/pieces/${bad}`)).json;
    await sql('UPDATE piece SET doc = ? WHERE id = ?', [damage(JSON.stringify(doc)), bad]);
    const pieces = await listed();
    expect(pieces.map((p) => [p.name, p.problem === null])).toEqual([
      ['Good', true],
      ['Bad', false],
    ]);
    expect((await get(`/pieces/${good}`)).status).toBe(200);
    const opened = await get(`/pieces/${bad}`);
    expect([opened.status, opened.json.code]).toEqual([422, 'unreadable-piece']);
    if (what !== 'damaged') expect(opened.json.message).toContain('does not have (from-tomorrow)');
    const files = unzipSync(new Uint8Array((await get(`/pieces/${bad}/salvage.zip`)).bytes));
    expect(Object.keys(files)).toEqual(expect.arrayContaining(['document.json', 'history.json', 'strokes.json']));
    if (what !== 'damaged') {
      const source = Object.entries(files).find(([name]) => name.startsWith('sources/'))!;
      expect(Buffer.from(source[1]).equals(leaf)).toBe(true);
    }
    expect((await get('/pieces/none-of-ours/salvage.zip')).status).toBe(404);
  });

  test('damaged bytes of a source are said, never handed out, and mended by the same file', async () => {
    const id = await newPiece();
    const sha256 = await bringIn();
    const damaged = Buffer.from(leaf);
    damaged[leaf.length >> 1] ^= 1;
    await sql('UPDATE blob_chunk SET data = ? WHERE sha256 = ?', [damaged, sha256]);
    const bytes = await get(`/sources/${sha256}/bytes`);
    expect([bytes.status, bytes.json.code]).toEqual([500, 'damaged-file']);
    const job = await handOff(id);
    expect([job.state, job.error.code]).toEqual(['failed', 'damaged-file']);
    expect(job.error.message).toContain('leaf.png');
    await bringIn();
    expect((await get(`/sources/${sha256}/bytes`)).bytes.equals(leaf)).toBe(true);
    expect((await handOff(id)).state).toBe('done');
  });

  test('a stroke whose tip is not in the studio is refused, and the Stock goes on', async () => {
    const id = await newPiece();
    const { doc } = (await get(`/pieces/${id}`)).json;
    const brush = { ...BRUSH_DEFAULTS, tip: 'piece', picture: 'ab'.repeat(32) };
    const stroke = { id: 'stroke1', kind: 'brush', effect: 'cut', seed: 1, brush, path: [64, 64, 1023] };
    const step = { id: 'byhand1', on: true, kind: 'strokes', params: { strokes: ['stroke1'] } };
    const answer = await server.call('POST', `/api/pieces/${id}/edits`, {
      kind: 'do',
      baseRevision: 1,
      strokes: [stroke],
      entry: {
        label: 'Stroke',
        patches: [{ op: 'add', path: ['run', doc.run.length], value: step }],
        inverse: [{ op: 'replace', path: ['run', 'length'], value: doc.run.length }],
      },
    });
    expect([answer.status, answer.json.code]).toEqual([422, 'missing-source']);
    expect((await listed()).map((p) => p.problem)).toEqual([null]);
  });

  test('damaged facts of a source, and a damaged report of a hand-off', async () => {
    const id = await newPiece();
    const sha256 = await bringIn();
    const { facts } = (await get(`/pieces/${id}`)).json;
    const job = await handOff(id);
    await sql(`UPDATE source_file SET facts = '{"for' WHERE sha256 = ?`, [sha256]);
    await sql(`UPDATE job SET report = '{' WHERE id = ?`, [job.id]);
    await server.call('GET', `/api/pieces/${id}/picture.png`);
    expect((await rename(id, 1, 'Leaf', 'Renamed')).status).toBe(200);
    await sql(`UPDATE source_file SET facts = '{"for' WHERE sha256 = ?`, [sha256]);
    expect((await get(`/pieces/${id}/picture.png`)).status).toBe(200);
    expect((await listed())[0].problem).toBeNull();
    expect((await get(`/pieces/${id}`)).json.facts).toEqual(facts); // computed again from the file
    expect((await get(`/jobs/${job.id}`)).json).toMatchObject({ state: 'done', report: null });
    expect((await handOff(id)).state).toBe('done');
  });

  test('damage in one entry of the history, or in the list of changes, leaves the piece', async () => {
    const id = await newPiece();
    for (const [i, name] of ['a', 'b', 'c'].entries()) await rename(id, i + 1, i ? 'abc'[i - 1] : 'Leaf', name);
    await sql(`UPDATE history_entry SET inverse = '[{' WHERE pieceId = ? AND seq = 1`, [id]);
    await sql(`UPDATE piece SET "lastEdits" = '{' WHERE id = ?`, [id]);
    const { status, json } = await get(`/pieces/${id}`);
    expect([status, json.doc.name, json.history.length, json.position]).toEqual([200, 'c', 2, 2]);
  });
});

async function handOff(id: string) {
  const { revision } = (await get(`/pieces/${id}`)).json;
  const { id: job } = (await server.call('POST', `/api/pieces/${id}/hand-offs`, { revision })).json;
  for (let i = 0; i < 400; i++) {
    const { json } = await get(`/jobs/${job}`);
    if (json.state !== 'waiting' && json.state !== 'running') return json;
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  throw new Error('never done');
}

describe('hand-offs', () => {
  test('the newest is the one that was started last, whatever the clock said', async () => {
    const id = await newPiece();
    const jobs: string[] = [];
    for (let i = 0; i < 4; i++) {
      jobs.push((await handOff(id)).id);
      const backwards = new Date(2020 - i, 0).toISOString();
      await server.db.write((m) => m.query('UPDATE job SET "createdAt" = ? WHERE id = ?', [backwards, jobs.at(-1)]));
    }
    expect((await get(`/pieces/${id}/hand-offs/latest`)).json.id).toBe(jobs[3]);
    expect((await get(`/jobs/${jobs[0]}`)).status).toBe(404); // the oldest is the one that goes
  });

  test('one that ends the process each time is tried three times, then failed with its reason', async () => {
    const id = await newPiece();
    const { id: job } = await handOff(id);
    const setBack = (tries: number) =>
      server.db.write((m) => m.query(`UPDATE job SET state = 'running', tries = ? WHERE id = ?`, [tries, job]));
    await setBack(2);
    await restart(); // an end in order is no try
    await server.app.jobs.resume();
    await expectState(job, 'done');
    await setBack(3);
    await server.app.jobs.resume();
    await expectState(job, 'failed');
    expect((await get(`/jobs/${job}`)).json.error).toMatchObject({ code: 'tried-too-often' });
  });

  test('whose end cannot be written down ends all the same', async () => {
    const id = await newPiece();
    await bringIn();
    const write = server.db.write.bind(server.db);
    let writes = 0;
    server.db.write = (work) => (++writes > 2 ? Promise.reject(new Error('no disk')) : write(work));
    const job = await handOff(id);
    expect(job.state).toBe('failed');
    server.db.write = write;
  });

  async function expectState(job: string, state: string): Promise<void> {
    for (let i = 0; i < 400 && (await get(`/jobs/${job}`)).json.state !== state; i++)
      await new Promise((resolve) => setTimeout(resolve, 25));
    expect((await get(`/jobs/${job}`)).json.state).toBe(state);
  }
});
