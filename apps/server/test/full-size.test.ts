import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { crc32 } from 'node:zlib';
import { makeStep } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import sharp from 'sharp';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => server.stop());

const SIDE = 128;
const get = async (path: string) => (await server.call('GET', `/api${path}`)).json;

async function newPiece(): Promise<string> {
  const { colour } = drawLeafScan(6, SIDE);
  const raw = { width: SIDE, height: SIDE, channels: 3 as const };
  const png = await sharp(colour.data, { raw }).png().toBuffer();
  const { sha256 } = (await server.call('POST', '/api/sources?name=leaf.png', png)).json;
  const body = { name: 'Leaf', sources: [{ sha256, fileName: 'leaf.png' }] };
  return (await server.call('POST', '/api/pieces', body)).json.id;
}

async function change(id: string, patch: object, inverse: object): Promise<void> {
  const { revision } = await get(`/pieces/${id}`);
  const entry = { label: 'Change', patches: [patch], inverse: [inverse] };
  const { status } = await server.call('POST', `/api/pieces/${id}/edits`, {
    kind: 'do',
    baseRevision: revision,
    entry,
  });
  expect(status).toBe(200);
}
const replace = (path: string[], value: unknown) => ({ op: 'replace', path, value });

async function inStock(id: string): Promise<{ coverage: number; width: number; height: number }> {
  for (let i = 0; i < 200; i++) {
    const { pieces } = await get('/pieces');
    const mine = pieces.find((p: { id: string }) => p.id === id);
    if (mine.fresh) return mine;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('never computed');
}
const coverageOf = async (id: string) => (await inStock(id)).coverage;

test('the Stock shows the size that the fit leaves', async () => {
  const id = await newPiece();
  expect(await inStock(id)).toMatchObject({ width: SIDE, height: SIDE });
  const { run } = (await get(`/pieces/${id}`)).doc;
  await change(id, replace(['run'], [...run, makeStep('halved', 'resize', { factor: 0.5 })]), replace(['run'], run));
  expect(await inStock(id)).toMatchObject({ width: SIDE / 2, height: SIDE / 2 });
});

test('the Stock shows what the full size keeps once a page told it, until what it depends on changes', async () => {
  const id = await newPiece();
  const estimate = await coverageOf(id);
  expect(estimate).toBeGreaterThan(0.1);
  const { revision } = await get(`/pieces/${id}`);
  const tell = (body: object) => server.call('PUT', `/api/pieces/${id}/full-size`, body);
  expect((await tell({ revision, coverage: 0.4321, size: { width: 93, height: 71 } })).status).toBe(204);
  expect(await inStock(id)).toMatchObject({ coverage: 0.4321, width: 93, height: 71 });
  await change(id, replace(['name'], 'Leaf by another name'), replace(['name'], 'Leaf'));
  expect(await coverageOf(id)).toBe(0.4321);
  await change(id, replace(['material', 'cutoff'], 0.7), replace(['material', 'cutoff'], 0.5));
  expect(await coverageOf(id)).not.toBe(0.4321);
  expect((await tell({ revision, coverage: 0.9 })).status).toBe(204); // of an older revision: it is not taken
  expect(await coverageOf(id)).toBeLessThan(0.9);
  expect((await tell({ revision, coverage: 7 })).status).toBe(400);
});

test('a hand-off of an older revision leaves what is known of the newest', async () => {
  const id = await newPiece();
  const { revision } = await get(`/pieces/${id}`);
  const { json } = await server.call('POST', `/api/pieces/${id}/hand-offs`, { revision });
  await change(id, replace(['material', 'cutoff'], 0.7), replace(['material', 'cutoff'], 0.5));
  await server.call('PUT', `/api/pieces/${id}/full-size`, { revision: revision + 1, coverage: 0.4321 });
  while ((await get(`/jobs/${json.id}`)).state !== 'done') await new Promise((resolve) => setTimeout(resolve, 20));
  expect(await coverageOf(id)).toBe(0.4321);
});

test('a step that fails in a hand-off keeps its code; one that succeeds tells what it keeps', async () => {
  const id = await newPiece();
  const handOff = async () => {
    const { revision } = await get(`/pieces/${id}`);
    const { json } = await server.call('POST', `/api/pieces/${id}/hand-offs`, { revision });
    for (;;) {
      const job = await get(`/jobs/${json.id}`);
      if (['done', 'failed'].includes(job.state)) return job;
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  };
  const { files } = (await handOff()).report;
  expect([files.length, (await coverageOf(id)) > 0.1]).toEqual([1, true]);
  const lost = {
    id: 'lost-step',
    kind: 'from-channel',
    on: true,
    params: { sourceId: 'gone-source', channel: 'red', fit: 'refuse' },
  };
  await change(id, { op: 'add', path: ['run', 0], value: lost }, { op: 'remove', path: ['run', 0] });
  expect((await handOff()).error).toMatchObject({ code: 'missing-source' });
});

test('the set-up says what is missing: a Node.js that is too old, a compiler', () => {
  const say = `const s = await import('${new URL('../../../tools/set-up.mjs', import.meta.url).href}');
    console.log(JSON.stringify([s.whatNodeLacks('18.19.1'), s.whatNodeLacks(), s.missingTools((t) => t === 'make')]));`;
  const [old, here, tools] = JSON.parse(execFileSync(process.execPath, ['--input-type=module', '-e', say]).toString());
  expect(old).toContain('This is Node.js 18.19.1; Lithe Sieve needs 20.20 or later');
  expect([here, tools]).toEqual([null, ['python3', 'g++']]);
});

test('what the Bench begins with is kept: by the server at first, by a page at full size; broken ones are refused', async () => {
  const id = await newPiece();
  const view = () => server.call('GET', `/api/pieces/${id}/view.png`);
  await inStock(id);
  const first = await view();
  expect([first.status, first.headers['x-full-sides']]).toEqual([200, `${SIDE} ${SIDE}`]);
  expect(await sharp(first.bytes).metadata()).toMatchObject({ width: SIDE, height: SIDE, channels: 4 });

  const { revision } = await get(`/pieces/${id}`);
  const made = await sharp({ create: { width: 300, height: 200, channels: 4, background: '#00ff0080' } }).png().toBuffer(); // prettier-ignore
  const tell = (png: Buffer) =>
    server.call('PUT', `/api/pieces/${id}/full-size`, {
      revision,
      coverage: 0.5,
      size: { width: 600, height: 400 },
      snags: ['Of the full size'],
      view: png.toString('base64'),
    });
  expect((await tell(made.subarray(0, 90))).status).toBeGreaterThanOrEqual(400);
  const large = await sharp({ create: { width: 600, height: 9, channels: 4, background: '#fff' } }).png().toBuffer(); // prettier-ignore
  expect((await tell(large)).status).toBeGreaterThanOrEqual(400);
  const claims = Buffer.from(made); // 16384 × 16384, in its header
  for (const at of [16, 20]) claims.writeUInt32BE(16384, at);
  claims.writeUInt32BE(crc32(claims.subarray(12, 29)), 29);
  const started = performance.now();
  expect((await tell(claims)).status).toBeGreaterThanOrEqual(400);
  expect(performance.now() - started).toBeLessThan(2000);
  expect((await view()).bytes).toEqual(first.bytes);

  expect((await tell(made)).status).toBe(204);
  const now = await view();
  expect([now.headers['x-full-sides'], now.bytes.equals(made)]).toEqual(['600 400', true]);
  expect(await inStock(id)).toMatchObject({
    exact: { coverage: true, snags: true, picture: true },
    snags: ['Of the full size'],
    coverage: 0.5,
    width: 600,
  });
  const { bytes } = await server.call('GET', `/api/pieces/${id}/picture.png`);
  expect(await sharp(bytes).metadata()).toMatchObject({ width: 150, height: 100 });

  // of a later revision it says nothing
  const { name } = (await get(`/pieces/${id}`)).doc;
  await change(id, replace(['name'], 'Other'), replace(['name'], name));
  const later = await view();
  expect(later.status === 204 || !later.bytes.equals(made)).toBe(true);
});
