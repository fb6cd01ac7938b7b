import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { BRUSH_DEFAULTS, evaluateRun, fingerprint, toRgba8, type Brush, type Stroke } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { sha256Of } from '../src/db/blobs.ts';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
const SIDE = 96;
const leaf = drawLeafScan(4, SIDE);

beforeAll(async () => {
  server = await startServer();
}, 60_000);
afterAll(() => server.stop());

async function upload(name: string, data: Uint8Array, channels: 1 | 3): Promise<string> {
  const png = await sharp(data, { raw: { width: SIDE, height: SIDE, channels } })
    .png()
    .toBuffer();
  return (await server.call('POST', `/api/sources?name=${name}`, png)).json.sha256;
}

function stroke(id: string, brush: Partial<Brush> = {}, at = 40): Stroke {
  const path = [at * 64, 30 * 64, 1023, (at + 12) * 64, 50 * 64, 700];
  return { id, kind: 'brush', effect: 'cut', seed: 3, brush: { ...BRUSH_DEFAULTS, diameter: 7, ...brush }, path };
}

async function newPiece() {
  const sha256 = await upload('leaf.png', leaf.colour.data, 3);
  const { id } = (
    await server.call('POST', '/api/pieces', { name: 'Leaf', sources: [{ sha256, fileName: 'leaf.png' }] })
  ).json;
  const edit = (body: object) => server.call('POST', `/api/pieces/${id}/edits`, body);
  const step = { id: 'by-hand', kind: 'strokes', on: true, params: { strokes: [] } };
  const entry = {
    label: 'Insert',
    patches: [{ op: 'add', path: ['run', 1], value: step }],
    inverse: [{ op: 'remove', path: ['run', 1] }],
  };
  const { revision } = (await edit({ kind: 'do', baseRevision: 1, entry })).json;
  return { id: id as string, edit, revision: revision as number };
}

const adding = (n: number, strokes: Stroke[]) => ({
  label: 'Cut',
  patches: strokes.map((s, i) => ({ op: 'add', path: ['run', 1, 'params', 'strokes', n + i], value: s.id })),
  inverse: [{ op: 'replace', path: ['run', 1, 'params', 'strokes', 'length'], value: n }],
});
const add = (baseRevision: number, n: number, strokes: Stroke[], more: object = {}) => ({
  kind: 'do',
  baseRevision,
  entry: adding(n, strokes),
  strokes,
  ...more,
});

test('a stroke is kept with the change that names it; a change that is sent twice is taken once', async () => {
  const { id, edit, revision } = await newPiece();
  const first = add(revision, 0, [stroke('stroke-a1')], { editId: 'edit-000001' });
  const taken = await edit(first);
  expect([taken.status, taken.json.revision]).toEqual([200, revision + 1]);
  const again = await edit(first);
  expect(again.json).toEqual(taken.json);
  expect((await server.call('GET', `/api/pieces/${id}/strokes`)).json).toEqual([stroke('stroke-a1')]);
  expect((await server.call('GET', `/api/pieces/${id}`)).json.lastEdits).toEqual(['edit-000001']);
  // undone, it is still there to be redone
  expect((await edit({ kind: 'undo', baseRevision: revision + 1 })).status).toBe(200);
  expect((await server.call('GET', `/api/pieces/${id}/strokes`)).json).toHaveLength(1);
  expect((await edit({ kind: 'redo', baseRevision: revision + 2 })).json.revision).toBe(revision + 3);
});

test('what is malformed or was never sent is refused, and nothing of it is kept', async () => {
  const { id, edit, revision } = await newPiece();
  const bad = add(revision, 0, [{ ...stroke('stroke-b1'), path: [1, 2, 1e12] } as Stroke]);
  const refused = await edit(bad);
  expect(refused.json).toMatchObject({ code: 'bad-request' });
  expect(refused.json.message).toContain('strokes.0.path.2');
  const unsent = await edit({ ...add(revision, 0, [stroke('stroke-b2')]), strokes: [] });
  expect(unsent.json).toMatchObject({ code: 'bad-edit', message: 'The stroke stroke-b2 was never sent.' });
  expect((await edit(add(revision, 0, [stroke('stroke-b3')]))).status).toBe(200);
  const other = await edit(add(revision + 1, 1, [{ ...stroke('stroke-b3'), effect: 'restore' }]));
  expect(other.json.message).toContain('share the id');
  expect((await server.call('GET', `/api/pieces/${id}/strokes`)).json).toEqual([stroke('stroke-b3')]);
});

