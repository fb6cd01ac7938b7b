import { existsSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals';
import type { Output } from '@lithe-sieve/contract';
import { drawLeafScan } from '@lithe-sieve/demo';
import sharp from 'sharp';
import { OutputEntity } from '../src/db/entities/output.ts';
import { putBeside, type Pending } from '../src/features/outputs/swap.ts';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
let id: string;
let folder: string;
const root = mkdtempSync(join(tmpdir(), 'lithe-sieve-outputs-'));

beforeAll(async () => {
  server = await startServer(join(root, 'studio'), false, '127.0.0.1');
  await server.call('POST', '/api/folders', { path: root });
}, 60_000);
afterAll(async () => {
  await server.stop();
  rmSync(root, { recursive: true });
});
beforeEach(async () => {
  const { data } = drawLeafScan(4, 48).colour;
  const leaf = await sharp(data, { raw: { width: 48, height: 48, channels: 3 } })
    .png()
    .toBuffer();
  const { sha256 } = (await server.call('POST', '/api/sources?name=leaf.png', leaf)).json;
  id = (await server.call('POST', '/api/pieces', { name: 'Leaf', sources: [{ sha256, fileName: 'leaf.png' }] })).json
    .id;
  await edit([{ op: 'replace', path: ['handOff', 'profile'], value: 'rgba-png' }]);
  folder = mkdtempSync(join(root, 'folder-'));
});

async function edit(patches: { op: string; path: string[]; value: unknown }[]): Promise<number> {
  const { revision, doc } = (await server.call('GET', `/api/pieces/${id}`)).json;
  const before = (path: string[]) =>
    path.reduce((value, key) => (value as Record<string, unknown>)[key], doc as unknown);
  const inverse = patches.map(({ op, path }) => (op === 'add' ? { op: 'remove', path } : { op, path, value: before(path) })); // prettier-ignore
  const entry = { label: 'A change', patches, inverse: inverse.reverse() };
  const answer = await server.call('POST', `/api/pieces/${id}/edits`, { kind: 'do', baseRevision: revision, entry });
  expect([answer.status, answer.json]).toMatchObject([200, {}]);
  return answer.json.revision;
}
const look = async () => (await server.call('GET', `/api/pieces/${id}/output`)).json as Output;
const begin = (path = folder) => server.call('PUT', `/api/pieces/${id}/output`, { folder: path });
async function until(is: (output: Output) => boolean): Promise<Output> {
  for (const end = Date.now() + 20_000; ; await new Promise((resolve) => setTimeout(resolve, 30))) {
    const output = await look();
    if (is(output)) return output;
    if (Date.now() > end) throw new Error(`it stays ${JSON.stringify(output)}`);
  }
}
const holds = (revision: number) => until((o) => o.state === 'current' && o.revision === revision);
const cutoff = (value: number) => edit([{ op: 'replace', path: ['material', 'cutoff'], value }]);
const rename = (name: string) => edit([{ op: 'replace', path: ['name'], value: name }]);
const there = () => readdirSync(folder).sort();

test('a folder follows each settled edit; whoever reads meanwhile finds whole files of one revision', async () => {
  expect((await begin()).status).toBe(200);
  await holds(2);
  expect(there()).toEqual(['Leaf_base.png']);
  expect((await sharp(join(folder, 'Leaf_base.png')).metadata()).width).toBe(48);
  let reading = true;
  const seen = new Set<number>();
  const reader = (async () => {
    for (; reading; await new Promise((resolve) => setImmediate(resolve))) {
      seen.add((await sharp(readFileSync(join(folder, 'Leaf_base.png'))).metadata()).channels);
    }
  })();
  for (const value of [0.3, 0.4]) await cutoff(value); // the first is overtaken
  const last = await edit([{ op: 'replace', path: ['handOff', 'profile'], value: 'rgb-and-mask' }]);
  await holds(last);
  reading = false;
  await reader;
  expect([there(), [...seen].sort()]).toEqual([
    ['Leaf_base.png', 'Leaf_mask.png'],
    [3, 4],
  ]);
  await server.call('DELETE', `/api/pieces/${id}/output`);
  expect([await look(), there().length]).toEqual([null, 2]); // what lies there stays
  await begin(); // and is taken for what it is
  await holds(last);
}, 60_000);

test('what is called otherwise goes; what somebody changed, or put there, is never replaced or removed', async () => {
  await begin();
  await holds(2);
  await holds(await rename('Blade'));
  expect(there()).toEqual(['Blade_base.png']);
  writeFileSync(join(folder, 'Blade_base.png'), 'painted over');
  await cutoff(0.3);
  const changed = await until((o) => o.state === 'paused');
  expect(changed).toMatchObject({
    revision: 3,
    error: { code: 'not-ours', message: expect.stringContaining('changed') },
  });
  const renamed = await rename('Reed');
  await holds(renamed);
  expect(there()).toEqual(['Blade_base.png', 'Reed_base.png']);
  expect(readFileSync(join(folder, 'Blade_base.png'), 'utf8')).toBe('painted over');
  writeFileSync(join(folder, 'Rush_base.png'), 'mine');
  await rename('Rush');
  await until((o) => o.error?.code === 'not-ours');
  expect(readFileSync(join(folder, 'Rush_base.png'), 'utf8')).toBe('mine');
}, 60_000);

test('it pauses, and keeps what is there, where a target would break or the folder is gone; the next edit tries again', async () => {
  await begin();
  await holds(2);
  const before = readFileSync(join(folder, 'Leaf_base.png'));
  const of = (map: string, inverted = false) => ({ map, channel: 'red', inverted });
  const packing = [
    {
      name: 'base',
      as: 'RGBA',
      bits: 8,
      halvings: 0,
      fills: [of('colour'), of('colour'), of('colour'), of('mask', true)],
    },
  ];
  await edit([
    { op: 'replace', path: ['handOff', 'profile'], value: 'own-packing' },
    { op: 'add', path: ['handOff', 'packing'], value: packing },
  ]);
  const paused = await until((o) => o.state === 'paused');
  expect([paused.error!.code, paused.revision]).toEqual(['target-breaks', 2]);
  expect(Buffer.compare(before, readFileSync(join(folder, 'Leaf_base.png')))).toBe(0);
  renameSync(folder, `${folder}-away`);
  await edit([{ op: 'replace', path: ['handOff', 'profile'], value: 'rgba-png' }]);
  expect((await until((o) => o.state === 'paused')).error!.message).toMatch(/not there/);
  renameSync(`${folder}-away`, folder);
  await holds(await cutoff(0.7));
}, 60_000);

test('a server that was stopped between writing and renaming ends it at the next start', async () => {
  await begin();
  await holds(2);
  const files = await putBeside(folder, [{ name: 'Leaf_base.png', bytes: Buffer.from('newer') }, { name: 'Leaf_mask.png', bytes: Buffer.from('mask') }], JSON.parse((await row()).written!)); // prettier-ignore
  expect(there()).toHaveLength(3); // beside, under other names
  const pending: Pending = { revision: 9, files, drop: [] };
  await server.db.write((m) => m.update(OutputEntity, { pieceId: id }, { pending: JSON.stringify(pending) }));
  renameSync(join(folder, '.Leaf_base.png.being-written'), join(folder, 'Leaf_base.png')); // it had got so far
  writeFileSync(join(folder, 'Leaf_mask.png'), 'mine'); // and somebody was there while nothing ran
  await server.app.outputs.start();
  await until((o) => o.error?.code === 'not-ours');
  expect(readFileSync(join(folder, 'Leaf_mask.png'), 'utf8')).toBe('mine');
  rmSync(join(folder, 'Leaf_mask.png'));
  await server.app.outputs.start();
  await holds(2); // and then what is newest
  expect(there()).toEqual(['Leaf_base.png']);
  expect(existsSync(join(folder, '.Leaf_mask.png.being-written'))).toBe(false);

  function row() {
    return server.db.read((m) => m.findOneByOrFail(OutputEntity, { pieceId: id }));
  }
}, 60_000);

test('only an allowed folder, of a piece that is there', async () => {
  expect((await begin('/etc')).json.code).toBe('folder-not-allowed');
  expect((await begin(join(folder, 'none'))).json.code).toBe('vanished');
  writeFileSync(join(folder, 'file'), 'x');
  expect((await begin(join(folder, 'file'))).json.code).toBe('no-folder');
  expect((await server.call('PUT', `/api/pieces/${'x'.repeat(id.length)}/output`, { folder })).status).toBe(404);
  expect((await server.call('PUT', `/api/pieces/${id}/output`, { folder, more: 1 })).status).toBe(400);
});
