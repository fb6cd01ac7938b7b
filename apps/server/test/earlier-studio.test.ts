import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { DOC_SCHEMA, readPng, toRgba8 } from '@lithe-sieve/core/testing';
import { glbTools } from '@lithe-sieve/host/glb';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { nodePlatform } from '@lithe-sieve/host';
import { startServer, type TestServer } from './helpers.ts';

/**
 * A studio as it was written in November 2026, by the version of that time: four pieces with histories, strokes of every
 * kind, and what each handed off. Later versions must open it and hand off the same texels.
 */
const STUDIO = new URL('./fixtures/studio-2026-11.sqlite.gz', import.meta.url);

let server: TestServer;
beforeAll(async () => {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-earlier-'));
  writeFileSync(join(folder, 'studio.sqlite'), gunzipSync(readFileSync(STUDIO)));
  server = await startServer(folder);
}, 60_000);
afterAll(() => server.stop());

const get = async (path: string) => (await server.call('GET', `/api${path}`)).json;
const post = (path: string, body: object) => server.call('POST', `/api${path}`, body);
const pieces = async () => (await get('/pieces')).pieces as { id: string; name: string; coverage: number | null }[];

test('every piece is listed and opens, in the form of today', async () => {
  const found = await pieces();
  expect(found.map((p) => p.name).sort()).toEqual([
    'By hand',
    'Mask of its own',
    'Scribbles and shapes',
    'Several sources',
  ]);
  for (const { id, name } of found) {
    const { doc } = await get(`/pieces/${id}`);
    expect([name, doc.schema]).toEqual([name, DOC_SCHEMA]);
    if (name === 'Scribbles and shapes') expect(doc.run[0].params.strokes[0]).toMatchObject({ effect: 'keep' });
    const strokes = await get(`/pieces/${id}/strokes`);
    if (name === 'By hand') expect(strokes.map((s: { effect: string }) => s.effect)).toContain('restore');
  }
});

test('each hands off the texels and the material that it handed off then', async () => {
  for (const { id, name } of await pieces()) {
    const before = await get(`/pieces/${id}/hand-offs/latest`);
    const { revision } = await get(`/pieces/${id}`);
    const { json } = await post(`/pieces/${id}/hand-offs`, { revision });
    const after = await finished(json.id);
    expect([name, after.report.ok, after.report.files.length]).toEqual([name, true, before.report.files.length]);
    for (let i = 0; i < before.report.files.length; i++) {
      const [was, is] = await Promise.all([read(before.id, i), read(after.id, i)]);
      expect(is.material).toEqual(was.material);
      expect(Buffer.compare(is.texels, was.texels)).toBe(0);
    }
    expect(before.report.files[0].contents).toContain(after.report.files[0].contents);
  }
}, 60_000);

test('what was undone then is redone now; a change of the history brings the old form back and is read', async () => {
  const { id } = (await pieces()).find((p) => p.name === 'By hand')!;
  const { revision, doc, position, history } = await get(`/pieces/${id}`);
  expect([position, history.length]).toEqual([2, 3]);
  const redone = await post(`/pieces/${id}/edits`, { kind: 'redo', baseRevision: revision });
  expect(redone.status).toBe(200);
  expect((await get(`/pieces/${id}`)).doc.run.length).toBe(doc.run.length + 1);
  const { id: scribbled } = (await pieces()).find((p) => p.name === 'Scribbles and shapes')!;
  const edit = async (kind: string) => {
    const { revision: baseRevision } = await get(`/pieces/${scribbled}`);
    expect((await post(`/pieces/${scribbled}/edits`, { kind, baseRevision })).status).toBe(200);
  };
  await edit('undo');
  await edit('redo'); // its patch holds the scribbles as they were written
  expect((await get(`/pieces/${scribbled}`)).doc.run[0].params.strokes[1]).toMatchObject({ effect: 'drop' });
});

test('a document of a later version is not read as one of today', async () => {
  const { id } = (await pieces()).find((p) => p.name === 'Mask of its own')!;
  await server.db.write((m) => m.query(`UPDATE piece SET doc = json_set(doc, '$.schema', 99) WHERE id = ?`, [id]));
  const { problem } = (await get('/pieces')).pieces.find((p: { id: string }) => p.id === id);
  expect(problem.message).toContain('newer version');
});

async function finished(id: string) {
  for (let i = 0; i < 600; i++) {
    const job = await get(`/jobs/${id}`);
    if (job.state === 'done') return job;
    if (job.state === 'failed') throw new Error(JSON.stringify(job.error));
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('not done');
}

async function read(job: string, index: number) {
  const { bytes } = await server.call('GET', `/api/jobs/${job}/files/${index}`);
  const isGlb = bytes.subarray(0, 4).toString() === 'glTF';
  const { image, material } = isGlb
    ? await glbTools.read(new Uint8Array(bytes))
    : { image: new Uint8Array(bytes), material: null };
  const { raster } = await readPng(image, nodePlatform);
  return { material, texels: Buffer.from(toRgba8(raster).data) };
}