test('handed off, the strokes are those of core: a tip from another piece too, whose piece may be gone', async () => {
  const tip = await upload('tip.png', leaf.mask.data, 1);
  const { id, edit, revision } = await newPiece();
  const strokes = [
    stroke('stroke-c1'),
    stroke('stroke-c2', { tip: 'piece', picture: tip, diameter: 20, spacing: 0.6 }, 30),
    stroke('stroke-c3', { tip: 'ragged', flow: 0.6 }, 55),
    { id: 'stroke-c4', kind: 'region', effect: 'restore', of: 'mask', at: [2, 2], tolerance: 0, gaps: 0 } as Stroke,
  ];
  expect((await edit(add(revision, 0, strokes))).status).toBe(200);
  const { doc } = (await server.call('GET', `/api/pieces/${id}`)).json;
  const tipPicture = { width: SIDE, height: SIDE, channels: 1 as const, data: leaf.mask.data };
  const state = evaluateRun(doc.run, {
    sources: [{ id: doc.sources[0].id, sha256: doc.sources[0].sha256, picture: toRgba8(leaf.colour) }],
    strokes: new Map(strokes.map((s) => [s.id, s])),
    tip: () => toRgba8(tipPicture),
  });
  expect(state.steps.filter((s) => s.error)).toEqual([]);
  const bench = { mask: fingerprint(state.mask), colour: fingerprint(state.colour) };
  const started = (await server.call('POST', `/api/pieces/${id}/hand-offs`, { revision: revision + 1, bench })).json;
  let job = started;
  while (job.state === 'waiting' || job.state === 'running')
    job = (await server.call('GET', `/api/jobs/${started.id}`)).json;
  expect(job.report.checks.filter((c: { ok: boolean }) => !c.ok)).toEqual([]);
  expect(job.report.checks.map((c: { what: string }) => c.what)).toContain('mask as shown');
  // a copy names strokes that were drawn in the other piece: they are copied out with it
  const copy = (await server.call('POST', '/api/pieces/copies', { doc })).json.id;
  await expectSameFromFolder(copy, job.report.files);
  await server.call('GET', `/api/pieces/${id}/picture.png`);
  const [summary] = (await server.call('GET', '/api/pieces')).json.pieces.filter((p: { id: string }) => p.id === id);
  expect(summary.coverage).toBeGreaterThan(0.2);
});

/** Another program, without holding up the server of this one. */
function run(args: string[]): Promise<{ code: number; stdout: string; stderr: string }> {
  return new Promise((resolve) =>
    execFile(process.execPath, args, (error, stdout, stderr) =>
      resolve({ code: error ? Number(error.code) : 0, stdout, stderr }),
    ),
  );
}

/** Copied out into a folder, the piece is handed off without the studio: the same bytes. */
async function expectSameFromFolder(id: string, files: { name: string; sha256: string }[]): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-copied-'));
  const { bytes } = await server.call('GET', `/api/pieces/${id}/salvage.zip`);
  mkdirSync(join(folder, 'sources'));
  for (const [name, content] of Object.entries(unzipSync(new Uint8Array(bytes))))
    writeFileSync(join(folder, name), content);
  const script = fileURLToPath(new URL('../../../packages/host/hand-off-folder.ts', import.meta.url));
  const args = ['--import', 'tsx', '--conditions=source', script, folder, join(folder, 'out')];
  const done = await run(args);
  expect([done.code, done.stderr]).toEqual([0, '']);
  expect(done.stdout).toContain(files[0].name);
  expect(readdirSync(join(folder, 'out'))).toEqual(files.map((f) => f.name).sort());
  for (const { name, sha256 } of files) expect(sha256Of(readFileSync(join(folder, 'out', name)))).toBe(sha256);

  const [source] = readdirSync(join(folder, 'sources'));
  writeFileSync(join(folder, 'sources', source), 'something else');
  const damaged = await run(args);
  const said = expect.stringContaining('is not the one that was copied out') as unknown;
  expect([damaged.code, damaged.stderr]).toEqual([1, said]);
  rmSync(folder, { recursive: true });
}

test('a thousand strokes are undone one by one, and no more than are remembered', async () => {
  const { id, edit, revision } = await newPiece();
  const sql = (text: string, values: unknown[]) => server.db.write((m) => m.query(text, values));
  const ids = Array.from({ length: 1005 }, (_, n) => `stroke-d${n}`);
  const withStrokes = async (count: number, position: number) => {
    const { doc } = (await server.call('GET', `/api/pieces/${id}`)).json;
    doc.run[1].params.strokes = ids.slice(0, count);
    await sql('UPDATE piece SET doc = ?, position = ? WHERE id = ?', [JSON.stringify(doc), position, id]);
  };
  // as a thousand requests would leave it
  await server.db.write(async (m) => {
    for (const [n, strokeId] of ids.entries()) {
      const { patches, inverse } = adding(n, [stroke(strokeId)]);
      const entry = [id, n + 2, 'Cut', JSON.stringify(patches), JSON.stringify(inverse)];
      await m.query(
        'INSERT INTO history_entry ("pieceId", seq, label, patches, inverse) VALUES (?, ?, ?, ?, ?)',
        entry,
      );
      const row = [strokeId, id, JSON.stringify(stroke(strokeId))];
      await m.query('INSERT INTO stroke (id, "pieceId", data) VALUES (?, ?, ?)', row);
    }
  });
  await withStrokes(1005, 1006);
  let at = revision;
  for (let n = 1005; n < 1010; n++) at = (await edit(add(at, n, [stroke(`stroke-d${n}`)]))).json.revision;
  for (let n = 0; n < 40; n++) at = (await edit({ kind: 'undo', baseRevision: at })).json.revision;
  const strokesNow = async () => (await server.call('GET', `/api/pieces/${id}`)).json.doc.run[1].params.strokes;
  expect(await strokesNow()).toEqual(ids.slice(0, 970));
  await withStrokes(11, 12); // as 959 further ones would leave it
  at = (await edit({ kind: 'undo', baseRevision: at })).json.revision;
  expect(await strokesNow()).toEqual(ids.slice(0, 10));
  expect((await edit({ kind: 'undo', baseRevision: at })).json.code).toBe('no-history');
}, 120_000);
