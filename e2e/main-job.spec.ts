import { expect } from '@playwright/test';
import { evaluateRun, makeStep, PROFILES, toRgba8, type Rgb } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { decodePng, downloadZip, dropFiles, openGlb, pngFile, settled, typeNumber } from './helpers.ts';
import { test } from './test.ts';

const scan = drawLeafScan(20, 512);

test('from a dropped scan to a card that clips right: by mouse', async ({ page }) => {
  await page.goto('/');
  await dropFiles(page, [await pngFile('dune_leaf.png', scan.colour)]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await expect(page.getByRole('heading', { name: 'Dune leaf 512 × 512' })).toBeVisible();
  await expect(page.getByTestId('step-from-colour')).toBeVisible();
  await expect(page.getByTestId('step-bleed')).toBeVisible();

  // mask: one swatch more, picked on the Sheet; then a tuned run
  await page.getByTestId('step-from-colour').locator('.face').click();
  await page.getByTestId('pick-drop').click();
  await page.getByTestId('sheet').click({ position: { x: 120, y: 380 } });
  await expect(page.locator('.swatches').first().locator('li')).toHaveCount(2);
  await typeNumber(page, 'Tolerance', '0.12');
  await page.getByTestId('insert-mask').click();
  await page.getByText('Darker than the black point').click();
  await typeNumber(page, 'Black point', '0.2');
  await typeNumber(page, 'White point', '0.8');
  await settled(page);

  // cutoff by its handle, material by its controls
  const plot = (await page.locator('.plot').boundingBox())!;
  const handle = (await page.getByTestId('cutoff-handle').boundingBox())!;
  await page.mouse.move(handle.x + 7, handle.y + 7);
  await page.mouse.down();
  await page.mouse.move(plot.x + plot.width * 0.4, plot.y + 30, { steps: 6 });
  await page.mouse.up();
  await settled(page);
  const cutoff = Number(await page.getByTestId('cutoff-handle').getAttribute('aria-valuenow'));
  expect(cutoff).toBeGreaterThan(0.35);
  expect(cutoff).toBeLessThan(0.45);
  await page.getByTestId('material-tile').click();
  await page.getByText('Two-sided', { exact: true }).click();
  await settled(page);

  await page.getByTestId('to-hand-off').click();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  await expect(page.getByText('mask as shown')).toHaveCount(1); // the Bench's own fingerprint was compared
  const files = await downloadZip(page);
  expect(Object.keys(files).sort()).toEqual(['Dune-leaf_card.glb', 'read-me.html', 'report.json', 'report.txt']);

  const { json, image } = openGlb(files['Dune-leaf_card.glb']);
  const [{ doubleSided = false, ...clip }] = json.materials; // the default of glTF 2.0 §5.19 may be left out
  expect([clip, doubleSided]).toMatchObject([{ alphaMode: 'MASK', alphaCutoff: cutoff }, false]);
  const raster = await decodePng(image);
  expect(raster.channels).toBe(4);

  // the same run on this side, from the drawn picture
  const id = page.url().split('/').pop()!;
  const { doc } = (await (await page.request.get(`/api/pieces/${id}`)).json()) as {
    doc: { run: { params: { drop: Rgb[] } }[] };
  };
  const expected = evaluateRun(
    [
      makeStep('a', 'from-colour', { drop: doc.run[0].params.drop, tolerance: 0.12, softness: 0.08 }),
      makeStep('b', 'levels', { black: 0.2, white: 0.8 }),
      makeStep('c', 'bleed'),
    ],
    { sources: [{ id: 's', sha256: 'x', picture: toRgba8(scan.colour) }] },
  );
  expect(raster.data.filter((_, i) => i % 4 === 3)).toEqual(expected.mask.data);
  let wrong = 0;
  for (let i = 0; i < raster.data.length; i++) if (i % 4 < 3 && raster.data[i] !== expected.colour.data[i]) wrong++;
  expect(wrong).toBe(0);
  let both = 0;
  let either = 0;
  scan.mask.data.forEach((truth, i) => {
    const kept = raster.data[4 * i + 3] >= cutoff * 255;
    both += Number(kept && truth >= 128);
    either += Number(kept || truth >= 128);
  });
  expect(both / either).toBeGreaterThan(0.99); // the generator's exact mask

  // the Stock shows what the full size keeps
  const kept = scan.mask.data.filter((_, i) => raster.data[4 * i + 3] >= cutoff * 255).length;
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  const card = page.locator('article').filter({ hasText: 'Dune leaf' });
  await expect(card).toContainText(`keeps ${((100 * kept) / scan.mask.data.length).toFixed(1)} %`);
});

test('the same job by keys alone', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('chooser').setInputFiles({
    name: 'key_leaf.png',
    mimeType: 'image/png',
    buffer: Buffer.from((await pngFile('', scan.colour)).bytes),
  });
  await page.waitForURL('**/bench/*');
  await settled(page);
  const press = (...keys: string[]) =>
    keys.reduce((all, key) => all.then(() => page.keyboard.press(key)), Promise.resolve());
  const tiles = () =>
    page.locator('.tiles [data-id]').evaluateAll((list) => list.map((e) => (e as HTMLElement).dataset['test']));

  await press('a'); // insert: the menu opens with focus in its field
  await expect(page.getByRole('textbox', { name: 'Find a step' })).toBeFocused();
  await press('ArrowDown', 'ArrowDown');
  await expect(page.getByRole('menuitem').filter({ hasText: /^From colour/ })).toBeFocused();
  await press('l'); // a letter narrows the kinds down
  await page.keyboard.type('evels');
  await expect(page.getByRole('menuitem')).toHaveCount(1);
  await press('Enter');
  await expect(page.getByTestId('step-levels')).toBeVisible();
  await press('Alt+ArrowLeft');
  expect(await tiles()).toEqual(['step-levels', 'step-from-colour', 'step-bleed']);
  await press('Alt+ArrowRight');
  expect(await tiles()).toEqual(['step-from-colour', 'step-levels', 'step-bleed']);
  await press('x');
  await expect(page.getByTestId('step-levels')).toHaveClass(/off/);
  await press('Control+z');
  await expect(page.getByTestId('step-levels')).not.toHaveClass(/off/);
  await press('2');
  await expect(page.getByTestId('sheet').getByRole('radio', { name: 'mask' })).toBeChecked();
  await press(',', ',', ',');
  await expect(page.getByTestId('cutoff-handle')).toHaveAttribute('aria-valuenow', '0.47');
  await press('m');
  await expect(page.getByTestId('mode').getByRole('radio', { name: 'blend' })).toBeChecked();
  await press('m', 'm', 't', 'f');
  await expect(page.getByTestId('stand-readout')).toContainText('back');
  await settled(page);
  await press('h');
  await page.getByTestId('profile').focus();
  await press('Enter');
  await expect(page.getByTestId('profile-glb')).toBeFocused();
  const down = PROFILES.findIndex((p) => p.id === 'rgb-and-mask');
  await press(...new Array<string>(down).fill('ArrowDown'), 'Enter');
  await expect(page.getByTestId('profile')).toBeFocused();
  await expect(page.getByTestId('profile')).toContainText('mask PNG');
  await expect(page.getByTestId('mask-as-data')).toContainText('Key-leaf_mask.png holds values');
  await expect(page.getByTestId('write')).toBeVisible();
  await page.getByTestId('write').focus();
  await press('Enter');
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  const files = await downloadZip(page);
  const mask = await decodePng(files['Key-leaf_mask.png']);
  const base = await decodePng(files['Key-leaf_base.png']);
  expect([mask.channels, base.channels]).toEqual([1, 3]);
  expect(new Set(mask.data).size).toBeGreaterThan(2);
});
