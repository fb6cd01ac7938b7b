import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { BRUSH_DEFAULTS, makeMask, makePicture } from '@lithe-sieve/core';
import { count, openBroken } from './broken-leaf.ts';
import { docOf, dropFiles, openDemo, pngFile, settled, sourcesOf, typeNumber } from './helpers.ts';

/** A copy of a demo piece, so that others find its history as it was. */
async function openOwn(page: Page, name: string): Promise<void> {
  await openDemo(page, name);
  const doc = { ...(await docOf(page)), name: `Kept ${name}` };
  const { id } = (await (await page.request.post('/api/pieces/copies', { data: { doc } })).json()) as { id: string };
  await page.goto(`/bench/${id}`);
  await settled(page);
}

/** Answers of the server to changes and copies, as a test wants them. */
async function failing(page: Page, what: RegExp, status = 500): Promise<{ stop(): Promise<void> }> {
  const body = JSON.stringify({ code: 'internal', message: 'The server met an error of its own.', remedy: '' });
  await page.route(what, (route) =>
    route.request().method() === 'POST'
      ? route.fulfill({ status, body, contentType: 'application/json' })
      : route.continue(),
  );
  return { stop: () => page.unroute(what) };
}

test('changes that the server does not take wait, visibly, and are there after it recovers and a reload', async ({
  page,
}) => {
  await openOwn(page, 'Cordgrass card');
  const errors = await failing(page, /\/edits$/);
  await typeNumber(page, 'Cutoff', '0.31');
  await expect(page.getByTestId('not-saved')).toContainText(/Not saved: 1 change waits here since .*error of its own/);
  await page.keyboard.press('t');
  await expect(page.getByTestId('not-saved')).toContainText('2 changes wait here');
  await expect(page.getByTestId('save-state')).toHaveText('not saved');
  await page.getByRole('link', { name: 'Stock', exact: true }).click(); // it is said wherever one goes
  await expect(page.getByTestId('not-saved')).toBeVisible();
  await page.goBack();
  page.on('dialog', (dialog) => void dialog.accept());
  await errors.stop();
  await page.getByTestId('try-now').click();
  await expect(page.getByTestId('not-saved')).toHaveCount(0);
  await page.reload();
  await settled(page);
  await expect(page.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.31');
  expect((await docOf(page)).material).toMatchObject({ cutoff: 0.31 });
});

test('two tabs and a server that fails at the copy: what is done meanwhile is in the copy', async ({
  page,
  context,
}) => {
  await openOwn(page, 'Sea-aster leaf');
  const other = await context.newPage();
  await other.goto(page.url());
  await settled(other);
  await typeNumber(page, 'Cutoff', '0.4');
  await settled(page);
  const copies = await failing(other, /\/copies$/);
  await typeNumber(other, 'Cutoff', '0.6');
  await expect(other.getByTestId('not-saved')).toBeVisible();
  for (const cutoff of ['0.61', '0.62', '0.63']) await typeNumber(other, 'Cutoff', cutoff);
  await copies.stop();
  await other.getByTestId('try-now').click();
  await expect(other.getByText('changed elsewhere')).toBeVisible();
  await expect(other.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.4');
  await other.getByRole('link', { name: 'a piece of its own' }).click();
  await settled(other);
  await expect(other.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.63');
  await page.keyboard.press('Control+z');
  await settled(page);
  await other.close();
});

test('an emptied number field means: as it was', async ({ page }) => {
  const errors: Error[] = [];
  page.on('pageerror', (error) => errors.push(error));
  await openOwn(page, 'Pony’s mane');
  const { material } = await docOf(page);
  const cutoff = page.getByRole('spinbutton', { name: 'Cutoff', exact: true }).first();
  await cutoff.fill('');
  await cutoff.press('Enter');
  await expect(cutoff).toHaveValue(material.cutoff.toFixed(3));
  const distance = page.getByRole('spinbutton', { name: /^Distance/ });
  const before = await distance.inputValue();
  await distance.fill('');
  await distance.press('Tab');
  await expect(distance).toHaveValue(before);
  await settled(page);
  expect((await docOf(page)).material).toEqual(material);
  await expect(page.getByTestId('notice')).toHaveCount(0);
  expect(errors).toEqual([]);
});

test('a drop on an open piece: long names come in, and what does not fit is said by name', async ({ page }) => {
  await openOwn(page, 'Cordgrass card');
  const before = (await sourcesOf(page)).length;
  const file = (i: number) =>
    pngFile(`${String(i).padStart(2, '0')} ${'long '.repeat(17)}.png`, makeMask(8, 8, new Uint8Array(64).fill(i)));
  await dropFiles(page, await Promise.all(Array.from({ length: 20 }, (_, i) => file(i))));
  const said = page.getByTestId('arrival').filter({ hasText: 'no room' });
  await expect(said).toContainText('A piece holds 16 sources');
  for (let i = 16 - before; i < 20; i++) await expect(said).toContainText(`${String(i).padStart(2, '0')} long`);
  await settled(page);
  expect((await sourcesOf(page)).length).toBe(16);
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('emptying a step of a thousand strokes is one change, and undone', async ({ page }) => {
  await openBroken(page);
  const doc = await docOf(page);
  const id = page.url().split('/').pop()!;
  const at = doc.run.findIndex((s) => s.kind === 'strokes');
  const strokes = Array.from({ length: 1000 }, (_, i) => ({
    id: `many-${i}-${id}`.slice(0, 40),
    kind: 'brush',
    says: 'cut',
    seed: i,
    brush: { ...BRUSH_DEFAULTS, diameter: 3 },
    path: [((i * 37) % 250) * 64, ((i * 61) % 250) * 64, 1023],
  }));
  const list = (value: string[]) => [{ op: 'replace', path: ['run', at, 'params', 'strokes'], value }];
  const { revision } = (await (await page.request.get(`/api/pieces/${id}`)).json()) as { revision: number };
  const entry = { label: 'Many', patches: list(strokes.map((s) => s.id)), inverse: list([]) };
  const answer = await page.request.post(`/api/pieces/${id}/edits`, {
    data: { kind: 'do', baseRevision: revision, strokes, entry },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
  await page.reload();
  await settled(page);
  await page.getByTestId('step-strokes').locator('.face').click();
  await count(page, 1000);
  await page.getByRole('button', { name: 'Empty it' }).click();
  await count(page, 0);
  await settled(page);
  await page.keyboard.press('Control+z');
  await count(page, 1000);
  await settled(page);
  expect(((await docOf(page)).run[at].params as { strokes: string[] }).strokes.length).toBe(1000);
});

test('a computation in full that fails ends, says so, and the next change computes again', async ({ page }) => {
  // the worker refuses memory for as long as it is told to
  await page.route(/run\.worker-[^/]*\.js$/, async (route) => {
    const answer = await route.fetch();
    const refuse = `{const S=SharedArrayBuffer;let no=false;new BroadcastChannel('refuse').onmessage=(e)=>{no=e.data};
      globalThis.SharedArrayBuffer=class extends S{constructor(n,o){if(no&&n>=65536)throw new RangeError('Array buffer allocation failed');super(n,o)}}};`;
    await route.fulfill({ response: answer, body: refuse + (await answer.text()) });
  });
  await openOwn(page, 'Sea-aster leaf');
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
  await openOwn(page, 'Cordgrass card');
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

test('ten tabs that follow a file: each opens, each saves, each hears of a save', async ({ context }) => {
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
    for (let i = 0; i < 10; i++) {
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
    await page.getByRole('link', { name: 'Open Cordgrass card', exact: true }).click();
    await expect(page.getByTestId('lack')).toContainText(says);
    await page.getByTestId('to-hand-off').click();
    await page.getByTestId('write').click();
    await expect(page.getByTestId('verdict')).toContainText('Every check passed');
    await page.getByRole('link', { name: 'Stock', exact: true }).click();
    await expect(page.getByRole('link', { name: 'Open Cordgrass card', exact: true })).toBeVisible();
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
  await openOwn(page, 'Cordgrass card');
  await expect(page.getByTestId('notice').filter({ hasText: 'keeps no settings' })).toBeVisible();
  await expect(page.getByTestId('notice').filter({ hasText: 'keeps nothing' })).toBeVisible();
  await typeNumber(page, 'Cutoff', '0.44');
  await settled(page);
  expect((await docOf(page)).material.cutoff).toBe(0.44);
  await page.keyboard.press('Control+z');
  await settled(page);
});
