import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { FOLLOWED_KEPT } from '@lithe-sieve/core';
import BetterSqlite3 from 'better-sqlite3';
import sharp from 'sharp';
import { lookOver } from '../src/worker/look-over.ts';
import { startServer, type TestServer } from './helpers.ts';

let folder: string;
let server: TestServer;
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-studio-'));
  server = await startServer(folder, true);
});
afterEach(async () => {
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
});

const get = async (path: string) => (await server.call('GET', `/api${path}`)).json;
const post = (path: string, body: unknown = {}) => server.call('POST', `/api${path}`, body);
const sql = (text: string, values: unknown[] = []) => server.db.write((m) => m.query(text, values));

/** A picture of noise, some 30 KB that do not deflate. */
async function noise(seed: number): Promise<Buffer> {
  let state = seed * 2654435761 + 1;
  const data = Buffer.alloc(100 * 100 * 3).map(() => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 24);
  return sharp(data, { raw: { width: 100, height: 100, channels: 3 } })
    .png()
    .toBuffer();
}
async function bringIn(seed: number): Promise<string> {
  return (await server.call('POST', `/api/sources?name=n${seed}.png`, await noise(seed))).json.sha256;
}
async function newPiece(seed: number): Promise<string> {
  const sources = [{ sha256: await bringIn(seed), fileName: `n${seed}.png` }];
  return (await post('/pieces', { name: `Piece ${seed}`, sources })).json.id;
}
const isThere = async (sha256: string) => (await server.call('GET', `/api/sources/${sha256}/bytes`)).status === 200;
/** As if everything had come in long ago, and nothing had named what nothing names for so many days. */
async function age(days: number): Promise<void> {
  await sql('UPDATE source_file SET "createdAt" = ?', [aged(60)]);
  await sql('UPDATE source_file SET "unnamedSince" = ? WHERE "unnamedSince" IS NOT NULL', [aged(days)]);
}
const aged = (days: number) => new Date(Date.now() - days * 86_400_000).toISOString();

/** The first source of a piece replaced, as a followed file that is saved does it. */
async function save(id: string, sha256: string, followed: boolean): Promise<void> {
  const { revision, doc } = await get(`/pieces/${id}`);
  const replace = (value: string) => [{ op: 'replace', path: ['sources', 0, 'sha256'], value }];
  const entry = { label: 'saved', patches: replace(sha256), inverse: replace(doc.sources[0].sha256), followed };
  expect((await post(`/pieces/${id}/edits`, { kind: 'do', baseRevision: revision, entry })).status).toBe(200);
}

test('what nothing names goes after the days that are set; what an undo, a document or a deleted piece names stays', async () => {
  const id = await newPiece(1);
  const [first] = (await get(`/pieces/${id}`)).doc.sources;
  await save(id, await bringIn(2), false); // the first one is in the history alone
  const loose = await bringIn(3);
  const deleted = await newPiece(4);
  const [hidden] = (await get(`/pieces/${deleted}`)).doc.sources;
  await server.call('DELETE', `/api/pieces/${deleted}`);
  expect((await get('/studio')).unnamed).toMatchObject({ count: 1 });
  await age(13);
  await server.app.studio.tidy();
  expect(await isThere(loose)).toBe(true);
  await age(15);
  await sql('UPDATE piece SET "deletedAt" = ? WHERE id = ?', [aged(13), deleted]);
  await server.app.studio.tidy();
  expect([await isThere(loose), await isThere(first.sha256), await isThere(hidden.sha256)]).toEqual([
    false,
    true,
    true,
  ]);
  expect((await post(`/pieces/${deleted}/restore`)).status).toBe(204);
  expect((await get(`/pieces/${deleted}`)).doc.name).toBe('Piece 4');
  await post(`/pieces/${id}/edits`, { kind: 'undo', baseRevision: 2 });
  expect((await get(`/pieces/${id}`)).doc.sources[0].sha256).toBe(first.sha256);
});

test('a file that comes again is held again, and damage keeps everything', async () => {
  const loose = await bringIn(1);
  await get('/studio');
  await age(30);
  await bringIn(1);
  await server.app.studio.tidy();
  expect(await isThere(loose)).toBe(true);
  const id = await newPiece(2);
  await sql(`UPDATE piece SET doc = '{' WHERE id = ?`, [id]);
  await get('/studio');
  await age(30);
  await server.app.studio.tidy();
  await post('/studio/free');
  expect(await isThere(loose)).toBe(true);
});

test('freed at once by hand: what nothing names and is not fresh, and pieces that are deleted', async () => {
  const [loose, id] = [await bringIn(1), await newPiece(2)];
  const fresh = await bringIn(3);
  const [{ sha256 }] = (await get(`/pieces/${id}`)).doc.sources;
  await server.call('DELETE', `/api/pieces/${id}`);
  await sql('UPDATE source_file SET "createdAt" = ? WHERE sha256 <> ?', [aged(1), fresh]);
  expect((await post('/studio/free')).json).toMatchObject({ files: 1, pieces: 0 }); // just deleted
  await sql('UPDATE piece SET "deletedAt" = ?', [aged(0.01)]);
  const before = (await get('/studio')).bytes;
  expect((await post('/studio/free')).json).toMatchObject({ files: 1, pieces: 1 });
  expect([await isThere(loose), await isThere(sha256), await isThere(fresh)]).toEqual([false, false, true]);
  for (let i = 0; i < 100 && (await get('/studio')).bytes >= before; i++)
    await new Promise((resolve) => setTimeout(resolve, 50));
  expect((await get('/studio')).bytes).toBeLessThan(before);
});

