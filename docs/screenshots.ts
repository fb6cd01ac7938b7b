// npm run screenshots: one current picture of each main view, at 1280 × 800, from the demo data.
import { expect, test, type Page } from '@playwright/test';
import { openDemo, settled } from '../e2e/helpers.ts';

const shoot = async (page: Page, name: string) => {
  await page.mouse.move(640, 2);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};

test('the main views', async ({ page }) => {
  await openDemo(page, 'Sea-aster leaf');
  await shoot(page, 'bench');

  await page.getByText('connected', { exact: true }).click();
  await page.getByTestId('insert-mask').click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^Clear backdrop/ })
    .click();
  await page.getByTestId('found').getByRole('checkbox').nth(1).check();
  await page.getByTestId('found').getByRole('checkbox').nth(3).check();
  await settled(page);
  await shoot(page, 'holes');
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);

  await page.getByTestId('stand').focus();
  await page.keyboard.press('f');
  await page.getByTestId('material-tile').click();
  await page.keyboard.press('4');
  await shoot(page, 'bench-back-fringe');

  await openDemo(page, 'Pony’s mane');
  await page.keyboard.press('l');
  await page.getByTestId('source').nth(1).click();
  await shoot(page, 'bench-dark-source');
  await page.keyboard.press('l');

  await openDemo(page, 'Cordgrass card');
  await page.keyboard.press('h');
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toBeVisible({ timeout: 60_000 });
  await shoot(page, 'hand-off');

  await page.keyboard.press('s');
  await expect(page.getByRole('link', { name: 'Open Cordgrass card', exact: true })).toBeVisible();
  await shoot(page, 'stock');
  await page.keyboard.press('?');
  await shoot(page, 'keys');
});
