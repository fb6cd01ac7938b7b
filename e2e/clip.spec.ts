import { expect, type Page } from '@playwright/test';
import {
  filteredMaskMips,
  HOLD_VERSION,
  holdAtDistance,
  levelFigures,
  makePicture,
  makeStep,
  maskMips,
  storageFigures,
  suggestCutoffs,
  summariseMask,
  thinnestConnection,
  thresholdByte,
  type LevelFigures,
  type Mask,
} from '@lithe-sieve/core/testing';
import { drawShape, lace } from '../packages/core/test/helpers/webs.ts';
import {
  ask,
  choose,
  computed,
  decodePng,
  docOf,
  downloadZip,
  openGlb,
  openNew,
  scribble,
  settled,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

const SIDE = 256;
const mask = drawShape(lace(44.3, 2.6), SIDE, SIDE);
const picture = makePicture(
  SIDE,
  SIDE,
  Uint8Array.from({ length: SIDE * SIDE * 4 }, (_, i) =>
    i % 4 === 3 ? mask.data[i >> 2] : [190, 170 + ((i >> 2) % 40), 140][i % 4],
  ),
);

/** What the ladder shows of every level from 1 on: width and drift, as text. */
const rungs = (page: Page) =>
  page
    .getByTestId('ladder')
    .locator('li')
    .evaluateAll((list) => list.slice(1).map((li) => (li as HTMLElement).innerText.split(/\s+/).slice(0, 2).join(' ')));

const asShown = (figures: LevelFigures[]) => figures.map((f) => `${f.width} ${(100 * f.coverage).toFixed(1)}`);

const heldFigures = (of: Mask) =>
  levelFigures(of, maskMips(holdAtDistance(of, { cutoff: 0.5, filter: 'box' }).mask), 128);

test('a suggested cutoff by mouse, then hold at distance by key: ladder, table and files as computed here', async ({
  page,
}) => {
  await openNew(page, 'lace.png', picture);
  const levels = summariseMask([mask, ...maskMips(mask)]).levels;
  const suggestions = suggestCutoffs({ levels, opacity: 1, thinnest: thinnestConnection(mask) });
  for (const { kind, cutoff, reason } of suggestions) {
    await expect(page.getByTestId(`suggest-${kind}`)).toHaveAccessibleName(new RegExp(`^Cutoff ${cutoff}, .*`));
    expect(reason.length).toBeGreaterThan(20);
  }
  const { cutoff } = suggestions.find((s) => s.kind === 'true-area')!;
  await page.getByTestId('suggest-true-area').click();
  await expect(page.getByTestId('cutoff').locator('input')).toHaveValue(cutoff.toFixed(3));
  const threshold = thresholdByte(cutoff);

  // plain levels lose the threads, and a snag says from where on
  const plain = levelFigures(mask, maskMips(mask), threshold);
  await expect.poll(() => rungs(page)).toEqual(asShown(plain));
  await expect(page.getByTestId('snag-far-loss')).toContainText('Thin parts vanish');

  await page.getByTestId('sheet').hover();
  await page.keyboard.press('Alt+h');
  const held = holdAtDistance(mask, { cutoff, filter: 'box' });
  await expect.poll(() => rungs(page)).toEqual(asShown(levelFigures(mask, maskMips(held.mask), threshold)));
  await expect(page.getByTestId('snag-far-loss')).toHaveCount(0);
  expect((await docOf(page)).levels.hold).toBe(true);

  // the table beside it, and one rung plain under the pointer
  await page.keyboard.press('Alt+l');
  const row = page.getByTestId('level-figures').locator('tbody tr').nth(2);
  const [before, after] = [plain, levelFigures(mask, maskMips(held.mask), threshold)].map((f) => f[2]);
  await expect(row).toContainText((100 * before.localError).toFixed(1));
  await expect(row).toContainText((100 * after.localError).toFixed(1));
  await page.getByTestId('ladder').locator('li').nth(3).hover();
  await expect.poll(async () => (await rungs(page))[2]).toBe(asShown(plain)[2]);
  await page.getByTestId('sheet').hover();

  // a target that averages otherwise gets another mask
  await choose(page, 'averages', 'Kaiser');
  const sharper = holdAtDistance(mask, { cutoff, filter: 'Kaiser' });
  const sharp = filteredMaskMips(sharper.mask, { filter: 'Kaiser' });
  await expect.poll(() => rungs(page)).toEqual(asShown(levelFigures(mask, sharp, threshold)));

  await page.getByTestId('to-hand-off').click();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  await expect(page.getByText('mask as shown')).toHaveCount(1);
  const files = await downloadZip(page);
  const { image } = openGlb(files['lace_card.glb']);
  const written = (await decodePng(image)).data.filter((_, i) => i % 4 === 3);
  expect(written).toEqual(sharper.mask.data);
  expect(written).not.toEqual(held.mask.data);
  await page.goBack();
  await settled(page);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => rungs(page)).toEqual(asShown(plain));
});

