import { strToU8, zipSync } from 'fflate';
import { expect, test } from '@playwright/test';
import { drawCordgrass, drawLeafScan, drawMane } from '@lithe-sieve/demo';
import { dropFiles, pngFile, settled, type TestFile } from './helpers.ts';

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
  await expect(failed.filter({ hasText: 'letter.png' })).toContainText('no picture of a kind we read');
  await expect(failed.filter({ hasText: 'cut.png' })).toContainText('ends before its picture does');
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

test('a further source of another size is a snag, and its remedy scales it', async ({ page }) => {
  await page.goto('/');
  const grass = drawCordgrass(8, 128);
  await dropFiles(page, [await pngFile('tuft.png', grass.colour)]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await dropFiles(page, [await pngFile('other_mask.png', drawCordgrass(8, 64).mask)]);
  await expect(page.getByTestId('source')).toHaveCount(2);
  await expect(page.getByTestId('snag-sizes-differ')).toContainText(
    'other_mask.png is 64 × 64, the colour picture 128 × 128',
  );
  await page.getByTestId('snag-sizes-differ').getByRole('button').click();
  await expect(page.getByTestId('snag-sizes-differ')).toHaveCount(0);
  await expect(page.locator('.badge')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
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
  await expect(page.locator('.pieces li')).toHaveCount(1);
  await page.keyboard.type('zzz');
  await expect(page.getByText('No piece is called')).toBeVisible();
});

test('a piece that is not there says so', async ({ page }) => {
  await page.goto('/bench/notthere1234');
  await expect(page.getByText('This piece is not here.')).toBeVisible();
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
