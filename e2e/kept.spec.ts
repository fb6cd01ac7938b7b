import { expect, type Page } from '@playwright/test';
import { BRUSH_DEFAULTS, makeMask } from '@lithe-sieve/core';
import { count, ONE, openBroken } from './broken-leaf.ts';
import {
  docOf,
  dropFiles,
  expectTexels,
  openLeaf,
  pngFile,
  scribble,
  settled,
  sourcesOf,
  strokesOf,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

/** Answers of the server to changes and copies, as a test wants them. */
async function failing(page: Page, what: RegExp, status = 500): Promise<{ stop(): Promise<void> }> {
  const body = JSON.stringify({ code: 'internal', message: 'The server had an internal error.', remedy: '' });
  await page.route(what, (route) =>
    route.request().method() === 'POST'
      ? route.fulfill({ status, body, contentType: 'application/json' })
      : route.continue(),
  );
  return { stop: () => page.unroute(what) };
}

/** The button, unless the page has tried by itself meanwhile. */
async function tryNow(page: Page): Promise<void> {
  await page
    .getByTestId('try-now')
    .click({ timeout: 1500 })
    .catch(() => undefined);
}

test('changes that the server does not take wait, visibly, and are there after it recovers and a reload', async ({
  page,
}) => {
  await openLeaf(page);
  const errors = await failing(page, /\/edits$/);
  await typeNumber(page, 'Cutoff', '0.31');
  await expect(page.getByTestId('not-saved')).toContainText(/Not saved: 1 change waits here since .*internal error/);
  await page.keyboard.press('t');
  await expect(page.getByTestId('not-saved')).toContainText('2 changes wait here');
  await expect(page.getByTestId('save-state')).toHaveText('not saved');
  await page.getByRole('link', { name: 'Stock', exact: true }).click(); // it is said wherever one goes
  await expect(page.getByRole('textbox', { name: 'Search pieces' })).toBeVisible();
  await expect(page.getByTestId('not-saved')).toBeVisible();
  await page.goBack();
  await expect(page.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.31');
  await errors.stop();
  await tryNow(page);
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
  await openLeaf(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await settled(other);
  await typeNumber(page, 'Cutoff', '0.4');
  await settled(page);
  const copies = await failing(other, /\/copies$/);
  await typeNumber(other, 'Cutoff', '0.6');
  await expect(other.getByTestId('not-saved')).toBeVisible();
  for (const cutoff of ['0.61', '0.62', '0.63']) {
    await typeNumber(other, 'Cutoff', cutoff);
    // a field that shows what was taken last would undo what is filled in before it does, sooner than anybody types
    await expect(other.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', cutoff);
  }
  await copies.stop();
  await tryNow(other);
  await expect(other.getByText('changed elsewhere')).toBeVisible();
  await expect(other.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.4');
  await other.getByRole('link', { name: 'a separate piece' }).click();
  await settled(other);
  await expect(other.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.63');
  await page.keyboard.press('Control+z');
  await settled(page);
  await other.close();
});

test('two tabs that draw: the newest piece has the strokes of the first, the copy those of the second', async ({
  page,
  context,
}) => {
  await openBroken(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await settled(other);
  for (const tab of [page, other]) await tab.getByTestId('step-strokes').locator('.face').click();
  await scribble(page, [0.4, 0.4], [0.6, 0.4]);
  await scribble(other, [0.4, 0.6], [0.6, 0.6]);
  await expect(other.getByText('changed elsewhere')).toBeVisible();
  await expectTexels(other, ONE);
  await count(other, 1);
  const [first] = await strokesOf(other);
  await other.getByRole('link', { name: 'a separate piece' }).click();
  await settled(other);
  await other.getByTestId('step-strokes').locator('.face').click();
  await count(other, 1);
  await expectTexels(other, ONE);
  const [second] = await strokesOf(other);
  expect(first.id).not.toBe(second.id);
  await other.close();
});

test('an emptied number field means: as it was', async ({ page }) => {
  const errors: Error[] = [];
  page.on('pageerror', (error) => errors.push(error));
  await openLeaf(page);
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
  await openLeaf(page);
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
    effect: 'cut',
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
  await page.getByRole('button', { name: 'Delete all strokes' }).click();
  await count(page, 0);
  await settled(page);
  await page.keyboard.press('Control+z');
  await count(page, 1000);
  await settled(page);
  expect(((await docOf(page)).run[at].params as { strokes: string[] }).strokes.length).toBe(1000);
});
