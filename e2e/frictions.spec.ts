import { expect } from '@playwright/test';
import { drawLeafScan } from '@lithe-sieve/demo';
import { chooseProfile, openFromStock, openLeaf, openNew, runOf, settled } from './helpers.ts';
import { test } from './test.ts';

test('a step without its input is a snag whose remedy makes it, and is selected', async ({ page }) => {
  await openLeaf(page);
  await page.getByTestId('insert-maps').click();
  await page.keyboard.type('Occlusion');
  await page.keyboard.press('Enter');
  const snag = page.getByTestId('snag-failed-step');
  await expect(snag).toContainText('Occlusion does nothing. There is no height map yet.');
  await snag.getByRole('button', { name: 'Make heights from the picture' }).click();
  await settled(page);
  await expect(snag).toHaveCount(0);
  expect((await runOf(page)).slice(-2).map((s) => s.kind)).toEqual(['height-from-picture', 'occlusion']);
  await expect(page.getByRole('heading', { name: 'Height: picture' })).toBeVisible(); // its settings
});

test('a hand-off that runs is found again, and a deleted piece is restored in the Studio', async ({ page }) => {
  await openNew(page, 'large_leaf.png', drawLeafScan(33, 1024).colour);
  await page.getByTestId('to-hand-off').click();
  await chooseProfile(page, 'dds-bc7');
  await page.getByTestId('write').click();
  await expect(page.getByTestId('cancel')).toBeVisible();
  await expect(page.getByTestId('waiting')).toHaveCount(0);
  expect(await page.evaluate(() => document.activeElement?.className)).toBe('deed'); // where its buttons come and go
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.keyboard.press('?');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  expect(await page.evaluate(() => document.activeElement?.tagName)).toBe('BODY'); // no ring on the link
  await page.getByTestId('to-hand-off').click();
  await expect(page.getByTestId('cancel').or(page.getByTestId('verdict'))).toBeVisible();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 90_000 });

  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  const cards = () =>
    page
      .getByRole('link', { name: /^Open / })
      .evaluateAll((all) =>
        Object.fromEntries(all.map((a) => [a.getAttribute('aria-label')!, JSON.stringify(a.getBoundingClientRect())])),
      );
  await page.getByRole('button', { name: 'Delete large_leaf' }).hover();
  const before = await cards();
  await page.getByRole('button', { name: 'Delete large_leaf' }).click();
  await expect(page.getByTestId('gone')).toContainText('large_leaf is deleted.');
  delete before['Open large_leaf'];
  expect(await cards()).toEqual(before); // no other bin came under the pointer
  await page.getByRole('link', { name: 'Studio', exact: true }).click();
  const deleted = page.getByTestId('deleted').locator('li', { hasText: 'large_leaf' });
  await deleted.getByRole('button', { name: 'Restore' }).click();
  await expect(deleted).toHaveCount(0);
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await openFromStock(page, 'large_leaf');
});

test('a step that does nothing without presses asks for one; the strip stays as high; who leaves early hears of it', async ({
  page,
}) => {
  await openLeaf(page);
  const strip = page.locator('.run');
  const high = async () => (await strip.boundingBox())!.height;
  const before = await high();
  await page.keyboard.press('a');
  await page.keyboard.type('From touch');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Touch the region. Esc ends it.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('a');
  await page.keyboard.type('other piece', { delay: 30 }); // longer than the menu before takes to go
  await page.keyboard.press('Enter');
  await page.getByTestId('piece').click();
  const option = page.getByRole('option', { name: /Cordgrass card/ });
  await expect(option).toContainText('changed');
  await expect(option.locator('img')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.setViewportSize({ width: 700, height: 800 });
  expect(await strip.evaluate((e) => e.scrollWidth > e.clientWidth)).toBe(true); // its scroll bar shows
  expect(await high()).toBe(before);
  await page.setViewportSize({ width: 1280, height: 800 });

  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await page.route('**/bytes', () => undefined); // the picture never comes
  await openFromStock(page, 'Cordgrass card');
  await expect(page.getByTestId('piece-size')).toBeVisible();
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await expect(page.getByText('“Cordgrass card” was still being computed in full.')).toBeVisible();
});

test('by keys the focus follows: to the settings of an inserted step, to a tile after a deletion', async ({ page }) => {
  await openLeaf(page);
  const focused = () =>
    page.evaluate(() => (document.activeElement?.closest('aside, .tile') as HTMLElement | null)?.className ?? '');
  await page.keyboard.press('Alt+m');
  await page.keyboard.type('Height: edge');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Height: edge' })).toBeVisible();
  await expect.poll(focused).toContain('tray');
  await page.keyboard.press('Tab'); // the first of its settings
  expect(await page.evaluate(() => document.activeElement?.closest('#settings') !== null)).toBe(true);
  expect(await page.evaluate(() => document.activeElement?.id)).not.toBe('settings');
  await page.keyboard.press('Alt+r');
  await expect.poll(focused).toContain('tile');
  await page.keyboard.press('Delete');
  await expect(page.getByTestId('step-height-from-edge')).toHaveCount(0);
  await expect.poll(focused).toContain('tile');
  await page.keyboard.press('Alt+s');
  await expect.poll(focused).toContain('tray');
  await page.keyboard.press('Alt+t');
  await page.keyboard.type('Trim');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await runOf(page)).at(-1)?.kind).toMatch(/trim/);
});
