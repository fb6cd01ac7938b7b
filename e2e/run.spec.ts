import { expect, type Page } from '@playwright/test';
import { drawCordgrass } from '@lithe-sieve/demo';
import { choose, openDemo, openLeaf, openNew, settled, steady, typeNumber } from './helpers.ts';
import { test } from './test.ts';

const tiles = (page: Page) =>
  page.locator('.tiles [data-id]').evaluateAll((list) => list.map((e) => (e as HTMLElement).dataset['test']));

test('steps are inserted, reordered by dragging, switched, deleted; all of it undone, across a reload', async ({
  page,
}) => {
  await openNew(page, 'tuft.png', drawCordgrass(412, 256).colour);
  expect(await tiles(page)).toEqual(['step-from-channel']);
  for (const hint of ['Darker than the black point', 'Swaps kept and dropped']) {
    await page.getByTestId('insert-mask').click();
    await page.getByText(hint).click();
  }
  await page.getByTestId('insert-colour').click();
  await page.getByText('Gives dropped texels the colour').click();
  expect(await tiles(page)).toEqual(['step-from-channel', 'step-levels', 'step-invert', 'step-bleed']);
  await expect(page.getByTestId('snag-inverted')).toBeVisible();

  const from = (await page.getByTestId('step-invert').locator('.face').boundingBox())!;
  const to = (await page.getByTestId('step-levels').locator('.face').boundingBox())!;
  await page.mouse.move(from.x + 30, from.y + 30);
  await page.mouse.down();
  await page.mouse.move(from.x + 10, from.y + 32, { steps: 4 });
  await page.mouse.move(to.x + 6, to.y + 32, { steps: 12 });
  await page.waitForTimeout(300);
  await page.mouse.up();
  await expect.poll(() => tiles(page)).toEqual(['step-from-channel', 'step-invert', 'step-levels', 'step-bleed']);
  await page.getByTestId('snag-inverted').getByRole('button').click(); // the remedy takes the invert away again
  await expect.poll(() => tiles(page)).toEqual(['step-from-channel', 'step-levels', 'step-bleed']);
  await page.getByTestId('step-levels').locator('.face').click();
  await page.getByRole('button', { name: 'Delete this step' }).click();
  await page.getByRole('checkbox', { name: 'Bleed on' }).uncheck();
  await settled(page);
  await page.reload();
  await settled(page);
  expect(await tiles(page)).toEqual(['step-from-channel', 'step-bleed']);
  await expect(page.getByTestId('step-bleed')).toHaveClass(/off/);

  const undo = page.getByRole('button', { name: 'Undo' });
  for (let i = 0; i < 7; i++) await undo.click();
  expect(await tiles(page)).toEqual(['step-from-channel']);
  await expect(undo).toBeDisabled();
  await settled(page);
  await page.reload();
  await settled(page);
  await page.keyboard.press('Control+Shift+z');
  expect(await tiles(page)).toEqual(['step-from-channel', 'step-levels']);
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('a cutoff drag moves Sheet, ladder and Stand together and recomputes nothing', async ({ page }) => {
  await page.addInitScript(() => {
    const log: string[] = [];
    Object.assign(window, { timings: log });
    window.addEventListener('lithe:timing', (e) => log.push((e as CustomEvent<{ name: string }>).detail.name));
  });
  await openDemo(page, 'Cordgrass card');
  const look = async () => ({
    kept: await page.getByTestId('kept').innerText(),
    ladder: await page.getByTestId('ladder').locator('li').nth(3).innerText(),
    sheet: (await page.getByTestId('sheet').screenshot()).toString('base64'),
    stand: (await page.getByTestId('stand').screenshot()).toString('base64'),
  });
  const before = await steady(look);
  await page.evaluate(() => void ((window as unknown as { timings: string[] }).timings.length = 0));
  const plot = (await page.locator('.plot').boundingBox())!;
  await page.mouse.move(plot.x + plot.width / 2, plot.y + 50);
  await page.mouse.down();
  await page.mouse.move(plot.x + plot.width * 0.96, plot.y + 50, { steps: 5 });
  const unmoved = async () => {
    const during = await look();
    return (['kept', 'ladder', 'sheet', 'stand'] as const).filter((key) => during[key] === before[key]);
  };
  await expect.poll(unmoved).toEqual([]);
  expect(await page.evaluate(() => (window as unknown as { timings: string[] }).timings)).not.toContain('edited');
  await page.mouse.up();
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('kept')).toHaveText(before.kept);
  // the ladder counts what the run made: level 0 is the coverage that the chart shows
  await expect(page.getByTestId('ladder').locator('li').first()).toContainText(before.kept.replace(' %', ''));
});

test('typed numbers are kept within their limits, nonsense is left out', async ({ page }) => {
  await openDemo(page, 'Sea-aster leaf');
  await typeNumber(page, 'Cutoff', '7');
  await expect(page.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '1');
  await expect(page.getByTestId('kept')).toHaveText('26.8 %'); // only what is full alpha
  await page.keyboard.press('Control+z');
  await page.getByTestId('cutoff-handle').focus();
  for (const key of ['ArrowRight', 'ArrowRight', 'PageDown']) await page.keyboard.press(key);
  await expect(page.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.46');
  await page.getByTestId('step-from-colour').locator('.face').click();
  await page.getByRole('textbox', { name: /Keep what looks like/ }).fill('not a colour');
  await page.keyboard.press('Enter');
  await expect(page.locator('.swatches').nth(1).locator('li.none')).toBeVisible();
  await page.getByRole('textbox', { name: /Keep what looks like/ }).fill('#3a5c2c');
  await page.keyboard.press('Enter');
  await expect(page.locator('.swatches').nth(1).getByTitle('#3a5c2c')).toBeVisible();
  for (let i = 0; i < 4; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
});

test('an edit in a second tab is refused, and both versions are kept', async ({ page, context }) => {
  await openLeaf(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await settled(other);
  await page.keyboard.press('t'); // one side
  await settled(page);
  await other.keyboard.press('x'); // the first step off, on the old revision
  await expect(other.getByText('changed elsewhere')).toBeVisible();
  await expect(other.locator('.tiles .tile.off')).toHaveCount(0); // the newest is shown
  await other.getByRole('link', { name: 'a separate piece' }).click();
  await settled(other);
  await expect(other.getByRole('heading', { name: /small_leaf \(other tab\)/ })).toBeVisible();
  await expect(other.locator('.tiles .tile.off')).toHaveCount(1);
  await page.keyboard.press('Control+z');
  await settled(page);
});

test('keys are listed, theme and light are kept, Bench and Hand-off keep the stage', async ({ page }) => {
  await openDemo(page, 'Sea-aster leaf');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Lower the cutoff by 0.01');
  await page.keyboard.press('Escape');
  await page.keyboard.press('l');
  await expect(page.locator('html')).toHaveClass('dark');
  await page.keyboard.press('h');
  await expect(page.getByRole('heading', { name: 'What is written' })).toBeVisible();
  await expect(page.getByTestId('written-0')).toContainText(/Sea-aster-leaf_card.glb.* MB/);
  await page.keyboard.press('w');
  await expect(page.getByTestId('drawing')).toBeVisible();

  // the light: by mouse, by keys, with the Stand alone
  await page.keyboard.press('Alt+i');
  await page.keyboard.press('Alt+v');
  await expect(page.getByTestId('ladder')).toHaveCount(0);
  await page.getByTestId('sky-dusk').click();
  const sun = page.getByTestId('sun').getByRole('slider');
  await expect(sun).toHaveAttribute('aria-valuetext', '5° high, turned -62°');
  const at = (await sun.boundingBox())!;
  await page.mouse.move(at.x + 9, at.y + 9);
  await page.mouse.down();
  await page.mouse.move(at.x + 49, at.y - 31, { steps: 4 });
  await page.mouse.up();
  await expect(sun).toHaveAttribute('aria-valuetext', '25° high, turned -42°');
  await sun.press('Shift+ArrowRight');
  await typeNumber(page, 'Exposure, stops', '-0.5');

  await page.reload();
  await expect(page.locator('html')).toHaveClass('dark');
  await settled(page);
  await page.keyboard.press('Alt+i');
  await expect(sun).toHaveAttribute('aria-valuetext', '25° high, turned -41°');

  // the view: a side by press and by key, levels instead of light, turning by itself
  await page.getByTestId('view').click();
  await page.getByTestId('side-back').click();
  await expect(page.getByTestId('stand-readout')).toContainText('back 180°');
  await page.keyboard.press('Alt+o');
  await expect(page.getByTestId('stand-readout')).toContainText('front 0°');
  await choose(page, 'overlay', 'levels');
  await expect(page.getByText('level 1, 1024 × 1024')).toBeVisible();
  await typeNumber(page, 'Field of view, degrees', '20');
  await page.getByTestId('turning').click();
  await expect(page.getByTestId('stand-readout')).not.toContainText(' 0°');
  await page.getByTestId('turning').click();
  await page.keyboard.press('Alt+i');

  await page.getByTestId('light-first').click();
  await expect(sun).toHaveAttribute('aria-valuetext', '5° high, turned -62°');
  await page.keyboard.press('l');
});
