import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { makePicture } from '@lithe-sieve/core';
import { unzipSync } from 'fflate';
import { docOf, openFromStock, openLeaf, pngFile, settled, sourcesOf, typeNumber } from './helpers.ts';
import { test } from './test.ts';

test('a computation in full that fails ends, says so, and the next change computes again', async ({ page }) => {
  // the worker refuses memory while the test says so
  await page.route(/run\.worker-[^/]*\.js$/, async (route) => {
    const answer = await route.fetch();
    const refuse = `{const S=SharedArrayBuffer;let no=false;new BroadcastChannel('refuse').onmessage=(e)=>{no=e.data};
      globalThis.SharedArrayBuffer=class extends S{constructor(n,o){if(no&&n>=65536)throw new RangeError('Array buffer allocation failed');super(n,o)}}};`;
    await route.fulfill({ response: answer, body: refuse + (await answer.text()) });
  });
  await openLeaf(page);
  const refuse = (value: boolean) => page.evaluate((v) => new BroadcastChannel('refuse').postMessage(v), value);
  await refuse(true);
  await typeNumber(page, 'Tolerance', '0.21');
  await expect(page.getByTestId('fault')).toContainText('Array buffer allocation failed');
  await expect(page.getByText('computing in full…')).toHaveCount(0);
  await page.keyboard.press('h');
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed');
  await expect(page.getByText('not compared with the Bench')).toBeVisible();
  await page.keyboard.press('w');
  await refuse(false);
  await typeNumber(page, 'Tolerance', '0.22');
  await settled(page);
  await expect(page.getByTestId('fault')).toHaveCount(0);
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
  await settled(page);
});

test('links and buttons of the Hand-off are followed and pressed by keys', async ({ page }) => {
  await openLeaf(page);
  await page.keyboard.press('h');
  await page.getByTestId('write').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('verdict')).toBeVisible();
  const jobs: string[] = [];
  page.on('request', (request) => request.method() === 'POST' && jobs.push(request.url()));
  await page.getByTestId('file').first().focus();
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
  expect(download.suggestedFilename()).toContain('.glb');
  await page.getByRole('link', { name: 'Stock', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Stock' })).toBeVisible();
  expect(jobs).toEqual([]);
});

// Chromium opens six connections to a host (HTTP/1.1, common practice): the tabs beyond them must not wait for ever
test('seven tabs that follow a file: each opens, each saves, each hears of a save', async ({ context }) => {
  test.setTimeout(240_000);
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-tabs-'));
  const picture = async (alpha: number) =>
    (await pngFile('tabs.png', makePicture(16, 16, new Uint8Array(16 * 16 * 4).fill(alpha)))).bytes;
  const first = await context.newPage();
  try {
    writeFileSync(join(folder, 'tabs.png'), await picture(200));
    const api = first.request;
    await api.post('/api/folders', { data: { path: folder } });
    const ids: string[] = [];
    for (let i = 0; i < 7; i++) {
      const { sha256 } = (await (
        await api.post('/api/sources?name=tabs.png', { data: Buffer.from(await picture(200)) })
      ).json()) as { sha256: string };
      const made = await api.post('/api/pieces', {
        data: { name: `Tab ${i}`, sources: [{ sha256, fileName: 'tabs.png' }] },
      });
      const { id } = (await made.json()) as { id: string };
      const patch = (op: string) => [{ op, path: ['sources', 0, 'follows'], value: join(folder, 'tabs.png') }];
      const entry = {
        label: 'Follow',
        patches: patch('add'),
        inverse: [{ op: 'remove', path: ['sources', 0, 'follows'] }],
      };
      expect(
        (await api.post(`/api/pieces/${id}/edits`, { data: { kind: 'do', baseRevision: 1, entry } })).status(),
      ).toBe(200);
      ids.push(id);
    }
    const pages: Page[] = [];
    for (const id of ids) {
      const page = await context.newPage();
      await page.setViewportSize({ width: 640, height: 480 }); // as many stages are drawn in software
      await page.goto(`/bench/${id}`);
      await settled(page);
      pages.push(page);
    }
    await typeNumber(pages[0], 'Cutoff', '0.37');
    await settled(pages[0]);
    const old = new Set((await sourcesOf(pages[0])).map((s) => s.sha256));
    writeFileSync(join(folder, 'tabs.png'), await picture(90));
    const shas = async () => new Set(await Promise.all(pages.map(async (p) => (await sourcesOf(p))[0].sha256)));
    await expect.poll(async () => [...(await shas())].some((sha) => old.has(sha))).toBe(false);
    const before = await shas();
    await pages[3].close(); // the others go on
    writeFileSync(join(folder, 'tabs.png'), await picture(30));
    pages.splice(3, 1);
    await expect.poll(async () => [...(await shas())].some((sha) => before.has(sha))).toBe(false);
    for (const id of ids) await api.delete(`/api/pieces/${id}`);
    await Promise.all(pages.map((p) => p.close()));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

for (const [what, script, says] of [
  ['no shared memory', 'delete globalThis.SharedArrayBuffer', 'shared memory'],
  ['no OffscreenCanvas', 'delete globalThis.OffscreenCanvas', 'OffscreenCanvas'],
] as const) {
  test(`${what}: said on the Bench, and the Stock works`, async ({ page }) => {
    await page.addInitScript(script);
    await page.goto('/');
    await openFromStock(page, 'Cordgrass card');
    await expect(page.getByTestId('lack')).toContainText(says);
    await page.getByTestId('to-hand-off').click();
    await page.getByTestId('write').click();
    await expect(page.getByTestId('verdict')).toContainText('Every check passed');
    await page.getByRole('link', { name: 'Stock', exact: true }).click();
    await expect(page.locator('.grid article').first()).toBeVisible();
  });
}

test('blocked or frozen storage costs what it stored, and is said', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(window, 'localStorage', {
      get: () => {
        throw new DOMException('blocked', 'SecurityError');
      },
    });
    Object.defineProperty(IDBFactory.prototype, 'open', { value: () => new EventTarget() }); // never answers
  });
  await openLeaf(page);
  await expect(page.getByTestId('notice').filter({ hasText: 'stores no settings' })).toBeVisible();
  await expect(page.getByTestId('notice').filter({ hasText: 'stores nothing' })).toBeVisible();
  await typeNumber(page, 'Cutoff', '0.44');
  await settled(page);
  expect((await docOf(page)).material.cutoff).toBe(0.44);
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('the Studio page says what takes room, backs up, looks over and frees; a piece that cannot be opened is copied out', async ({
  page,
}) => {
  await page.goto('/studio');
  await expect(page.getByTestId('studio-bytes')).toContainText('MB');
  await page.getByTestId('back-up').click();
  await expect(page.getByTestId('backups').locator('li').first()).toContainText('studio-00');
  await page.getByTestId('check').click();
  await expect(page.getByTestId('checked')).toContainText('no problem found');
  await page.getByTestId('free').click();
  await expect(page.getByTestId('freed')).toContainText('deleted pieces are gone');
  const unreadable = { code: 'unreadable-piece', message: 'This piece cannot be opened: so it is.', remedy: '' };
  await page.route(/\/api\/pieces\/[^/?]+$/, (route) => route.fulfill({ status: 422, json: unreadable }));
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await openFromStock(page, 'Cordgrass card');
  await expect(page.getByText('so it is')).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Copy it out' }).click(),
  ]);
  expect(Object.keys(unzipSync(new Uint8Array(readFileSync(await download.path()))))).toContain('document.json');
});
