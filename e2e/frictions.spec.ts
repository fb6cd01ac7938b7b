import { expect } from '@playwright/test';
import { drawLeafScan } from '@lithe-sieve/demo';
import { openFromStock, openLeaf, openNew, runOf, settled } from './helpers.ts';
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
  await page.getByTestId('profile-dds-bc7').check();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('cancel')).toBeVisible();
  await expect(page.getByTestId('waiting')).toHaveCount(0);
  await page.getByRole('link', { name: 'Bench', exact: true }).click();
  await page.getByTestId('to-hand-off').click();
  await expect(page.getByTestId('cancel').or(page.getByTestId('verdict'))).toBeVisible();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 90_000 });

  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await page.getByRole('textbox', { name: 'Search pieces' }).fill('Torn awning');
  await page.getByRole('button', { name: 'Delete Torn awning' }).click();
  await expect(page.getByRole('link', { name: 'Open Torn awning' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Studio', exact: true }).click();
  const deleted = page.getByTestId('deleted').locator('li', { hasText: 'Torn awning' });
  await deleted.getByRole('button', { name: 'Restore' }).click();
  await expect(deleted).toHaveCount(0);
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await openFromStock(page, 'Torn awning');
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