test('versions of a followed file: the newest are undone one by one, the others become one step and go', async () => {
  const id = await newPiece(0);
  const versions = [(await get(`/pieces/${id}`)).doc.sources[0].sha256];
  for (let i = 1; i <= 30; i++) {
    const bytes = new Uint8Array(new SharedArrayBuffer((await noise(i)).length));
    bytes.set(await noise(i));
    const { sha256 } = await server.app.sources.bringIn('n.png', bytes, new AbortController().signal, true);
    versions.push(sha256);
    await save(id, sha256, true);
  }
  const { history, position } = await get(`/pieces/${id}`);
  expect([history.length, position]).toEqual([FOLLOWED_KEPT, FOLLOWED_KEPT]);
  await get('/studio');
  await age(0.001);
  const before = (await get('/studio')).bytes;
  await server.app.studio.tidy();
  const there = await Promise.all(versions.map(isThere));
  expect(there.filter(Boolean).length).toBe(FOLLOWED_KEPT + 1);
  expect((await get('/studio')).bytes).toBeLessThan(before * 0.6);
  const seen: string[] = [];
  for (;;) {
    const { revision, doc } = await get(`/pieces/${id}`);
    seen.push(doc.sources[0].sha256);
    if ((await post(`/pieces/${id}/edits`, { kind: 'undo', baseRevision: revision })).status !== 200) break;
  }
  expect(seen).toEqual([...versions.slice(-FOLLOWED_KEPT).toReversed(), versions[0]]);
  let { revision } = await get(`/pieces/${id}`);
  for (let i = 0; i < FOLLOWED_KEPT; i++)
    revision = (await post(`/pieces/${id}/edits`, { kind: 'redo', baseRevision: revision })).json.revision;
  expect((await get(`/pieces/${id}`)).doc.sources[0].sha256).toBe(versions.at(-1));
});

test('saves by hand, and saves with work by hand between them, are never joined', async () => {
  const id = await newPiece(0);
  for (let i = 1; i <= 14; i++) await save(id, await bringIn(i), i % 5 !== 0);
  expect((await get(`/pieces/${id}`)).history.length).toBe(14);
});

test('deleted for long enough, a piece goes with all that is its own; strokes that a copy names stay', async () => {
  const id = await newPiece(1);
  const stroke = { id: 'stroke1', kind: 'region', effect: 'cut', at: [5, 5], tolerance: 0.1, gaps: 0 };
  const { doc } = await get(`/pieces/${id}`);
  await sql('INSERT INTO stroke (id, "pieceId", data) VALUES (?, ?, ?), (?, ?, ?)', [
    ...['stroke1', id, JSON.stringify(stroke)],
    ...['stroke2', id, '{}'],
  ]);
  const run = [...doc.run, { id: 'byhand1', on: true, kind: 'strokes', params: { strokes: ['stroke1'] } }];
  const copy = (await post('/pieces/copies', { doc: { ...doc, run } })).json.id;
  await server.call('DELETE', `/api/pieces/${id}`);
  await sql('UPDATE piece SET "deletedAt" = ? WHERE id = ?', [aged(15), id]);
  await server.app.studio.tidy();
  expect(await server.db.read((m) => m.query('SELECT id FROM stroke'))).toEqual([{ id: 'stroke1' }]);
  expect((await get(`/pieces/${copy}`)).doc.name).toBe('Piece 1');
  expect((await post(`/pieces/${id}/restore`)).status).toBe(404);
});

test('backups are whole studios, the newest two are kept, and one of a damaged studio takes the place of none', async () => {
  const id = await newPiece(1);
  for (let i = 0; i < 3; i++) expect((await post('/studio/backups')).status).toBe(201);
  const names = () => readdirSync(join(folder, 'backups')).sort();
  expect(names()).toEqual(['studio-000002.sqlite', 'studio-000003.sqlite']);
  const copy = new BetterSqlite3(join(folder, 'backups', names()[1]), { readonly: true });
  expect(copy.prepare('SELECT id FROM piece').get()).toEqual({ id });
  copy.close();
  expect((await lookOver({ file: join(folder, 'backups', names()[1]) })).found).toEqual([]);
  await server.app.studio.tidy();
  const gone = server.db.folder;
  Object.assign(server.db, { folder: join(folder, 'nowhere', 'at-all') });
  expect((await post('/studio/backups')).status).toBe(507);
  Object.assign(server.db, { folder: gone });
  expect((await get('/studio')).backupProblem.message).toContain('was not made');
  expect(names()).toEqual(['studio-000002.sqlite', 'studio-000003.sqlite']);
});

test('looking the studio over finds what is damaged, and names it', async () => {
  const [id, other] = [await newPiece(1), await newPiece(2)];
  expect((await post('/studio/check')).json).toMatchObject({ pieces: 2, files: 2, found: [] });
  const [{ sha256 }] = (await get(`/pieces/${id}`)).doc.sources;
  await sql(`UPDATE blob_chunk SET data = x'00' WHERE sha256 = ?`, [sha256]);
  await sql(`UPDATE piece SET doc = replace(doc, '"mode":"', '"mode":"not-yet-') WHERE id = ?`, [other]);
  await sql(`INSERT INTO stroke (id, "pieceId", data) VALUES ('stroke1', ?, '{')`, [other]);
  const { found } = (await post('/studio/check')).json;
  expect(found).toEqual([
    expect.stringMatching(
      /^A file is damaged: the source n1\.png of the piece .+\. Bring the same file in again, or take it from a backup\.$/,
    ),
    expect.stringContaining(`The piece ${other} cannot be opened: material.mode`),
    `A stroke of piece ${other} is damaged.`,
  ]);
});
