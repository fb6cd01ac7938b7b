import { expect } from '@playwright/test';
import { openLeaf, settled, typeNumber } from './helpers.ts';
import { test } from './test.ts';

test.use({ refines: true });

test('why there are no holes, walked by keys and mended; the card from afar, through the glass, among many, at rest', async ({
  page,
}) => {
  await openLeaf(page);
  await settled(page);
  const stand = page.getByTestId('stand');
  await page.keyboard.press('m');
  await page.keyboard.press('m'); // mask, blend, opaque
  await page.keyboard.press('Alt+y');
  const broken = page.getByTestId('why-broken');
  await expect(broken).toContainText('mode is opaque');
  await page.getByTestId('why-remedy').click();
  await expect(page.getByTestId('why-otherwise')).toBeVisible(); // every link holds
  await page.keyboard.press('t');
  await page.getByTestId('why-back').click();
  await expect(broken).toContainText('One side is drawn');
  await page.getByTestId('why-remedy').click();
  await page.keyboard.press('Alt+y');

  await page.keyboard.press('Alt+u');
  await expect(page.getByTestId('summed')).toContainText(/^(16|18|2\d) of 256/);
  await page.getByTestId('strip').click();
  const pictures = page.getByTestId('strip-of').locator('li');
  await expect(pictures).toHaveCount(8);
  await expect(pictures.first()).toContainText(/(9\d|10\d) %/); // near by it covers what an eye sees
  await page.getByTestId('far-10').click();
  await expect(stand.locator('.distance input').first()).toHaveValue('10.00');
  await expect(page.getByTestId('stand-readout')).toContainText('mip');

  // a card that stands alone costs the same in every mode: some 3.7 times the 27 % that it keeps
  await page.getByTestId('count-pixels').click();
  const cells = page.getByTestId('pixel-costs').locator('td:nth-child(2)');
  await expect(cells).toHaveCount(3);
  const [opaque, masked, blended] = (await cells.allTextContents()).map(parseFloat);
  expect([masked, blended, opaque > 3, opaque < 4.5]).toEqual([opaque, opaque, true, true]);
  await expect(page.getByTestId('layers')).toContainText('up to 1 layer; 0 %');

  const glass = page.getByTestId('glass-view');
  await page.getByTestId('glass').click();
  await expect(glass).toBeVisible();
  const inGlass = async () => {
    const { x, y, width, height } = (await glass.boundingBox())!;
    return page.screenshot({ clip: { x: x + 2, y: y + 20, width: width - 4, height: height - 22 } });
  };
  const alone = await inGlass();
  await typeNumber(page, 'Many, cards', '40');
  await expect.poll(async () => (await inGlass()).equals(alone)).toBe(false); // copies come in behind it
  await page.keyboard.down('Alt');
  await page.keyboard.down('j');
  await expect(page.getByTestId('as-seen-button')).toHaveText('as seen');
  await page.keyboard.up('j');
  await page.keyboard.up('Alt');
  await expect(page.getByTestId('as-seen-button')).toHaveText('as drawn');
});
