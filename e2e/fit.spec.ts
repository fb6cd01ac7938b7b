import { expect, type Page } from '@playwright/test';
import { coverageAt, histogram, makeStep, thresholdByte, toRgba8, type RunSource } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import {
  computed,
  decodePng,
  downloadZip,
  openGlb,
  openNew,
  runOf,
  scribble,
  seenAt,
  settled,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

const scan = drawLeafScan(31, 256);
const ONE: RunSource[] = [{ id: 'source', sha256: 'x', picture: toRgba8(scan.colour) }];

const heading = (page: Page, side: string) => expect(page.getByRole('heading', { level: 1 })).toContainText(side);

/** The texels that the Sheet reads out, against core. */
async function expectFitted(page: Page): Promise<void> {
  await settled(page);
  const { mask, colour, steps } = await computed(page, ONE);
  expect(steps.filter((s) => s.error)).toEqual([]);
  await heading(page, `${mask.width} × ${mask.height}`);
  for (const [u, v] of [
    [0.5, 0.5],
    [0.62, 0.4],
    [0.3, 0.68],
    [0.06, 0.06],
  ]) {
    const { x, y } = await seenAt(page, u, v);
    await page.mouse.move(x + 1, y);
    await page.mouse.move(x, y);
    const found = /texel (\d+), (\d+) +RGB (\d+ \d+ \d+) +alpha ([\d.]+)/.exec(
      await page.getByTestId('readout').innerText(),
    )!;
    const at = Number(found[2]) * mask.width + Number(found[1]);
    expect(found[3]).toBe([...colour.data.subarray(4 * at, 4 * at + 3)].join(' '));
    expect(found[4]).toBe((mask.data[at] / 255).toFixed(3));
  }
}

test('a scan is laid on its diagonal: told, shown, handed off, and worked on where it lay', async ({ page }) => {
  await openNew(page, 'diagonal_leaf.png', scan.colour, (run) =>
    [
      ...run,
      makeStep('height-1', 'height-from-picture'),
      makeStep('normal-1', 'normal-from-height'),
      makeStep('hand-1', 'strokes'),
    ].sort((a, b) => Number(b.kind === 'strokes') - Number(a.kind === 'strokes') || 0),
  );
  await page.getByTestId('insert-fit').click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^Turn to fit/ })
    .click();
  await expect(page.getByTestId('notice')).toContainText(/Turned by .* \+\d+ % texels on the subject/);
  await typeNumber(page, 'Longer side, texels', '300');
  await expectFitted(page);
  // a step before the fit is worked on where the picture lay
  await page.getByTestId('step-strokes').locator('.face').click();
  await settled(page);
  await heading(page, '300 × 300'); // of the piece, whichever step is looked at
  await typeNumber(page, 'Diameter, texels', '20');
  await scribble(page, [0.48, 0.4], [0.52, 0.4]);
  await expect(page.getByTestId('stroke-count')).toHaveText('1 stroke');
  // left while it is shown without its fit: the Stock has what is handed off all the same
  const { mask: whole, colour } = await computed(page, ONE);
  const share = coverageAt(histogram(whole), thresholdByte(0.5, 1));
  const bench = page.url();
  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  const card = page.getByText(`${colour.width} × ${colour.height} · mask · keeps ${(100 * share).toFixed(1)} %`);
  await expect(card.first()).toBeVisible();
  await page.goto(bench);
  await settled(page);
  await expectFitted(page); // it opens on the fit
  await page.getByTestId('material-tile').click();
  await heading(page, '300 × 300');
  await page.getByTestId('to-hand-off').click();
  await page.getByRole('button', { name: 'Write and check' }).click();
  await expect(page.getByTestId('verdict')).toHaveText('Every check passed', { timeout: 60_000 });
  const { json, image } = openGlb(Object.values(await downloadZip(page)).find((b) => b[0] === 0x67)!);
  expect(JSON.stringify(json)).toContain('normalTexture');
  const { mask } = await computed(page, ONE);
  const png = await decodePng(image);
  expect([png.width, png.height]).toEqual([300, 300]);
  for (let i = 0; i < mask.data.length; i += 97) expect(png.data[4 * i + 3]).toBe(mask.data[i]);
});

test('what is placed is moved on the Sheet by mouse and by keys; Escape and undo take it back', async ({ page }) => {
  await openNew(page, 'placed_leaf.png', scan.colour, (run) => [...run, makeStep('place-1', 'place')]);
  const placed = async () => {
    const { params } = (await runOf(page)).find((s) => s.kind === 'place')!;
    const { x, y } = params;
    return [x, y];
  };
  await scribble(page, [0.5, 0.5], [0.6, 0.45]);
  const [x, y] = await placed();
  expect(Math.abs(x - 25.6) + Math.abs(y + 12.8)).toBeLessThan(4);
  await expectFitted(page);
  await page.getByTestId('sheet').focus();
  await page.keyboard.down('Enter');
  await page.keyboard.press('Control+ArrowLeft');
  await page.keyboard.press('Control+ArrowLeft');
  await page.keyboard.up('Enter');
  await expect.poll(placed).toEqual([x - 2, y]);
  await page.mouse.down();
  await page.mouse.move(300, 300, { steps: 3 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await settled(page);
  expect(await placed()).toEqual([x - 2, y]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(placed).toEqual([0, 0]);
  await expectFitted(page);
});
