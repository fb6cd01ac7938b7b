import { expect, type Page } from '@playwright/test';
import { evaluateRun, STEP_KINDS, toRgba8, type Raster, type RunSource, type StepKindName } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import {
  addPiece,
  choose,
  choosePiece,
  dropFiles,
  expectTexels,
  openLeaf,
  openNew,
  pngFile,
  runOf,
  scribble,
  seenAt,
  settled,
  sourcesOf,
  steady,
  touch,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

const scan = drawLeafScan(31, 256);
const picture = toRgba8(scan.colour);
const ONE: RunSource[] = [{ id: 'source', sha256: 'x', picture }];

/** What is done in the tray of a step after it was inserted, by a person's means. */
const TRAYS: Partial<Record<StepKindName, (page: Page) => Promise<void>>> = {
  'from-channel': (page) => choose(page, 'channel', 'lightness'),
  'from-colour': async (page) => {
    await page.getByTestId('pick-keep').click(); // an area of the blade is kept, whatever else looks like it
    await scribble(page, [0.46, 0.3], [0.5, 0.36]);
    await page.keyboard.press('Escape');
    await page.getByText('CIEDE2000', { exact: true }).click();
    await page.getByText('connected', { exact: true }).click();
  },
  'from-touch': async (page) => {
    await touch(page, 0.06, 0.06); // it asks for a point as soon as it is inserted
    await expect(page.locator('.touches')).not.toContainText('none yet');
    await typeNumber(page, 'Tolerance', '0.15');
  },
  'from-backdrop': (page) => typeNumber(page, 'Tolerance', '0.13'),
  'from-strokes': async (page) => {
    const { x, y } = await seenAt(page, 0.06, 0.5);
    const backdrop = async () =>
      (await page.screenshot({ clip: { x: x - 8, y: y - 8, width: 16, height: 16 } })).toString('base64');
    const asked = await steady(backdrop);
    await page.keyboard.press('Escape'); // it asks for a scribble as soon as it is inserted
    await expect(page.getByText('Esc ends it.')).toHaveCount(0);
    await expect.poll(backdrop).not.toBe(asked); // drawn a while later
    const bled = await steady(backdrop, 8);
    await page.getByTestId('scribble-keep').click();
    await expect.poll(backdrop).not.toBe(bled); // the picture itself shows under the linen while points are given
    await page.keyboard.press('Escape');
    await expect.poll(backdrop).toBe(bled);
    await page.getByTestId('scribble-keep').click();
    await scribble(page, [0.5, 0.35], [0.5, 0.6]);
    await page.getByTestId('scribble-drop').click();
    await scribble(page, [0.05, 0.1], [0.05, 0.9]);
  },
  levels: async (page) => {
    await typeNumber(page, 'Gamma', '2');
    await page.getByTestId('curve').scrollIntoViewIfNeeded();
    const box = (await page.getByTestId('curve').boundingBox())!;
    await page.mouse.move(box.x + 0.4 * box.width, box.y + 0.6 * box.height); // on the straight line: a point comes
    await page.mouse.down();
    await page.mouse.move(box.x + 0.3 * box.width, box.y + 0.3 * box.height, { steps: 3 });
    await page.getByTestId('curve').dispatchEvent('pointercancel'); // and goes back, where the pointer is lost
    await page.mouse.up();
    await settled(page);
    expect((await runOf(page)).find((s) => s.kind === 'levels')).toMatchObject({ params: { curve: [] } });
    await page.mouse.move(box.x + 0.4 * box.width, box.y + 0.6 * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + 0.35 * box.width, box.y + 0.2 * box.height, { steps: 4 });
    await page.mouse.up();
  },
  grow: (page) => typeNumber(page, 'Move edge by, texels', '-2.5'),
  feather: (page) => typeNumber(page, 'Radius, texels', '3'),
  'smooth-edge': (page) => typeNumber(page, 'Smoothing radius, texels', '4'),
  'harden-edge': (page) => typeNumber(page, 'Width of the edge, texels', '1'),
  'drop-strays': async (page) => {
    await typeNumber(page, 'Smaller than, texels', '90000');
    await page.getByTestId('apply-found').click();
  },
  'close-pinholes': async (page) => {
    await typeNumber(page, 'Smaller than, texels', '400');
    await expect(page.getByTestId('rings')).toBeVisible();
    await page.getByTestId('found').getByRole('checkbox').first().uncheck(); // one is left open
    await page.getByTestId('apply-found').click();
  },
  'clear-holes': async (page) => {
    await typeNumber(page, 'Smallest area, texels', '8'); // the next test clears some
    await expect(page.getByTestId('found')).not.toContainText('counting');
  },
  'fine-fringe': (page) => typeNumber(page, 'Band, texels', '4'),
  'cut-below': (page) => typeNumber(page, 'Height', '0.4'),
  combine: async (page) => {
    await choose(page, 'with-step', '1. From colour');
    await choose(page, 'how', 'multiply');
  },
  'opacity-factor': (page) => typeNumber(page, 'Factor', '0.6'),
  perforate: async (page) => {
    await page.getByText('hexagons', { exact: true }).click();
    await typeNumber(page, 'Size, texels', '12');
  },
  'cut-by-piece': (page) => typeNumber(page, 'Width of the cutter, mm', '80'),
  unmix: (page) => typeNumber(page, 'Minimum alpha', '0.3'),
};

/** Two halves, so that they run beside each other. */
const HALVES = [0, 1].map((half) => Object.entries(TRAYS).filter((_, i) => i % 2 === half));

for (const kinds of HALVES)
  test(`${kinds[0][0]} and ${kinds.length - 1} other kinds of step: inserted, set in their trays, the texels as computed here, and undone`, async ({
    page,
  }) => {
    test.setTimeout(240_000);
    await openLeaf(page);
    const before = (await runOf(page)).length;
    await page.getByTestId('insert-mask').click();
    const pair = page.getByRole('menuitem').filter({ hasText: /^From two backdrops/ });
    await expect(pair).toContainText('Needs a second source');
    await pair.click({ force: true }); // it does nothing
    await page.keyboard.press('Escape');
    expect((await runOf(page)).length).toBe(before);
    for (const [kind, set] of kinds) {
      await test.step(kind, async () => {
        const { label, stretch } = STEP_KINDS[kind as StepKindName];
        await page.getByTestId('step-from-colour').first().locator('.face').click();
        await page.getByTestId(`insert-${stretch}`).click();
        await page
          .getByRole('menuitem')
          .filter({ hasText: new RegExp(`^${label}`) })
          .click();
        await settled(page);
        await set(page);
        await expectTexels(page, ONE);
        await page.keyboard.press('Escape');
        const tile = page.getByTestId(`step-${kind}`);
        const kept = kind === 'from-colour' ? 1 : 0;
        while ((await tile.count()) > kept) await page.getByRole('button', { name: 'Undo' }).click();
        await settled(page);
        expect((await runOf(page)).length).toBe(before);
      });
    }
  });

test('two backdrops: alpha and colour exact from the pair, chosen by its role', async ({ page }) => {
  const { mask } = scan;
  const over = (backdrop: number): Raster => {
    const data = new Uint8Array(4 * mask.data.length);
    mask.data.forEach((a, i) => {
      for (let c = 0; c < 3; c++)
        data[4 * i + c] = Math.round((picture.data[4 * i + c] * a + backdrop * (255 - a)) / 255);
      data[4 * i + 3] = 255;
    });
    return { width: picture.width, height: picture.height, channels: 4, data };
  };
  const [dark, light] = [over(10), over(245)];
  await page.goto('/');
  await dropFiles(page, [await pngFile('pair_dark.png', dark)]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await dropFiles(page, [await pngFile('pair_light.png', light)]);
  await expect(page.getByTestId('source')).toHaveCount(2);
  await page.getByTestId('source').nth(1).click();
  await choose(page, 'role', 'other backdrop');
  await page.getByTestId('step-from-colour').first().locator('.face').click();
  await page.getByTestId('insert-mask').click();
  await page.getByRole('menuitem', { name: /^From two backdrops/ }).click();
  await expect(page.getByTestId('notice')).toContainText('line up');
  const [first, second] = (await sourcesOf(page)).map((s) => s.id);
  const pair = [
    { id: first, sha256: 'x', picture: toRgba8(dark) },
    { id: second, sha256: 'y', picture: toRgba8(light) },
  ];
  await expectTexels(page, pair);
  const got = evaluateRun(await runOf(page), { sources: pair }).mask;
  const off = got.data.reduce((sum, v, i) => sum + Math.abs(v - mask.data[i]), 0) / mask.data.length;
  expect(off).toBeLessThan(1);
});

test('the mask of another piece, placed over this one', async ({ page }) => {
  const { doc } = await addPiece(page, 'first_leaf.png', scan.colour);
  const { mask } = evaluateRun(doc.run, { sources: ONE });
  const other = drawLeafScan(77, 256);
  await openNew(page, 'second_leaf.png', other.colour);
  await page.getByTestId('insert-mask').click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^From other piece/ })
    .click();
  await choosePiece(page, 'piece', 'first_leaf');
  await expect(page.getByTestId('source')).toHaveCount(2);
  await typeNumber(page, 'Rotation, degrees', '30');
  await typeNumber(page, 'Across, texels', '12');
  const grey = new Uint8Array(4 * mask.data.length);
  mask.data.forEach((v, i) => grey.set([v, v, v, 255], 4 * i));
  const [first, second] = (await sourcesOf(page)).map((s) => s.id);
  await expectTexels(page, [
    { id: first, sha256: 'x', picture: toRgba8(other.colour) },
    { id: second, sha256: 'y', picture: { ...picture, data: grey } },
  ]);
});

