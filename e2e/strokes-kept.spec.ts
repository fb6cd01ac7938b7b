import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { BRUSH_DEFAULTS } from '@lithe-sieve/core';
import { count, ONE, openBroken } from './broken-leaf.ts';
import { expectTexels, runOf, scribble, seenAt, settled } from './helpers.ts';
import { test } from './test.ts';

test('a step of many strokes opens from its tiles, and is the same when they are thrown away', async ({ page }) => {
  await openBroken(page);
  const id = page.url().split('/').pop()!;
  const run = await runOf(page);
  const at = run.findIndex((s) => s.kind === 'strokes');
  const strokes = Array.from({ length: 60 }, (_, i) => ({
    id: `tiled-${i}-${id}`.slice(0, 40),
    kind: 'brush',
    effect: i % 3 ? 'cut' : 'restore',
    seed: i,
    brush: { ...BRUSH_DEFAULTS, diameter: 3 + (i % 17), hardness: i % 2 ? 1 : 0.4, flow: i % 5 ? 1 : 0.5 },
    path: [0, 1, 2].flatMap((k) => [((i * 37 + 30 * k) % 250) * 64, ((i * 61 + 12 * k) % 250) * 64, 1023]),
  }));
  const { revision } = (await (await page.request.get(`/api/pieces/${id}`)).json()) as { revision: number };
  const answer = await page.request.post(`/api/pieces/${id}/edits`, {
    data: {
      kind: 'do',
      baseRevision: revision,
      strokes,
      entry: {
        label: 'Many',
        patches: strokes.map((s, i) => ({ op: 'add', path: ['run', at, 'params', 'strokes', i], value: s.id })),
        inverse: [{ op: 'replace', path: ['run', at, 'params', 'strokes', 'length'], value: 0 }],
      },
    },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
  const tiles = () =>
    page.evaluate(async () => {
      const db = await new Promise<IDBDatabase>((resolve, reject) => {
        const opening = indexedDB.open('lithe-sieve tiles');
        opening.onsuccess = () => resolve(opening.result);
        opening.onerror = () => reject(new Error('no database'));
      });
      const counting = db.transaction('tiles').objectStore('tiles').count();
      const count = await new Promise<number>((resolve) => (counting.onsuccess = () => resolve(counting.result)));
      db.close();
      return count;
    });
  await page.reload(); // drawn again, then kept
  await expectTexels(page, ONE);
  await expect.poll(tiles).toBeGreaterThan(4);
  await page.reload(); // from the tiles
  await expectTexels(page, ONE);
  await page.goto('/');
  await page.evaluate(async () => {
    for (const { name } of await indexedDB.databases()) indexedDB.deleteDatabase(name!);
  });
  await page.goto(`/bench/${id}`);
  await expectTexels(page, ONE);
});

test('a server that is killed in the middle of it loses nothing that was finished', async ({ context }) => {
  const data = mkdtempSync(join(tmpdir(), 'lithe-sieve-kill-'));
  const base = 'http://127.0.0.1:4879';
  let server: ChildProcess | undefined;
  const startServer = async () => {
    const running = spawn(process.execPath, ['apps/server/dist/main.js', '--data', data, '--port', '4879']);
    server = running;
    await new Promise<void>((resolve) =>
      running.stdout.on('data', (d) => String(d).includes('listening') && resolve()),
    );
  };
  try {
    await startServer();
    let page = await context.newPage();
    await openBroken(page, base);
    await scribble(page, [0.45, 0.4], [0.55, 0.4]);
    await count(page, 1);
    server!.kill('SIGKILL');
    const draw = async (v: number) => {
      const [a, b] = [await seenAt(page, 0.45, v), await seenAt(page, 0.55, v)];
      await page.mouse.move(a.x, a.y);
      await page.mouse.down();
      await page.mouse.move(b.x, b.y, { steps: 5 });
      await page.mouse.up();
    };
    await draw(0.5);
    await expect(page.getByTestId('save-state')).toHaveText('not saved');
    await startServer();
    await settled(page); // sent again
    server!.kill('SIGKILL');
    await draw(0.6);
    await count(page, 3);
    await expect(page.getByTestId('save-state')).toHaveText('not saved');
    const address = page.url();
    await page.close({ runBeforeUnload: false }); // the tab goes too: what is left is in the browser's own storage
    await startServer();
    page = await context.newPage();
    await page.goto(address);
    await settled(page);
    await page.getByTestId('step-strokes').locator('.face').click();
    await count(page, 3);
    await expectTexels(page, ONE);
    await page.reload();
    await settled(page);
    await page.getByTestId('step-strokes').locator('.face').click();
    await count(page, 3);
  } finally {
    server?.kill('SIGKILL');
    rmSync(data, { recursive: true, force: true });
  }
});
