import { mkdirSync, mkdtempSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execFileSync } from 'node:child_process';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { FollowEvent } from '@lithe-sieve/contract';
import sharp from 'sharp';
import { leafMeshObj } from '@lithe-sieve/demo';
import { startServer, type TestServer } from './helpers.ts';

let server: TestServer;
const root = mkdtempSync(join(tmpdir(), 'lithe-sieve-folders-'));
const allowed = join(root, 'textures');
const query = (path: string) => `path=${encodeURIComponent(path)}`;
const png = (side: number, channels: 3 | 4) =>
  sharp({ create: { width: side, height: side, channels, background: { r: side, g: 2, b: 3, alpha: 0.5 } } })
    .png()
    .toBuffer();

beforeAll(async () => {
  mkdirSync(join(allowed, 'leaves'), { recursive: true });
  writeFileSync(join(root, 'secret.png'), await png(4, 3));
  writeFileSync(join(allowed, 'reed.png'), await png(5, 4));
  writeFileSync(join(allowed, 'notes.txt'), 'words');
  symlinkSync(join(root, 'secret.png'), join(allowed, 'link.png'));
  server = await startServer(undefined, false, '127.0.0.1');
});
afterAll(async () => {
  await server.stop();
  rmSync(root, { recursive: true });
});

test('only what lies in an allowed folder is looked at: neither .. nor a link leads out', async () => {
  expect((await server.call('GET', `/api/folders/list?${query(allowed)}`)).json.code).toBe('folder-not-allowed');
  expect((await server.call('POST', '/api/folders', { path: 'textures' })).json.code).toBe('no-folder');
  expect((await server.call('POST', '/api/folders', { path: join(allowed, 'reed.png') })).json.code).toBe('no-folder');
  const added = await server.call('POST', '/api/folders', { path: allowed });
  expect(added.json).toEqual({ folders: [allowed], mayAdd: true });
  const list = (await server.call('GET', `/api/folders/list?${query(allowed)}`)).json;
  expect(list.files.map((f: { name: string }) => f.name)).toEqual(['reed.png']);
  expect(list.folders).toEqual([join(allowed, 'leaves')]);
  for (const path of [root, join(allowed, '..'), `${allowed}-other`, '/etc', join(allowed, '../secret.png')]) {
    const answer = await server.call('GET', `/api/folders/list?${query(path)}`);
    expect(['folder-not-allowed', 'no-file']).toContain(answer.json.code);
  }
  expect(await firstEvent(join(allowed, 'link.png'))).toMatchObject({ error: { code: 'folder-not-allowed' } });
  expect(await firstEvent(join(root, 'secret.png'))).toMatchObject({ error: { code: 'folder-not-allowed' } });
});

test('a folder that is swapped with a link again and again never lets anything from outside in', async () => {
  const [swapped, away, link] = ['swapped', 'away', 'link'].map((name) => join(allowed, name));
  const outside = join(root, 'outside');
  mkdirSync(swapped);
  mkdirSync(outside);
  writeFileSync(join(swapped, 'inside.png'), await png(6, 4));
  writeFileSync(join(outside, 'inside.png'), await png(7, 4));
  writeFileSync(join(outside, 'secret.png'), await png(7, 4));
  symlinkSync(outside, link);
  let swapping = true;
  const swap = (async () => {
    for (; swapping; await new Promise((resolve) => setImmediate(resolve))) {
      renameSync(swapped, away);
      renameSync(link, swapped);
      await new Promise((resolve) => setImmediate(resolve));
      renameSync(swapped, link);
      renameSync(away, swapped);
    }
  })();
  let listed = 0;
  for (let i = 0; i < 400 || (listed <= 20 && i < 8000); i++) {
    const { json } = await server.call('GET', `/api/folders/list?${query(swapped)}`);
    if (json.files) listed++;
    expect(json.files?.map((f: { name: string }) => f.name) ?? []).not.toContain('secret.png');
    const opened = await server.app.folders.open(join(swapped, 'inside.png')).catch(() => null);
    const widths = opened ? (await opened.handle.readFile()).readUInt32BE(16) : 6;
    await opened?.handle.close();
    expect(widths).toBe(6);
  }
  swapping = false;
  await swap;
  expect(listed).toBeGreaterThan(20);
  rmSync(swapped, { recursive: true });
  rmSync(link);
});

