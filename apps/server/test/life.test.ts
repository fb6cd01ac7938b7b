import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync, inflateSync } from 'node:zlib';
import { expect, test } from '@jest/globals';
import { PIECE_DEFAULTS } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import sharp from 'sharp';
import { DataSource } from 'typeorm';
import { MIGRATIONS } from '../src/db/migrations/index.ts';
import { readOptions } from '../src/options.ts';
import { deflateInStrips, nodePlatform } from '@lithe-sieve/host';
import { startServer } from './helpers.ts';

test('a studio keeps everything across a stop, and a job that was interrupted is done after it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-life-'));
  const first = await startServer(folder, true);
  const { colour } = drawLeafScan(9, 320);
  const png = await sharp(colour.data, { raw: { width: 320, height: 320, channels: 3 } })
    .png()
    .toBuffer();
  const { json } = await first.call('POST', '/api/sources?name=leaf.png', png);
  const { id } = (
    await first.call('POST', '/api/pieces', { name: 'Kept', sources: [{ sha256: json.sha256, fileName: 'leaf.png' }] })
  ).json;
  const job = (await first.call('POST', `/api/pieces/${id}/hand-offs`, { revision: 1 })).json;
  await first.stop(); // what SIGTERM does
  const second = await startServer(folder, true);
  expect((await second.call('GET', `/api/pieces/${id}`)).json.doc.name).toBe('Kept');
  expect(['waiting', 'running']).toContain((await second.call('GET', `/api/jobs/${job.id}`)).json.state);
  await second.app.jobs.resume();
  let state = '';
  for (let i = 0; i < 200 && state !== 'done'; i++) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    state = (await second.call('GET', `/api/jobs/${job.id}`)).json.state;
  }
  expect(state).toBe('done');
  await second.stop();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

test('a studio from before there were sequences is taken over: order, names and sizes; a damaged document stays one', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-old-'));
  const old = new DataSource({
    type: 'better-sqlite3',
    database: join(folder, 'studio.sqlite'),
    migrations: MIGRATIONS.slice(0, 3),
  });
  await old.initialize();
  await old.runMigrations();
  const doc = (name: string) =>
    JSON.stringify({
      ...PIECE_DEFAULTS,
      name,
      run: [],
      sources: [{ id: 'source', sha256: 'ab'.repeat(32), fileName: 'a.png' }],
    });
  const pieces = [
    ['piece-1', doc('Newest'), '2026-03-01'],
    ['piece-2', doc('Oldest'), '2024-01-01'],
    ['piece-3', '{"name":', '2025-01-01'],
  ];
  for (const [id, text, at] of pieces) {
    await old.query(
      'INSERT INTO piece (id, revision, position, doc, "createdAt", "updatedAt") VALUES (?, 1, 0, ?, ?, ?)',
      [id, text, at, at],
    );
  }
  for (const id of ['job-01', 'job-02']) {
    await old.query(
      `INSERT INTO job (id, "pieceId", state, request, "createdAt") VALUES (?, 'piece-1', 'done', '{}', '2020')`,
      [id],
    );
  }
  await old.query('INSERT INTO source_file VALUES (?, 1, ?, 1, 1, ?, ?)', [
    'ab'.repeat(32),
    '{"width":7,"height":5}',
    Buffer.alloc(4),
    '2024',
  ]);
  await old.destroy();
  const server = await startServer(folder);
  const { json } = await server.call('GET', '/api/pieces');
  const listed = json.pieces.map((p: { name: string; width: number; problem: unknown }) => [
    p.name,
    p.width,
    p.problem === null,
  ]);
  expect(listed).toEqual([
    ['Newest', 7, true],
    ['', 0, false],
    ['Oldest', 7, true],
  ]);
  expect((await server.call('GET', '/api/pieces/piece-1/hand-offs/latest')).json.id).toBe('job-02');
  await server.stop();
});

test('migrations and entities agree', async () => {
  const server = await startServer();
  const { upQueries } = await server.db.source.driver.createSchemaBuilder().log();
  expect(upQueries).toEqual([]);
  await server.stop();
});

test('deflating in strips gives one stream that zlib reads', async () => {
  const data = new Uint8Array(9_500_000).map((_, i) => (i % 251) ^ (i >> 9));
  const cuts = [0, 40, 40, 33_000, 5_000_000, data.length];
  const strips = cuts.slice(1).map((to, i) => data.subarray(cuts[i], to));
  const deflated = await deflateInStrips(strips);
  expect(Buffer.compare(inflateSync(deflated), Buffer.from(data))).toBe(0);
  expect(Buffer.compare(inflateSync(await deflateInStrips([])), Buffer.alloc(0))).toBe(0);
});

test('inflating stops at what was expected, and gives what there was of a cut stream', async () => {
  const data = new Uint8Array(100_000).map((_, i) => i * 7);
  const deflated = new Uint8Array(deflateSync(data));
  expect((await nodePlatform.inflate([deflated], 1000)).length).toBe(1000);
  const cut = await nodePlatform.inflate([deflated.subarray(0, 40)], data.length);
  expect(cut.length).toBeLessThan(data.length);
  const damaged = deflated.slice();
  damaged[30] ^= 0xff;
  await expect(nodePlatform.inflate([damaged.fill(0xff, 20)], data.length)).rejects.toThrow();
});

test('options', () => {
  expect(readOptions(['--data', '/srv/studio', '--port', '9000'])).toEqual({
    data: '/srv/studio',
    host: '127.0.0.1',
    port: 9000,
    names: [],
    folders: [],
    demo: false,
    tls: null,
    guarded: false,
    backupHours: 24,
    keepDays: 14,
    memory: undefined,
    check: false,
  });
  expect(readOptions(['--host', '0.0.0.0', '--name', 'Studio.lan', '--tls'])).toMatchObject({
    names: ['studio.lan'],
    guarded: true,
    tls: 'self-made',
  });
  expect(readOptions(['--host', '0.0.0.0', '--unguarded']).guarded).toBe(false);
  expect(() => readOptions(['--tls-cert', '/etc/hosts'])).toThrow('go together');
  expect(() => readOptions(['--keep-days', '-1'])).toThrow('--keep-days');
  expect(readOptions(['--folder', '/tmp', '--folder', '/']).folders).toEqual(['/tmp', '/']);
  expect(() => readOptions(['--folder', '/not/here'])).toThrow('--folder /not/here');
  expect(() => readOptions(['--port', 'ninety'])).toThrow('--port ninety');
  expect(() => readOptions(['--nonsense'])).toThrow();
});