test('by keys alone: a region is touched in the middle of the Sheet, strays are taken, all of it undone', async ({
  page,
}) => {
  await openLeaf(page);
  const before = await runOf(page);
  const insert = async (label: string) => {
    await page.getByTestId('insert-mask').focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('textbox', { name: 'Find a step' })).toBeFocused();
    const item = page.getByRole('menuitem').filter({ hasText: new RegExp(`^${label}`) });
    await item.focus();
    await page.keyboard.press('Enter');
    await settled(page);
  };
  await insert('From touch');
  await page.getByTestId('sheet').focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('.touches')).toContainText('128, 128');
  await page.keyboard.press('Escape');
  await expectTexels(page, ONE);

  await insert('Drop strays');
  await typeNumber(page, 'Smaller than, texels', '90000');
  await settled(page); // while it is counted again there is nothing to press
  await page.getByTestId('apply-found').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('apply-found')).toHaveText('Only show them');
  await expectTexels(page, ONE);
  await page.getByTestId('sheet').focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('Control+z');
  await settled(page);
  expect(await runOf(page)).toEqual(before);
});

test('a scan with backdrop in its holes: from drop to a clean mask', async ({ page }) => {
  await page.goto('/');
  await dropFiles(page, [await pngFile('eaten_leaf.png', scan.colour)]);
  await page.waitForURL('**/bench/*');
  await settled(page);
  await page.getByTestId('step-from-colour').locator('.face').click();
  // a pull that goes round the holes: only what hangs together with the border is dropped
  await page.getByText('connected', { exact: true }).click();
  await settled(page);
  await page.getByTestId('insert-mask').click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^Clear backdrop/ })
    .click();
  await expect(page.getByTestId('rings')).toBeVisible();
  await page.getByTestId('apply-found').click();
  await settled(page);
  const { mask } = evaluateRun(await runOf(page), { sources: [{ id: 'source', sha256: 'x', picture }] });
  const wrong = mask.data.filter((v, i) => v >= 128 !== scan.mask.data[i] >= 128).length;
  expect(wrong / mask.data.length).toBeLessThan(0.004);
  await expectTexels(page, ONE);
});