test('a pipe, a folder and a device are said as what they are, and hold nothing up', async () => {
  execFileSync('mkfifo', [join(allowed, 'pipe.png')]);
  expect(await firstEvent(join(allowed, 'pipe.png'))).toMatchObject({
    error: { code: 'not-a-file', message: 'pipe.png is a named pipe, not a file.' },
  });
  expect(await firstEvent(join(allowed, 'leaves'))).toMatchObject({
    error: { message: 'leaves is a folder, not a file.' },
  });
  const { files } = (await server.call('GET', `/api/folders/list?${query(allowed)}`)).json;
  expect(files.map((f: { name: string }) => f.name)).toEqual(['reed.png']);
  rmSync(join(allowed, 'pipe.png'));
});

test('a server that other machines reach takes no folders from a page', async () => {
  const open = await startServer(undefined, false, 'studio.test');
  expect((await open.call('POST', '/api/folders', { path: allowed })).json.code).toBe('not-from-here');
  await open.stop();
});

/** Follows a file in-process and keeps what is reported. */
function follow(path: string) {
  const events: FollowEvent[] = [];
  const end = new AbortController();
  void server.app.follow.follow(path, (event) => events.push(event), end.signal);
  const until = async (count: number) => {
    const started = performance.now();
    while (events.length < count && performance.now() - started < 20_000) await new Promise((r) => setTimeout(r, 10));
    return events[count - 1];
  };
  return { events, until, stop: () => end.abort() };
}

async function firstEvent(path: string): Promise<FollowEvent> {
  const file = follow(path);
  const event = await file.until(1);
  file.stop();
  return event;
}

test('each save is reported with what the file holds; a vanished or half-written one keeps the last, and comes back', async () => {
  const path = join(allowed, 'reed.png');
  const file = follow(path);
  expect(await file.until(1)).toMatchObject({ kind: 'version', source: { facts: { width: 5, alpha: 'present' } } });
  const whole = await png(6, 3);
  const started = performance.now();
  writeFileSync(path, whole);
  expect(await file.until(2)).toMatchObject({ kind: 'version', source: { facts: { width: 6, alpha: 'none' } } });
  expect(performance.now() - started).toBeLessThan(2000); // half a second where nothing else runs
  writeFileSync(path, whole.subarray(0, 60));
  expect(await file.until(3)).toMatchObject({ kind: 'problem', error: { code: 'truncated' } });
  rmSync(path);
  expect(await file.until(4)).toMatchObject({ kind: 'problem', error: { code: 'vanished' } });
  // saved aside and renamed over, as many programs do
  writeFileSync(`${path}.part`, await png(7, 4));
  renameSync(`${path}.part`, path);
  expect(await file.until(5)).toMatchObject({ kind: 'version', source: { facts: { width: 7 } } });
  await new Promise((r) => setTimeout(r, 500));
  expect(file.events).toHaveLength(5);

  // a mesh is read as one; folders list what is asked for
  const mesh = join(allowed, 'leaf.obj');
  writeFileSync(mesh, leafMeshObj());
  const event = await firstEvent(mesh);
  expect(event).toMatchObject({
    kind: 'mesh',
    saved: false,
    mesh: { fileName: 'leaf.obj', facts: { triangles: 224 } },
  });
  writeFileSync(mesh, 'v 0 0 zero\n');
  expect(await firstEvent(mesh)).toMatchObject({ kind: 'problem', error: { code: 'corrupt' } });
  const listed = async (of: string) =>
    (await server.call('GET', `/api/folders/list?${query(allowed)}&of=${of}`)).json.files.map((f: { name: string }) => f.name) as string[]; // prettier-ignore
  expect([await listed('meshes'), await listed('pictures')]).toEqual([['leaf.obj'], ['reed.png']]);
  expect((await server.call('GET', `/api/folders/list?${query(allowed)}&of=all`)).status).toBe(400);
  file.stop();
  await server.call('DELETE', `/api/folders?${query(allowed)}`);
  expect(await firstEvent(path)).toMatchObject({ error: { code: 'folder-not-allowed' } });
});
