import { expect, type Page } from '@playwright/test';
import { decodePng, openFromStock, settled } from './helpers.ts';
import { test } from './test.ts';

/** How many colours a view shows: of a plain grey it is a few, its controls included. */
async function coloursOf(page: Page, view: 'sheet' | 'stand'): Promise<number> {
  const { x, y, width, height } = (await page.getByTestId(view).boundingBox())!;
  const clip = { x: x + 20, y: y + 50, width: width - 40, height: height - 110 }; // between the controls
  const { data, channels } = await decodePng(await page.screenshot({ clip }));
  const seen = new Set<number>();
  for (let i = 0; i < data.length; i += channels) seen.add((data[i] << 16) | (data[i + 1] << 8) | data[i + 2]);
  return seen.size;
}

test('a piece shows its picture on both views before anything is computed, and nothing of the piece before', async ({
  page,
}) => {
  await page.goto('/');
  await openFromStock(page, 'Leaf with all its maps');
  await settled(page);
  await expect.poll(() => coloursOf(page, 'stand')).toBeGreaterThan(500);
  await page.getByRole('link', { name: 'Stock', exact: true }).click();

  // its files never come, nor what the server keeps: both views show the picture of the Stock, and nothing of the piece before
  await page.route('**/api/sources/*/bytes', () => undefined);
  await page.route('**/view.png', (route) => route.fulfill({ status: 204 }));
  await openFromStock(page, 'Sea-aster leaf');
  for (const view of ['sheet', 'stand']) {
    const picture = page.getByTestId(`poster-${view}`).locator('img');
    await expect(picture).toBeVisible();
    await expect(picture).toHaveAttribute('src', new RegExp(page.url().split('/').pop()!));
  }
  await expect(page.getByTestId('piece-size')).toHaveText('2048 × 2048');
  await page.getByRole('link', { name: 'Stock', exact: true }).click();

  // its files never come, what the server keeps does
  await page.unroute('**/view.png');
  await openFromStock(page, 'Pony’s mane');
  for (const view of ['sheet', 'stand'] as const) {
    await expect(page.getByTestId(`poster-${view}`)).toHaveCount(0); // drawn
    await expect.poll(() => coloursOf(page, view)).toBeGreaterThan(500);
  }
});

test('each piece opens from the front and framed, or as it was left', async ({ page }) => {
  await page.goto('/');
  await openFromStock(page, 'Crab net');
  await settled(page);
  await page.getByTestId('stand').getByText('other side').click();
  await page
    .getByRole('button', { name: 'fringe' })
    .or(page.getByText('fringe', { exact: true }))
    .first()
    .click();
  await expect(page.getByText(/^back \d+°/)).toBeVisible();
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await openFromStock(page, 'Torn awning');
  await settled(page);
  await expect(page.getByText(/^front 24°/)).toBeVisible();
  await expect(page.getByRole('radio', { name: 'kept', exact: true })).toBeChecked();
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await openFromStock(page, 'Crab net');
  await settled(page);
  await expect(page.getByText(/^back \d+°/)).toBeVisible();
  await expect(page.getByRole('radio', { name: 'fringe', exact: true })).toBeChecked();
});
