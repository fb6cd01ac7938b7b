import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { expect } from '@playwright/test';
import { drawCordgrass, drawLeafScan, drawMane } from '@lithe-sieve/demo';
import { dropFiles, pngFile, settled, type TestFile } from './helpers.ts';
import { test } from './test.ts';

const words = (name: string): TestFile => ({ name, bytes: new TextEncoder().encode('not a picture, but words') });

test('bad files of a drop say why; the good ones still come in', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('link', { name: 'Open Sea-aster leaf' })).toBeVisible();
  const leaf = await pngFile('good_leaf.png', drawLeafScan(31, 128).colour);
  const cut = { name: 'cut.png', bytes: leaf.bytes.subarray(0, 2000) };
  const grass = await pngFile('good_grass.png', drawCordgrass(31, 128).colour);
  await dropFiles(page, [words('letter.png'), leaf, cut, { name: 'empty.tga', bytes: new Uint8Array(0) }, grass]);
  const failed = page.getByTestId('arrival');
  await expect(failed).toHaveCount(3);
  await expect(failed.filter({ hasText: 'letter.png' })).toContainText('not a picture format');
  await expect(failed.filter({ hasText: 'cut.png' })).toContainText('is cut off');
  await expect(failed.filter({ hasText: 'empty.tga' })).toContainText('0 bytes');
  await expect(page.getByRole('link', { name: 'Open Good leaf' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Open Good grass' })).toBeVisible();
  for (let i = 3; i > 0; i--) await failed.first().getByRole('button', { name: 'Dismiss' }).click();
  await expect(failed).toHaveCount(0);
});

test('two files of one name are offered as one piece', async ({ page }) => {
  await page.goto('/');
  const mane = drawMane(12, 128);
  await dropFiles(page, [await pngFile('lock.png', mane.colour), await pngFile('lock_mask.png', mane.mask)]);
  await page.getByTestId('one-piece').click();
  await page.waitForURL('**/bench/*');
  await settled(page);
  await expect(page.getByRole('heading', { name: /^Lock 128 × 128/ })).toBeVisible();
  await expect(page.getByTestId('source')).toHaveCount(2);
  await page.getByTestId('source').nth(1).click();
  await expect(page.getByTestId('facts')).toContainText('grey');
  await expect(page.getByTestId('facts')).toContainText('none in the file');
  await expect(page.getByText('Read by 1 step of the run')).toBeVisible();
});

test('a further source of another size that a step refuses is a snag, and its remedy scales it', async ({ page }) => {
  await page.goto('/');
  const grass = drawCordgrass(8, 128);
  await dropFiles(page, [await pngFile('tuft.png', grass.colour)]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await dropFiles(page, [await pngFile('other_mask.png', drawCordgrass(8, 64).mask)]);
  await expect(page.getByTestId('source')).toHaveCount(2);
  await expect(page.getByTestId('snag-sizes-differ')).toHaveCount(0); // no step reads it
  await page.getByTestId('insert-mask').click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^From channel/ })
    .click(); // takes the mask by its role
  await expect(page.getByTestId('snag-sizes-differ')).toContainText(
    'other_mask.png is 64 × 64, the colour picture 128 × 128',
  );
  await page.getByTestId('snag-sizes-differ').getByRole('button').click();
  await expect(page.getByTestId('snag-sizes-differ')).toHaveCount(0);
  await expect(page.locator('.badge')).toHaveCount(0);
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('source')).toHaveCount(1);
  await settled(page);
});