test('a piece that was held by version 1 stays so, and is offered the newest; the key takes that at once', async ({
  page,
}) => {
  await openNew(page, 'lace.png', picture);
  const { levels, ...doc } = await docOf(page);
  const { holdVersion, ...before } = { ...levels, hold: true }; // as documents were before hold had versions
  expect(holdVersion).toBe(HOLD_VERSION);
  const { id } = await ask<{ id: string }>(page, 'post', '/api/pieces/copies', { doc: { ...doc, levels: before } });
  await page.goto(`/bench/${id}`);
  await settled(page);
  const first = holdAtDistance(mask, { cutoff: doc.material.cutoff, filter: 'box', version: 1 });
  const threshold = thresholdByte(doc.material.cutoff);
  await expect.poll(() => rungs(page)).toEqual(asShown(levelFigures(mask, maskMips(first.mask), threshold)));
  await page.keyboard.press('Alt+l');
  await expect(page.getByTestId('newer-hold')).toBeVisible();
  await page.keyboard.press('Alt+h');
  await page.keyboard.press('Alt+h');
  await expect(page.getByTestId('newer-hold')).toBeHidden();
  await expect.poll(async () => (await docOf(page)).levels).toMatchObject({ hold: true, holdVersion: HOLD_VERSION });
  await expect.poll(() => rungs(page)).toEqual(asShown(heldFigures(mask)));
});

test('a held piece that is painted on is held again, and handed off so', async ({ page }) => {
  await openNew(page, 'lace.png', picture, ([pull, ...others]) => [pull, makeStep('by-hand', 'strokes'), ...others]);
  await page.keyboard.press('Alt+h');
  await expect.poll(() => rungs(page)).toEqual(asShown(heldFigures(mask)));
  await page.getByTestId('step-strokes').locator('.face').click();
  await typeNumber(page, 'Diameter, texels', '40');
  await scribble(page, [0.3, 0.3], [0.6, 0.55]);
  const painted = (await computed(page, [{ id: 'source', sha256: 'x', picture }])).mask;
  expect(painted.data).not.toEqual(mask.data);
  await expect.poll(() => rungs(page)).toEqual(asShown(heldFigures(painted)));
  await page.getByTestId('to-hand-off').click();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  await expect(page.getByText('mask as shown')).toHaveCount(1);
});

test('A and B: another cutoff shows while its key is held, with what differs counted and marked', async ({ page }) => {
  await openNew(page, 'lace.png', picture);
  await page.getByTestId('material-tile').click();
  await page.getByTestId('keep-as-b').click();
  await typeNumber(page, 'Cutoff', '0.8');
  await settled(page);
  const [a, b] = [0.8, 0.5].map((cutoff) => thresholdByte(cutoff));
  const between = mask.data.filter((v) => v >= b && v < a).length;
  await expect(page.getByTestId('b-differs')).toContainText(`${between.toLocaleString('en')} texels differ`);
  const [ofA, ofB] = [a, b].map((threshold) => asShown(levelFigures(mask, maskMips(mask), threshold)));
  await expect.poll(() => rungs(page)).toEqual(ofA);
  await page.getByTestId('sheet').hover();
  await page.keyboard.down('Alt');
  await page.keyboard.down('b');
  await expect.poll(() => rungs(page)).toEqual(ofB);
  await expect(page.getByTestId('texel-marks')).toBeVisible();
  await page.keyboard.up('b');
  await page.keyboard.up('Alt');
  await expect.poll(() => rungs(page)).toEqual(ofA);
  await expect(page.getByTestId('texel-marks')).toHaveCount(0);
  expect((await docOf(page)).material.cutoff).toBe(0.8);
  await page.getByTestId('swap-b').click();
  await expect.poll(async () => (await docOf(page)).material.cutoff).toBe(0.5);
});

test('formats are compared: figures as computed here, and the texels that a plain encoder turns are marked', async ({
  page,
}) => {
  await openNew(page, 'lace.png', picture);
  await page.getByTestId('storage-tile').click();
  await page.getByTestId('compare-storage').click();
  const table = page.getByTestId('storage-figures');
  await expect(page.getByRole('button', { name: 'Compare again' })).toBeVisible({ timeout: 30_000 });
  const options = { cutoff: 0.5, opacity: 1, threshold: 128 };
  const colour = makePicture(SIDE, SIDE, picture.data);
  for (const storage of ['BC3', 'BC7'] as const) {
    const [exact, plain] = [true, false].map((is) => storageFigures(colour, mask, storage, { ...options, exact: is }));
    expect([exact.flips, plain.flips > 0]).toEqual([0, true]);
    const row = table.locator('tr').filter({ has: page.getByText(storage, { exact: true }) });
    await expect(row).toContainText(`0 ${exact.alphaError!.toFixed(1)}`.replace(' ', ''));
    await expect(row.locator('~ tr').first()).toContainText(String(plain.flips));
  }
  await table.locator('td button').first().click();
  await expect(page.getByTestId('texel-marks')).toBeVisible();
  await table.locator('td button').first().click();
  // what is read out of a format shows on Sheet and Stand, and goes with the tray
  await page.mouse.move(0, 0);
  const sheet = async () => (await page.getByTestId('sheet').screenshot()).toString('base64');
  const own = await sheet();
  await table.getByRole('button', { name: 'distances, ⅛: show' }).click();
  await expect(page.getByTestId('storage-shown')).toContainText('distances, ⅛');
  await expect.poll(sheet).not.toBe(own);
  await page.getByTestId('material-tile').click();
  await page.mouse.move(0, 0);
  await expect.poll(sheet).toBe(own);
});
