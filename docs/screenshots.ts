// npm run screenshots: one current picture of each main view, at 1280 × 800, from the demo data.
import { expect, test, type Page } from '@playwright/test';
import { choose, openDemo, scribble, seenAt, settled, typeNumber } from '../e2e/helpers.ts';

const shoot = async (page: Page, name: string) => {
  await page.mouse.move(640, 2);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};

test('levels held, and formats', async ({ page }) => {
  await openDemo(page, 'Pony’s mane');
  await page.keyboard.press('Alt+w');
  await expect(page.getByTestId('break-list')).toBeVisible();
  await page.keyboard.press('Alt+ArrowDown');
  await shoot(page, 'breaks');
  await page.getByTestId('levels-tile').click();
  await page.getByTestId('hold').click();
  await expect(page.getByTestId('out-of-reach')).toBeVisible();
  await expect(page.getByTestId('level-figures')).toBeVisible();
  await page.keyboard.press('2');
  await shoot(page, 'levels');
  await page.keyboard.press('3');
  await page.getByTestId('storage-tile').click();
  await page.getByTestId('compare-storage').click();
  await expect(page.getByRole('button', { name: 'Compare again' })).toBeVisible({ timeout: 60_000 });
  await shoot(page, 'compression');
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
});

test('the main views', async ({ page }) => {
  test.setTimeout(300_000); // the Stand rests for its picture
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

  await page.getByTestId('step-from-colour').locator('.face').click();
  await page.getByTestId('insert-mask').click();
  await page.getByRole('menuitem', { name: /^Strokes/ }).click();
  await settled(page);
  await choose(page, 'tip', 'ragged');
  await typeNumber(page, 'Diameter, texels', '90');
  for (const [from, to] of [
    [
      [0.76, 0.36],
      [0.7, 0.6],
    ],
    [
      [0.26, 0.26],
      [0.24, 0.42],
    ],
  ] as [[number, number], [number, number]][]) {
    await scribble(page, from, to);
  }
  const zoomed = async (turns: number) => {
    const at = await seenAt(page, 0.72, 0.5);
    await page.mouse.move(at.x, at.y);
    for (let i = 0; i < turns; i++) await page.mouse.wheel(0, -300);
    await page.mouse.move(at.x + 6, at.y + 40);
    await page.waitForTimeout(1500);
  };
  await zoomed(0);
  await page.screenshot({ path: 'docs/screenshots/strokes.png' });
  await typeNumber(page, 'Diameter, texels', '16');
  await zoomed(5);
  await page.screenshot({ path: 'docs/screenshots/strokes-close.png' });
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);

  await openDemo(page, 'Pony’s mane');
  await page.getByTestId('stand').focus();
  await page.keyboard.press('f');
  await page.getByTestId('light').click();
  await page.keyboard.press('Alt+v');
  await page.keyboard.press('Alt+u');
  await page.getByTestId('strip').click();
  await expect(page.getByTestId('strip-of').locator('li')).toHaveCount(8, { timeout: 60_000 });
  await expect(page.getByTestId('summed')).toContainText(/^(4\d|5\d|6\d) of/, { timeout: 90_000 }); // soft by then
  await shoot(page, 'stand');
  await page.keyboard.press('Alt+v');

  await page.keyboard.press('l');
  await page.getByTestId('source').nth(1).click();
  await shoot(page, 'bench-dark-source');
  await page.keyboard.press('l');

  await openDemo(page, 'Leaf with all its maps');
  await page.keyboard.press('h');
  await page.getByTestId('profile').click();
  await page.getByTestId('profile-packed-maps').click();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('card-green-up')).toBeVisible({ timeout: 60_000 }); // the last that is drawn
  await shoot(page, 'hand-off');

  await page.keyboard.press('s');
  await expect(page.getByRole('link', { name: 'Open Cordgrass card', exact: true })).toBeVisible();
  await shoot(page, 'stock');

  await page.getByRole('link', { name: 'Studio' }).click();
  await page.getByTestId('back-up').click();
  await expect(page.getByTestId('backups').locator('li').first()).toBeVisible();
  await page.getByTestId('check').click();
  await expect(page.getByTestId('checked')).toContainText('no problem found');
  await shoot(page, 'studio');
});

test('maps and the fit', async ({ page }) => {
  await openDemo(page, 'Leaf with all its maps');
  await page.getByTestId('step-normal-from-height').locator('.face').click();
  await settled(page);
  await shoot(page, 'maps');
  await openDemo(page, 'Leaf on its diagonal');
  await page.getByTestId('step-turn-to-fit').locator('.face').click();
  await settled(page);
  await shoot(page, 'fit');
});

test('starting from what was found, and help', async ({ page }) => {
  await openDemo(page, 'Pony’s mane');
  await page.keyboard.press('Alt+a');
  await expect(page.getByTestId('proposal').nth(3)).toBeVisible();
  await page.getByTestId('proposal').nth(1).focus(); // the pointer goes aside for the picture
  await shoot(page, 'start');
  await page.getByTestId('step-bleed').locator('.face').click();
  await page.keyboard.press('F1');
  await expect(page.getByTestId('help-page')).toBeVisible();
  await shoot(page, 'help');
});

test('growing a piece', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('grow').click();
  await expect(page.getByTestId('gallery').locator('canvas[width="168"]').first()).toBeVisible();
  await page.waitForTimeout(4000); // all small pictures
  await shoot(page, 'grow');
  await page.keyboard.press('Escape');
  await openDemo(page, 'Leaf atlas');
  await page.waitForTimeout(3000);
  await shoot(page, 'atlas');
  await openDemo(page, 'Leaf on its diagonal');
  await page.getByTestId('card-tile').click();
  await expect(page.getByRole('button', { name: 'Take 24 corners' })).toBeVisible();
  await page.getByTestId('outline-figures').scrollIntoViewIfNeeded();
  await page.waitForTimeout(2000);
  await shoot(page, 'card');
});