test('the Stock renames, duplicates, deletes with undo, and searches', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Duplicate Cordgrass card' }).click();
  await expect(page.getByRole('link', { name: 'Open Cordgrass card copy' })).toBeVisible();
  await page.getByRole('button', { name: 'Rename Cordgrass card copy' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Dry tuft');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Open Dry tuft' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Dry tuft' }).click();
  await expect(page.getByRole('link', { name: 'Open Dry tuft' })).toHaveCount(0);
  await page.locator('.undo-delete').click();
  await expect(page.getByRole('link', { name: 'Open Dry tuft' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('dry');
  await expect(page.locator('.grid li')).toHaveCount(1);
  await page.keyboard.type('zzz');
  await expect(page.getByText('No piece matches')).toBeVisible();
});

test('a piece that is not there says so', async ({ page }) => {
  await page.goto('/bench/notthere1234');
  await expect(page.getByText('This piece was not found.')).toBeVisible();
  await page.getByRole('button', { name: 'To the Stock' }).click();
  await expect(page.getByRole('heading', { name: 'Stock' })).toBeVisible();
});

test('a layered file becomes one piece, its layers sources; a source is replaced and the run stays', async ({
  page,
}) => {
  const leaf = drawLeafScan(3, 64);
  const colour = await pngFile('colour.png', leaf.colour);
  const mask = await pngFile('mask.png', leaf.mask);
  const stack = `<image w="64" h="64"><stack><layer name="cut" src="data/m.png"/><layer name="scan" src="data/c.png"/></stack></image>`;
  const bytes = zipSync({
    mimetype: [strToU8('image/openraster'), { level: 0 }],
    'stack.xml': strToU8(stack),
    'mergedimage.png': colour.bytes,
    'data/m.png': mask.bytes,
    'data/c.png': colour.bytes,
  });
  await page.goto('/');
  await dropFiles(page, [{ name: 'sea_holly.ora', bytes }]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await expect(page.getByRole('heading', { name: 'Sea holly 64 × 64' })).toBeVisible();
  await expect(page.getByTestId('source')).toHaveText([/merged/, /cut/, /scan/]);
  const steps = await page.locator('.tiles [data-id]').count();
  await page.getByTestId('source').first().click();
  await expect(page.getByTestId('facts')).toContainText('64 × 64');
  const other = await pngFile('other.png', drawLeafScan(4, 64).colour);
  await page
    .getByTestId('replace-chooser')
    .setInputFiles({ name: other.name, mimeType: 'image/png', buffer: Buffer.from(other.bytes) });
  await expect(page.getByTestId('source').first()).toHaveText(/other/);
  await settled(page);
  expect(await page.locator('.tiles [data-id]').count()).toBe(steps);

  await dropFiles(page, [{ name: 'broken.ora', bytes: bytes.subarray(0, 200) }]);
  await expect(page.getByText('broken.ora: The layered file')).toBeVisible();
  await expect(page.getByTestId('source')).toHaveCount(3);
});

test('a source follows a file on disk: every save shows, what changed is said, a half-written one keeps the last', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-follow-'));
  const path = join(folder, 'tuft.png');
  const grass = drawCordgrass(8, 128);
  const withAlpha = (await pngFile('tuft.png', grass.colour)).bytes;
  const grey = (await pngFile('tuft.png', drawCordgrass(9, 128).mask)).bytes;
  writeFileSync(path, withAlpha);
  await page.goto('/');
  await dropFiles(page, [{ name: 'tuft.png', bytes: withAlpha }]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await page.getByTestId('source').first().click();
  await page.getByTestId('follow').click();
  await page.getByTestId('folder').fill(folder);
  await page.getByTestId('allow').click();
  await page.getByTestId('follow-file').filter({ hasText: 'tuft.png' }).click();
  await expect(page.getByTestId('followed')).toContainText(path);

  writeFileSync(path, grey);
  await expect(page.getByTestId('follow-notice')).toContainText('Alpha is gone in the new file');
  await expect(page.getByTestId('facts')).toContainText('none in the file');
  await settled(page);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('facts')).toContainText('present');
  await expect(page.getByTestId('followed')).toContainText('undone here');
  await settled(page);
  await page.reload(); // looking again does not bring back what was undone
  await settled(page);
  await page.getByTestId('source').first().click();
  await expect(page.getByTestId('facts')).toContainText('present');

  writeFileSync(path, withAlpha.subarray(0, 900));
  await expect(page.getByTestId('follow-notice')).toContainText('The last good version stays');
  rmSync(folder, { recursive: true });
  await expect(page.getByTestId('follow-notice')).toContainText('not there');
  await expect(page.getByTestId('facts')).toContainText('present');
});
