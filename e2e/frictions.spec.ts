import { expect } from '@playwright/test';
import { openDemo, openFromStock, openLeaf, runOf, settled } from './helpers.ts';
import { test } from './test.ts';

test('a step without its input is a snag whose remedy makes it, and is selected', async ({ page }) => {
  await openLeaf(page);
  await page.getByTestId('insert-maps').click();
  await page.keyboard.type('Occlusion');
  await page.keyboard.press('Enter');
  const snag = page.getByTestId('snag-failed-step');
  await expect(snag).toContainText('Occlusion does nothing: there is no height map yet.');
  await snag.getByRole('button', { name: 'Make heights from the picture' }).click();
  await settled(page);
  await expect(snag).toHaveCount(0);
  expect((await runOf(page)).slice(-2).map((s) => s.kind)).toEqual(['height-from-picture', 'occlusion']);
  await expect(page.getByRole('heading', { name: 'Height: picture' })).toBeVisible(); // its settings
});

test('a hand-off that runs is found again, and a deleted piece is restored in the Studio', async ({ page }) => {
  await openDemo(page, 'Sea-aster leaf');
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
