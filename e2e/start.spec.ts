import { expect } from '@playwright/test';
import { drawLeafScan } from '@lithe-sieve/demo';
import { expectAccessible } from './axe.ts';
import { dropFiles, openDemo, pngFile, runOf, settled, steady } from './helpers.ts';
import { test } from './test.ts';

const solid = (side: number) => ({ width: side, height: side, channels: 3 as const, data: new Uint8Array(3 * side * side).fill(140) }); // prettier-ignore

test('a picture begins with masks that were found: pointed at they show, pressed they are the run; what worked is kept', async ({
  page,
}) => {
  await page.goto('/');
  await dropFiles(page, [await pngFile('shore_leaf.png', drawLeafScan(31, 300).colour)]);
  await settled(page);
  await expect(page.getByRole('heading', { name: 'Start from…' })).toBeVisible();
  const proposals = page.getByTestId('proposal');
  await expect.poll(() => proposals.count()).toBeGreaterThan(2);
  await expectAccessible(page, 'Start from', '#settings');
  const before = await runOf(page);
  const kept = () => page.getByTestId('kept').innerText();
  const started = await steady(kept);

  // by mouse: shown while it is pointed at, and nothing is saved of it
  await proposals.nth(1).hover();
  await expect.poll(kept).not.toBe(started);
  await expect(page.getByTestId('reason')).toHaveText(/\.$/);
  await page.mouse.move(300, 700);
  await expect.poll(kept).toBe(started);
  expect(await runOf(page)).toEqual(before);

  // by keys: Enter takes it, one undo gives the run back
  await proposals.first().focus();
  await page.keyboard.press('ArrowRight');
  await expect(proposals.nth(1)).toBeFocused();
  await page.keyboard.press('Enter');
  await expect.poll(async () => JSON.stringify(await runOf(page))).not.toBe(JSON.stringify(before));
  await page.keyboard.press('Control+z');
  await expect.poll(() => runOf(page)).toEqual(before);

  await page.keyboard.press('Alt+a');
  await proposals.first().click();
  await expect(page.getByRole('heading', { name: 'Start from…' })).toBeHidden();
  const taken = await runOf(page);
  await page.keyboard.press('Alt+a');
  await page.getByTestId('start-name').fill('Shore leaves');
  await page.getByTestId('keep-start').click();
  const picture = page.getByTestId('kept-start').locator('img');
  expect(await picture.evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth))).toBeGreaterThan(
    20,
  );

  // for the next picture: the same kinds of step
  await page.goto('/');
  await dropFiles(page, [await pngFile('other_leaf.png', drawLeafScan(77, 260).colour)]);
  await settled(page);
  await expect.poll(() => proposals.count()).toBeGreaterThan(1);
  await page.getByTestId('kept-start').focus();
  await page.keyboard.press('Enter');
  const kinds = (run: { kind: string }[]) => run.map((s) => s.kind);
  await expect.poll(async () => kinds(await runOf(page))).toEqual(kinds(taken));
  await settled(page);

  // what a step of the menu would give is what it gives
  await page.getByTestId('insert-mask').click();
  await expect.poll(() => page.locator('.offer canvas').count()).toBeGreaterThan(2);
  await expectAccessible(page, 'menu with pictures', '.el-popper');
});

test('a picture with nothing to part: said in words, and every step is still there', async ({ page }) => {
  await page.goto('/');
  await dropFiles(page, [await pngFile('plain.png', solid(40))]);
  await settled(page);
  await page.keyboard.press('Alt+a');
  await expect(page.getByTestId('no-proposals')).toContainText('Scribble');
  await page.goto('/');
  await dropFiles(page, [await pngFile('dot.png', solid(1))]);
  await settled(page);
  await page.keyboard.press('Alt+a');
  await expect(page.getByTestId('no-proposals')).toBeVisible();
});

test('help on what is selected, by keys; searched, followed, closed; snags explain themselves', async ({ page }) => {
  await openDemo(page, 'Sea-aster leaf');
  await page.getByTestId('step-bleed').locator('.face').click();
  await page.keyboard.press('F1');
  const help = page.getByTestId('help');
  await expect(help.getByRole('heading', { name: 'Bleed' })).toBeVisible();
  expect(await help.locator('img').evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth))).toBe(328); // prettier-ignore
  await expectAccessible(page, 'help page', '.help');
  await help.getByRole('link', { name: 'halo' }).click();
  await expect(help.getByTestId('help-page')).toContainText('Snag');
  await help.getByRole('button', { name: 'Back' }).click();
  await page.getByTestId('step-from-colour').locator('.face').focus();
  await page.keyboard.press('Enter');
  await expect(help.getByRole('heading', { name: 'From colour' })).toBeVisible(); // it follows what is selected
  await page.keyboard.press('Alt+k');
  await expect(page.getByTestId('search-help')).toBeFocused();
  await page.keyboard.type('premultiplied');
  await expect(help.getByTestId('help-entry')).toHaveText(['Straight and premultiplied']);
  await expectAccessible(page, 'help list', '.help');
  await page.keyboard.press('Enter');
  await expect(help.getByTestId('help-page')).toContainText('PNG');
  await page.keyboard.press('Escape');
  await expect(help).toBeHidden();

  await page.getByTestId('step-bleed').locator('input[type=checkbox]').click();
  await page.getByTestId('snag-halo').getByRole('link').click();
  await expect(help.getByRole('heading', { name: 'Halo' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
});

test('the first walk is offered once, goes from the Stock to the files, ends at any stop and is found again', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByTestId('take-walk').click();
  const walk = page.getByTestId('walk');
  await expect(walk).toContainText('1 of 12');
  await page.getByTestId('walk-on').click();
  await expect(walk).toContainText('2 of 12');
  await expect(page).toHaveURL(/\/bench\//);
  await expectAccessible(page, 'walk', '.el-tour__content');
  for (let stop = 3; stop <= 10; stop++) {
    await page.getByTestId('walk-on').click();
    await expect(walk).toContainText(`${stop} of 12`);
  }
  await expect(page).toHaveURL(/\/hand-off\//);
  await page.keyboard.press('Escape');
  await expect(walk).toBeHidden();
  await page.goto('/');
  await expect(page.getByText('New here?')).toBeHidden();
  await page.keyboard.press('?');
  await page.getByTestId('walk-from-keys').click();
  await expect(walk).toContainText('1 of 12');
});
